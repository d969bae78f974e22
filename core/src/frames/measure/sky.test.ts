import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../../statistics/index.ts';
import { clipped, medianIn, skyMap, skyOver, skyRow } from './sky.ts';

/** The same, as it is said: leave out what lies beyond 3 σ of the median until nothing does. */
function plainly(values: readonly number[]) {
  let kept = [...values];
  for (;;) {
    const sorted = [...kept].sort((a, b) => a - b);
    const n = sorted.length;
    const median = (sorted[(n - 1) >> 1]! + sorted[n >> 1]!) / 2;
    const mean = kept.reduce((s, v) => s + v, 0) / n;
    const sigma = Math.sqrt(kept.reduce((s, v) => s + (v - mean) ** 2, 0) / n);
    const next = kept.filter((v) => Math.abs(v - median) <= 3 * sigma);
    if (next.length === n || next.length === 0) return { median, sigma };
    kept = next;
  }
}

describe('clipping', () => {
  test('gives what the plain words give', () => {
    const r = seeded(8);
    for (let i = 0; i < 60; i++) {
      const values = Array.from({ length: 20 + Math.floor(200 * r.next()) }, () =>
        Math.fround(100 + 9 * r.normal() + (r.next() < 0.06 ? 400 * r.next() : 0)),
      );
      const got = clipped(Float32Array.from(values), values.length);
      const want = plainly(values);
      expect(got.median).toBeCloseTo(want.median, 4);
      expect(got.sigma).toBeCloseTo(want.sigma, 3);
    }
  });
  test('of one value, and of values all alike, is that value', () => {
    expect(clipped(Float32Array.of(5), 1)).toEqual({ median: 5, sigma: 0 });
    expect(clipped(new Float32Array(50).fill(7), 50)).toEqual({ median: 7, sigma: 0 });
  });
  test('a median lies between what is smaller and what is larger', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 1, maxLength: 40 }), (list) => {
        const m = medianIn(Float64Array.from(list), list.length);
        expect(list.filter((v) => v < m).length).toBeLessThanOrEqual(list.length / 2);
        expect(list.filter((v) => v > m).length).toBeLessThanOrEqual(list.length / 2);
      }),
      { numRuns: 100, seed: 4 },
    );
  });
});

describe('the sky', () => {
  const [w, h] = [640, 512];
  const r = seeded(5);
  const gradient = (x: number, y: number) => 1000 + 0.2 * x - 0.1 * y;
  const values = Float32Array.from({ length: w * h }, (_, k) => gradient(k % w, Math.floor(k / w)) + 12 * r.normal());
  // stars, and a patch without values
  for (let i = 0; i < 300; i++) values[Math.floor(r.next() * w * h)]! += 5000;
  for (let y = 100; y < 170; y++) values.fill(NaN, y * w + 200, y * w + 270);
  const sky = skyMap(values, w, h);
  test('follows a gradient but for the outermost tiles, and its noise is that of the pixels', () => {
    const row = new Float32Array(w);
    for (const y of [130, 200, 300, 380]) {
      skyRow(sky, y, row);
      for (const x of [130, 235, 320, 500]) expect(Math.abs(row[x]! - gradient(x, y))).toBeLessThan(4);
    }
    expect(Math.abs(sky.noise / 12 - 1)).toBeLessThan(0.08);
  });
  test('over a part of the picture is the middle of that part', () => {
    expect(Math.abs(skyOver(sky, 0, w, 0, h) - gradient(w / 2, h / 2))).toBeLessThan(3);
    expect(Math.abs(skyOver(sky, 0, w / 3, 0, h / 3) - gradient(w / 6, h / 6))).toBeLessThan(4);
  });
  test('of a picture smaller than a tile is one level', () => {
    const small = skyMap(
      Float32Array.from({ length: 32 * 32 }, (_, k) => k % 5),
      32,
      32,
    );
    const row = new Float32Array(32);
    skyRow(small, 10, row);
    expect([small.columns, small.rows, ...new Set(row)]).toEqual([1, 1, 2]);
  });
});
