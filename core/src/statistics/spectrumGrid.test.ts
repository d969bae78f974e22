import { describe, expect, test } from '@jest/globals';
import { gridSums } from './spectrumGrid.ts';
import { seeded } from './random.ts';

/** Sums as they are defined, a sample at a time. */
function plainSums(t: Float64Array, v: Float64Array, f: number) {
  let [cc, cs, vc, vs] = [0, 0, 0, 0];
  for (let k = 0; k < t.length; k++) {
    const [c, s] = [Math.cos(2 * Math.PI * f * (t[k]! - t[0]!)), Math.sin(2 * Math.PI * f * (t[k]! - t[0]!))];
    cc += c * c;
    cs += c * s;
    vc += v[k]! * c;
    vs += v[k]! * s;
  }
  return [cc, cs, vc, vs] as const;
}
/** Uneven times with gaps, as a night leaves them. */
function night(seed: number, n: number) {
  const r = seeded(seed);
  const t = new Float64Array(n);
  for (let i = 1; i < n; i++) t[i] = t[i - 1]! + (r.next() < 0.01 ? 60 * r.next() : 0.5 + r.next());
  return { t, v: Float64Array.from(t, (x) => Math.sin(x / 40) + r.normal()) };
}

describe('sums on a grid of frequencies', () => {
  test.each([
    [1, 40],
    [2, 300],
    [3, 1500],
    [4, 2400],
  ])('are the plain sums, seed %d, %d samples', (seed, n) => {
    const { t, v } = night(seed, n);
    const span = t.at(-1)! - t[0]!;
    const df = 1 / (2 * span);
    const most = Math.floor(0.12 / df);
    const got = gridSums(t, v, df, most)!;
    const scale = Math.sqrt(v.reduce((s, x) => s + x * x, 0) * n);
    for (let j = 1; j <= most; j += Math.max(1, Math.floor(most / 97))) {
      const [cc, cs, vc, vs] = plainSums(t, v, j * df);
      expect(Math.abs(got.vc[j]! - vc) / scale).toBeLessThan(0.004);
      expect(Math.abs(got.vs[j]! - vs) / scale).toBeLessThan(0.004);
      expect(Math.abs(got.cc[j]! - cc) / n).toBeLessThan(0.01);
      expect(Math.abs(got.cs[j]! - cs) / n).toBeLessThan(0.01);
    }
  });
  test('evenly spaced samples on the grid itself are exact', () => {
    const t = Float64Array.from({ length: 64 }, (_, i) => i);
    const v = Float64Array.from(t, (x) => Math.cos((2 * Math.PI * 5 * x) / 64));
    const got = gridSums(t, v, 1 / 64, 7)!;
    expect(got.vc[5]).toBeCloseTo(32, 9);
    expect(got.vc[4]).toBeCloseTo(0, 9);
  });
  test('a transform that would be too long is left to plain sums', () => {
    expect(gridSums(Float64Array.from([0, 1, 1e9]), new Float64Array(3), 1e-9, 2 ** 20)).toBeNull();
  });
});
