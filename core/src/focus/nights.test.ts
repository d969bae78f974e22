import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { bestHome, guideShifts, nightAgainst, nightSlope, type NightRun } from './nights.ts';

const adopted = { offsets: { L: { steps: 0 }, Ha: { steps: 42 }, OIII: { steps: 30 } }, temperatureStepsPerC: -6 };
/** A night’s runs, the focuser at its own starting point, the tube cooling. */
function night(seed: number, more: { ha?: number; slope?: number; scatter?: number } = {}): NightRun[] {
  const random = seeded(seed);
  const { ha = 42, slope = -6, scatter = 4 } = more;
  const start = 8000 + 500 * random.normal();
  return Array.from({ length: 9 }, (_, k) => {
    const filter = ['L', 'Ha', 'OIII'][k % 3]!;
    const temperatureC = 10 - 0.8 * k;
    const steps = { L: 0, Ha: ha, OIII: 30 }[filter]!;
    return {
      filter,
      temperatureC,
      error: 3,
      position: start + steps + slope * temperatureC + Math.hypot(3, scatter) * random.normal(),
    };
  });
}
const share = (n: number, of: (seed: number) => NightRun[]) =>
  Array.from({ length: n }, (_, k) => nightAgainst(adopted, of(k + 1), 4)!).filter((a) => !a.agrees).length / n;

describe('a night held against adopted offsets', () => {
  test('agrees when they hold, wherever the focuser began: one in a hundred is accused', () => {
    expect(share(2000, (s) => night(s))).toBeGreaterThan(0.003);
    expect(share(2000, (s) => night(s))).toBeLessThan(0.02);
  });
  test('disagrees when a filter’s offset or the slope is another, and names the filter', () => {
    expect(share(200, (s) => night(s, { ha: 72 }))).toBeGreaterThan(0.95);
    expect(share(200, (s) => night(s, { slope: 0 }))).toBeGreaterThan(0.95);
    const { worst } = nightAgainst(adopted, night(5, { ha: 82 }), 4)!;
    expect(worst.filter).toBe('Ha');
    // two thirds of it: the night’s own start takes its share
    expect(worst.steps).toBeGreaterThan(18);
  });
  test('says nothing of fewer than three runs, or of filters without an offset', () => {
    expect(nightAgainst(adopted, night(1).slice(0, 2), 4)).toBeNull();
    expect(
      nightAgainst(
        adopted,
        night(1).map((r) => ({ ...r, filter: 'R' })),
        4,
      ),
    ).toBeNull();
    expect(
      nightAgainst(
        adopted,
        night(1).map((r) => ({ ...r, temperatureC: null })),
        4,
      ),
    ).toBeNull();
  });
});

test('an off-axis guide camera is out of focus by the other filters’ offsets; the middle one costs least', () => {
  const of = { stepUm: 5, focalRatio: 5, guidePixelUm: 3.75, from: 'L' };
  const [l, ha] = guideShifts(adopted.offsets, of);
  expect([l!.offUm, l!.blurPx]).toEqual([0, 0]);
  // by hand: 42 steps of 5 µm; the f/5 cone is 42 µm wide there, 11.2 px
  expect([ha!.offUm, ha!.blurPx]).toEqual([210, 11.2]);
  expect(bestHome({ L: { steps: 0 }, R: { steps: 22 }, Ha: { steps: 42 } })).toBe('R');
  expect(bestHome({})).toBeNull();
  const worst = (from: string) =>
    Math.max(
      ...guideShifts({ L: { steps: 0 }, R: { steps: 22 }, Ha: { steps: 42 } }, { ...of, from }).map((s) => s.blurPx),
    );
  expect(worst('R')).toBeLessThan(Math.min(worst('L'), worst('Ha')));
});

describe('how far focus moved for a degree over one night', () => {
  const run = (filter: string, temperatureC: number | null, position: number) => ({
    filter,
    temperatureC,
    position,
    error: null,
  });
  test('filters apart: offsets between them are no slope', () => {
    // −20 steps a degree, and 300 between the filters, which were used while it cooled one after the other
    const runs = [8, 7, 6, 5]
      .map((t) => run('L', t, 1000 - 20 * t))
      .concat([4, 3, 2].map((t) => run('R', t, 1300 - 20 * t)));
    expect(nightSlope(runs)).toBeCloseTo(-20, 9);
  });
  test('nothing is said of too few runs, of an even night, and of runs each through a filter of its own', () => {
    expect(nightSlope([run('L', 8, 1), run('L', 5, 2), run('L', 2, 3)])).toBeNull();
    expect(nightSlope([1, 2, 3, 4, 5].map((i) => run('L', 5 + i / 10, i)))).toBeNull();
    expect(nightSlope(['L', 'R', 'G', 'B'].map((f, i) => run(f, i, i)))).toBeNull();
    expect(nightSlope([1, 2, 3, 4, 5].map((i) => run('L', null, i)))).toBeNull();
  });
});
