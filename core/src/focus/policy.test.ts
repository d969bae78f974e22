import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { timeline, TimelineInput } from '../sequence/index.ts';
import { focusPolicy, policy, PolicyInput } from './policy.ts';

const night = (more: object = {}) =>
  PolicyInput.parse({
    offsets: { L: { steps: 0, error: 0 }, R: { steps: -46, error: 3 } },
    temperatureStepsPerC: -33,
    criticalZoneSteps: 44,
    coolingCPerHour: 1.6,
    autofocusS: 150,
    filterChangesPerHour: 11,
    hours: 6.5,
    ...more,
  });

describe('what focusing costs', () => {
  test('focus drifts through half the zone: 22 steps of 33 a degree, at 1.6 °C an hour', () => {
    const got = policy(night());
    expect(got.everyC).toBeCloseTo(22 / 33, 12);
    expect(got.withOffsets.everyMinutes).toBeCloseTo(25, 9);
    // 6.5 h hold 15.6 such spans
    expect(got.withOffsets.runs).toBe(16);
  });
  test('a span that ends with a drift asks for no run at the very end', () => {
    expect(policy(night({ hours: 2.5 })).withOffsets.runs).toBe(6);
    expect(policy(night({ hours: 2.51 })).withOffsets.runs).toBe(7);
  });
  test('a warming night drifts as a cooling one, and a negative slope as a positive', () => {
    const { verdict: _v, ...a } = policy(night());
    for (const more of [{ coolingCPerHour: -1.6 }, { temperatureStepsPerC: 33 }])
      expect(policy(night(more))).toMatchObject(a);
  });
  test('without drift one run at the start is enough', () => {
    for (const more of [{ temperatureStepsPerC: 0 }, { coolingCPerHour: 0 }])
      expect(policy(night(more)).withOffsets).toEqual({ runs: 1, minutes: 2.5, everyMinutes: null });
    expect(policy(night({ temperatureStepsPerC: 0 })).everyC).toBeNull();
  });
  test('a filter known worse than half the zone, twice its error, needs a run of its own', () => {
    const of = (error: number) => policy(night({ offsets: { L: { steps: 0 }, R: { steps: 5, error } } }));
    expect(of(11).ownRun).toEqual([]);
    expect(of(11.01)).toMatchObject({ ownRun: ['R'], verdict: { level: 'caution' } });
    expect(of(11.01).verdict.text).toContain('The offset of R is not known within half the focus zone: it needs a run');
  });
  test('offsets may save nothing: one filter and a tube that cools fast', () => {
    const got = policy(night({ filterChangesPerHour: 0 }));
    expect(got.savedMinutes).toBeLessThan(0);
    expect(got.verdict.text).toMatch(/^Offsets save nothing here: the temperature alone asks for 16 runs/);
  });
  test('more changes never make the first dearer by less; runs are whole and at least one', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 60, noNaN: true }),
        fc.double({ min: 0.1, max: 14, noNaN: true }),
        fc.double({ min: -8, max: 8, noNaN: true }),
        (changes, hours, cooling) => {
          const a = policy(night({ filterChangesPerHour: changes, hours, coolingCPerHour: cooling }));
          const b = policy(night({ filterChangesPerHour: changes + 1, hours, coolingCPerHour: cooling }));
          expect(b.everyChange.runs).toBeGreaterThanOrEqual(a.everyChange.runs);
          for (const p of [a.everyChange, a.withOffsets])
            expect([Number.isInteger(p.runs), p.runs >= 1, p.minutes]).toEqual([true, true, p.runs * 2.5]);
        },
      ),
      { seed: 3, numRuns: 200 },
    );
  });
  test('a night laid out by the timeline has as many runs, when nothing else than time asks for one', () => {
    // frames of no overhead, short beside the time between runs: the run comes with the first frame after it is due
    const hours = 6.5;
    const got = policy(night({ hours }));
    const input = TimelineInput.parse({
      start: '2026-11-13T18:00:00Z',
      end: '2026-11-14T00:30:00Z',
      order: 'rolling',
      filters: [{ name: 'L', exposureS: 1 }],
      overheads: { autofocusS: 0.001 },
      focus: { policy: 'offsets', everyC: got.everyC!, coolingCPerHour: 1.6 },
    });
    expect(timeline(input).events.filter((e) => e.kind === 'focus')).toHaveLength(got.withOffsets.runs);
  });
  test.each([
    [{ hours: 0 }, 'hours'],
    [{ criticalZoneSteps: 0 }, 'criticalZoneSteps'],
    [{ filterChangesPerHour: -1 }, 'filterChangesPerHour'],
    [{ offsets: { L: { steps: 0, error: -1 } } }, 'offsets.L.error'],
    [{ offsets: { L: {} } }, 'offsets.L.steps'],
  ])('refuses %j', (more, where) =>
    expect(() => focusPolicy.run({ ...JSON.parse(JSON.stringify(night())), ...more })).toThrow(where),
  );
});
