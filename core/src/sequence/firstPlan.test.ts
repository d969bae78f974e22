import { describe, expect, test } from '@jest/globals';
import {
  firstLeg,
  firstLegs,
  firstSettings,
  freeId,
  freeSpan,
  refocusEveryC,
  unplannedGoals,
  type AdoptedOffsets,
  type PlannedProject,
} from './firstPlan.ts';

const project = (done: number[] = [0, 0]) =>
  ({
    goals: [
      { filter: 'L', exposureS: 180, quota: 100 },
      { filter: 'Ha', exposureS: 300, quota: 20 },
    ],
    done,
  }) as unknown as PlannedProject;
const offsets = (known: Record<string, number>, more: Partial<AdoptedOffsets> = {}) =>
  ({
    offsets: Object.fromEntries(Object.entries(known).map(([f, error]) => [f, { steps: 10, error, runs: 4 }])),
    zoneSteps: 40,
    temperatureStepsPerC: -8,
    ...more,
  }) as unknown as AdoptedOffsets;

describe('a first proposal', () => {
  test('rolls while nothing is there, then follows what is farthest behind', () => {
    expect(firstSettings(project(), offsets({ L: 2, Ha: 3 })).order).toBe('rolling');
    // every change would cost a focus run
    expect(firstSettings(project(), null).order).toBe('block');
    const one = { ...project(), goals: [{ filter: 'colour', exposureS: 60, quota: 9 }] };
    expect(firstSettings(one, null)).toMatchObject({ order: 'rolling', focus: { policy: 'every-change-and-time' } });
    expect(firstSettings(project([3, 0]), null).order).toBe('lagging');
  });
  test('trusts offsets only when they cover every filter, and refocuses by temperature from their zone', () => {
    expect(firstSettings(project(), null).focus.policy).toBe('every-change');
    expect(firstSettings(project(), offsets({ L: 2 })).focus.policy).toBe('every-change');
    // half of a zone of 40 steps at 8 steps a degree
    expect(firstSettings(project(), offsets({ L: 2, Ha: 3 })).focus).toEqual({
      policy: 'offsets',
      everyMin: 90,
      everyC: 2.5,
    });
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

describe('two lengths of one filter', () => {
  const core = { filter: 'L', exposureS: 10, quota: 40 };
  const bright = (done: number[]) =>
    ({ ...project(done), id: 'p', panels: 1, byPanel: [], goals: [...project().goals, core] }) as PlannedProject;
  const span = { start: '2026-11-19T18:00:00.000Z', end: '2026-11-19T23:00:00.000Z' };
  const lengths = (legs: ReturnType<typeof firstLegs>) =>
    legs.map((l) => l.settings.filters.map((f) => `${f.name} ${f.exposureS}`));
  test('go into legs of their own, in turns, so that a short night has some of both', () => {
    const legs = firstLegs([], bright([0, 0, 0]), null, span);
    expect(lengths(legs)).toEqual([['L 180', 'Ha 300'], ['L 10']]);
    expect(legs.every((l) => l.turnMin !== null)).toBe(true);
  });
  test('a length that is reached needs no leg', () => {
    expect(lengths(firstLegs([], bright([3, 0, 40]), null, span))).toEqual([['L 180', 'Ha 300']]);
    expect(lengths(firstLegs([], bright([100, 20, 4]), null, span))).toEqual([['L 10']]);
  });
  test('the length no leg works for is named until one does', () => {
    const of = bright([0, 0, 0]);
    const legs = firstLegs([], of, null, span);
    expect(unplannedGoals(legs.slice(0, 1), of, null)).toEqual([core]);
    expect(unplannedGoals(legs, of, null)).toEqual([]);
    // a filter left out of the plan was left out on purpose
    const onlyHa = [{ ...legs[0]!, settings: { ...legs[0]!.settings, filters: legs[0]!.settings.filters.slice(1) } }];
    expect(unplannedGoals(onlyHa, of, null)).toEqual([]);
  });
});

describe('a first leg', () => {
  const window = (start: string, end: string) => ({
    start: `2026-11-19T${start}:00.000Z`,
    end: `2026-11-19T${end}:00.000Z`,
  });
  const target = (...windows: object[]) => ({ windows }) as never;
  const plan = (start: string, end: string) => window(start, end) as never;
  test('takes the longest stretch that no other plan holds', () => {
    expect(freeSpan(target(window('18:00', '23:00')), [])).toEqual(window('18:00', '23:00'));
    expect(freeSpan(target(window('18:00', '23:00')), [plan('19:00', '20:00')])).toEqual(window('20:00', '23:00'));
    expect(freeSpan(target(window('18:00', '23:00')), [plan('17:00', '19:30'), plan('22:00', '23:30')])).toEqual(
      window('19:30', '22:00'),
    );
    expect(freeSpan(target(window('18:00', '19:00')), [plan('17:00', '23:00')])).toBeNull();
    expect(freeSpan(target(), [])).toBeNull();
  });
  test('is by the clock, to the minute, and has a name of its own', () => {
    const leg = firstLeg('leg-1', { ...project(), id: 'p' } as PlannedProject, null, {
      start: '2026-11-19T18:03:31.000Z',
      end: '2026-11-19T21:00:29.000Z',
    });
    expect([leg.from, leg.until]).toEqual([
      { by: 'clock', at: '2026-11-19T18:04:00.000Z' },
      { by: 'clock', at: '2026-11-19T21:00:00.000Z' },
    ]);
    expect(freeId([leg])).toBe('leg-2');
    expect(freeId([{ ...leg, id: 'leg-2' }])).toBe('leg-3');
  });
});
