import { expect, test } from '@jest/globals';
import { horizonAt } from '@keen/core/sky';
import { drawnHorizon } from './horizonDrawing.ts';

const p = (azimuthDeg: number, altitudeDeg: number) => ({ azimuthDeg, altitudeDeg });

test('a stroke raises its own stretch and leaves the rest', () => {
  const got = drawnHorizon([p(0, 20)], p(90, 40), p(120, 40));
  for (const az of [90, 105, 120]) expect(horizonAt(got, az)).toBeCloseTo(40, 9);
  for (const az of [0, 60, 180, 300]) expect(horizonAt(got, az)).toBeCloseTo(20, 9);
});
test('drawn from right to left it is the same', () => {
  expect(drawnHorizon([], p(200, 10), p(100, 30))).toEqual(drawnHorizon([], p(100, 30), p(200, 10)));
});
test('points stand in order, few are kept, and a slope is a slope', () => {
  const got = drawnHorizon([], p(0, 0), p(300, 60));
  expect(got.map((g) => g.azimuthDeg)).toEqual([...got.map((g) => g.azimuthDeg)].sort((a, b) => a - b));
  expect(got.length).toBeLessThan(12);
  expect(horizonAt(got, 150)).toBeCloseTo(30, 0);
});
