import { describe, expect, jest, test } from '@jest/globals';
import type { OffsetSetRecord, ProjectRecord } from '@keen/contract';

jest.unstable_mockModule('ant-design-vue', () => ({ message: {} }));
const { firstSettings, refocusEveryC } = await import('./usePlan.ts');

const project = (done: Record<string, number> = {}) =>
  ({
    goals: [
      { filter: 'L', exposureS: 180, quota: 100 },
      { filter: 'Ha', exposureS: 300, quota: 20 },
    ],
    done,
  }) as unknown as ProjectRecord;
const offsets = (known: Record<string, number>, more: Partial<OffsetSetRecord> = {}) =>
  ({
    offsets: Object.fromEntries(Object.entries(known).map(([f, error]) => [f, { steps: 10, error, runs: 4 }])),
    zoneSteps: 40,
    temperatureStepsPerC: -8,
    ...more,
  }) as unknown as OffsetSetRecord;

describe('a first proposal', () => {
  test('rolls while nothing is there, then follows what is farthest behind', () => {
    expect(firstSettings(project(), offsets({ L: 2, Ha: 3 })).order).toBe('rolling');
    // every change would cost a focus run
    expect(firstSettings(project(), null).order).toBe('block');
    const one = { ...project(), goals: [{ filter: 'colour', exposureS: 60, quota: 9 }] };
    expect(firstSettings(one, null)).toMatchObject({ order: 'rolling', focus: { policy: 'every-change-and-time' } });
    expect(firstSettings(project({ L: 3 }), null).order).toBe('lagging');
  });
  test('trusts offsets only when they cover every filter, and refocuses by temperature from their zone', () => {
    expect(firstSettings(project(), null).focus.policy).toBe('every-change');
    expect(firstSettings(project(), offsets({ L: 2 })).focus.policy).toBe('every-change');
    // half of a zone of 40 steps at 8 steps a degree
    expect(firstSettings(project(), offsets({ L: 2, Ha: 3 })).focus).toEqual({ policy: 'offsets', everyMin: 90, everyC: 2.5 }); // prettier-ignore
    expect(refocusEveryC(offsets({}, { temperatureStepsPerC: null }))).toBeNull();
    expect(refocusEveryC(null)).toBeNull();
  });
  test('asks for every goal as the project has it', () => {
    expect(firstSettings(project(), null).filters).toEqual([
      { name: 'L', exposureS: 180, quota: 100 },
      { name: 'Ha', exposureS: 300, quota: 20 },
    ]);
  });
});
