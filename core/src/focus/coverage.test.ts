import { describe, expect, test } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { flexure, FlexureInput } from '../guiding/flexure.ts';
import { curve, curveAt, CurveInput } from './curve.ts';
import { offsets } from './offsets.ts';
import { rounds } from '../test/rounds.ts';

/** Focus runs made here about a known place, so that what an error bar says can be counted. */
interface Run {
  seed: number;
  n: number;
  /** Noise of one diameter [px]. */
  noise: number;
  left?: number;
  right?: number;
  outliers?: number;
  /** Steps the true focus moves from the first to the last point. */
  slips?: number;
}
const TRUE = 5020;
function run({ seed, n, noise, left = 0.02, right = 0.02, outliers = 0, slips = 0 }: Run) {
  const random = seeded(seed);
  const points = Array.from({ length: n }, (_, i) => {
    const position = 4600 + (800 * i) / (n - 1);
    const at = TRUE + (i > n / 2 ? slips : 0);
    const b = position < at ? left : right;
    const hfd = Math.hypot(2, b * (position - at)) + noise * random.normal();
    return { position, hfd: Math.max(0.2, hfd) };
  });
  for (let k = 0; k < outliers; k++) points[Math.floor(random.next() * n)]!.hfd *= 1.8;
  return curve(parseInput(CurveInput, { points }));
}
const share = (runs: Run[], test: (o: ReturnType<typeof run>) => boolean) =>
  runs.filter((r) => test(run(r))).length / runs.length;
const many = (count: number, more: Omit<Run, 'seed'>) =>
  Array.from({ length: count }, (_, i) => ({ seed: 1000 + i, ...more }));
const covers = (o: ReturnType<typeof run>) => Math.abs(o.position - TRUE) <= 1.96 * o.positionError;

describe('±1.96 of the quoted error holds the truth 19 times in 20', () => {
  test.each([
    [7, 0.15],
    [9, 0.2],
    [15, 0.3],
  ])('%d points, noise %d px', (n, noise) => {
    const got = share(many(rounds(200, 350), { n, noise }), covers);
    // a standard error of 1.5 %, of all 350 1.2 %
    expect([n, got, got > 0.91, got < 0.985]).toEqual([n, expect.any(Number), true, true]);
  });
  test('with an outlier in every run', () => {
    const got = share(many(rounds(100, 200), { n: 13, noise: 0.2, outliers: 1 }), covers);
    expect([got, got > 0.92, got < 0.985]).toEqual([expect.any(Number), true, true]);
  });
});

describe('arms of unequal slope', () => {
  test('are seen, given a slope each, and the truth is inside the bar then', () => {
    const runs = many(100, { n: 15, noise: 0.15, left: 0.016, right: 0.026 });
    expect(share(runs, (o) => o.arms !== undefined)).toBeGreaterThan(0.95);
    expect(share(runs, covers)).toBeGreaterThan(0.9);
    const one = run(runs[0]!);
    expect(one.arms!.right / one.arms!.left).toBeCloseTo(0.026 / 0.016, 0);
    expect([one.verdict.level, one.verdict.text]).toEqual(['caution', expect.stringContaining('times as steep')]);
    // and drawn so: with one slope for both the far ends would lie beside the points
    const far = (position: number, slope: number) => Math.hypot(2, slope * (position - TRUE));
    for (const [position, slope] of [
      [TRUE - 300, 0.016],
      [TRUE + 300, 0.026],
    ] as const)
      expect(Math.abs(curveAt(one, position) - far(position, slope))).toBeLessThan(0.3);
  });
  test('are not seen in equal ones but once in a hundred', () => {
    expect(share(many(rounds(120, 250), { n: 11, noise: 0.2 }), (o) => o.arms !== undefined)).toBeLessThan(0.01);
  });
});

describe('something that moves during the run', () => {
  test('is mostly said when it is a tenth of the range: a smaller slip, or a steady drift, looks like another curve', () => {
    const told = share(
      many(100, { n: 21, noise: 0.1, slips: 90 }),
      (o) => o.pattern || o.arms !== undefined || !o.usable,
    );
    expect(told).toBeGreaterThan(0.75);
  });
  test('is not said of quiet runs but once in fifty', () => {
    expect(share(many(200, { n: 15, noise: 0.2 }), (o) => o.pattern)).toBeLessThan(0.02);
  });
});

describe('offsets of filters', () => {
  /** A night: filters in turns or each in one block, a tube that follows the temperature, a thermometer with noise. */
  function night(seed: number, perFilter: number, how: 'rounds' | 'blocks', noiseC: number) {
    const random = seeded(seed);
    const filters = ['L', 'R', 'G', 'B'];
    const truth: Record<string, number> = { L: 0, R: 22, G: -9, B: 31 };
    const order =
      how === 'rounds'
        ? Array.from({ length: perFilter }, () => filters).flat()
        : filters.flatMap((f) => new Array<string>(perFilter).fill(f));
    const cooling = how === 'rounds' ? 6 : 3;
    const runs = order.map((filter, i) => {
      const t = 10 - (cooling * i) / order.length;
      return {
        filter,
        position: 5000 + truth[filter]! - 18 * (t - 10) + 4 * random.normal(),
        temperatureC: t + noiseC * random.normal(),
      };
    });
    return { truth, out: offsets({ runs, reference: 'L', model: 'temperature' }) };
  }
  const covered = (nights: number, perFilter: number, how: 'rounds' | 'blocks', noiseC: number) => {
    let [held, all] = [0, 0];
    for (let seed = 1; seed <= nights; seed++) {
      const { truth, out } = night(seed, perFilter, how, noiseC);
      for (const f of ['R', 'G', 'B']) {
        all++;
        if (Math.abs(out.offsets[f]!.steps - truth[f]!) <= out.offsets[f]!.interval95) held++;
      }
    }
    return held / all;
  };
  test.each([[2], [3], [6]])('with %d runs a filter the interval holds the truth about 19 times in 20', (n) => {
    const got = covered(400, n, 'rounds', 0);
    expect([n, got, got > 0.92, got < 0.985]).toEqual([n, expect.any(Number), true, true]);
  });
  test('each filter at its own temperature: the interval is wide enough for a thermometer of 0.2°, and it is said why', () => {
    expect(covered(300, 6, 'blocks', 0.2)).toBeGreaterThan(0.93);
    const { out } = night(3, 6, 'blocks', 0.2);
    expect(out.verdict.text).toContain('the slope rests on small differences');
    expect(night(3, 6, 'rounds', 0.2).out.verdict.text).not.toContain('small differences');
  });
});

test('a run that stands still is said to drift once in twenty, one that drifts is', () => {
  const frames = (seed: number, pxPerMin: number) => {
    const random = seeded(seed);
    return Array.from({ length: 20 }, (_, i) => ({
      time: new Date(Date.UTC(2026, 10, 24, 20) + 180_000 * i).toISOString(),
      xPx: 3 * pxPerMin * i + 0.3 * random.normal(),
      yPx: 0.3 * random.normal(),
    }));
  };
  const clear = (pxPerMin: number) =>
    Array.from({ length: 800 }, (_, i) =>
      flexure(parseInput(FlexureInput, { frames: frames(i, pxPerMin), scaleArcsecPerPx: 1 })),
    ).filter((f) => f.clear).length / 800;
  const still = clear(0);
  expect([still, still > 0.03, still < 0.07]).toEqual([expect.any(Number), true, true]);
  expect(clear(0.03)).toBeGreaterThan(0.95);
});
