import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../statistics/index.ts';
import { groupsAbove } from './groups.ts';
import type { SkyMap } from './sky.ts';

/** A sky of nothing with a noise of one. */
const flat = (w: number, h: number): SkyMap => ({
  columns: 1,
  rows: 1,
  x: Float64Array.of(w / 2),
  y: Float64Array.of(h / 2),
  level: Float64Array.of(0),
  noise: 1,
});

/** Pixels that touch by side or corner, gathered by walking from each to the next. */
function byWalking(values: Float32Array, w: number, h: number) {
  const seen = new Uint8Array(w * h);
  const groups: { pixels: number; flux: number; x: number; y: number; peak: number }[] = [];
  for (let start = 0; start < w * h; start++) {
    if (seen[start] || !(values[start]! > 3)) continue;
    const open = [start];
    seen[start] = 1;
    const g = { pixels: 0, flux: 0, x: 0, y: 0, peak: 0 };
    while (open.length) {
      const k = open.pop()!;
      const [x, y, v] = [k % w, Math.floor(k / w), values[k]!];
      g.pixels++;
      g.flux += v;
      g.x += v * x;
      g.y += v * y;
      g.peak = Math.max(g.peak, v);
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [nx, ny] = [x + dx, y + dy];
          const n = ny * w + nx;
          if (nx < 0 || ny < 0 || nx >= w || ny >= h || seen[n] || !(values[n]! > 3)) continue;
          seen[n] = 1;
          open.push(n);
        }
    }
    groups.push({ ...g, x: g.x / g.flux, y: g.y / g.flux });
  }
  return groups.filter((g) => g.pixels > 1);
}
const inOrder = <G extends { x: number; y: number }>(all: G[]) => [...all].sort((a, b) => a.y - b.y || a.x - b.x);

describe('groups of pixels', () => {
  test.each([0.08, 0.25, 0.45, 0.6])('are those that walking finds, where a share of %f stands out', (share) => {
    const r = seeded(Math.round(1000 * share));
    for (const [w, h] of [
      [31, 17],
      [64, 40],
      [5, 90],
    ] as const) {
      const values = Float32Array.from({ length: w * h }, () =>
        r.next() < share ? 4 + 30 * r.next() : r.next() < 0.02 ? NaN : 0,
      );
      const want = inOrder(byWalking(Float32Array.from(values), w, h));
      const got = inOrder(groupsAbove(values, w, h, flat(w, h), Infinity));
      expect(got.map((g) => g.pixels)).toEqual(want.map((g) => g.pixels));
      got.forEach((g, i) => {
        expect(g.x).toBeCloseTo(want[i]!.x, 6);
        expect(g.y).toBeCloseTo(want[i]!.y, 6);
        expect(g.peak).toBeCloseTo(want[i]!.peak, 6);
        expect(g.flux / want[i]!.flux).toBeCloseTo(1, 6);
      });
    }
  });
  test('know when one of their pixels is full, and how long and thin they are', () => {
    const [w, h] = [60, 40];
    const values = new Float32Array(w * h);
    for (let x = 5; x < 55; x++) values[20 * w + x] = 50;
    for (let y = 2; y < 6; y++) values.fill(y === 3 ? 900 : 50, y * w + 2, y * w + 6);
    const [square, line] = inOrder(groupsAbove(values, w, h, flat(w, h), 800));
    expect([square!.saturated, line!.saturated]).toEqual([true, false]);
    // by hand: evenly spread over fifty pixels
    expect(line!.long).toBeCloseTo(Math.sqrt((50 * 50 - 1) / 12), 4);
    expect(line!.short).toBeCloseTo(0, 6);
    expect(square!.long).toBeLessThan(1.3);
  });
  test('a bright pixel alone is hot and becomes sky; a faint one stays as it is', () => {
    const values = new Float32Array(100);
    [values[33], values[77]] = [200, 4];
    expect(groupsAbove(values, 10, 10, flat(10, 10), Infinity)).toEqual([]);
    expect([values[33], values[77]]).toEqual([0, 4]);
  });
});
