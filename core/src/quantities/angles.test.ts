import { describe, expect, test } from '@jest/globals';
import { fieldOfView, longOverShort, offAxisDeg, seenDeg } from './index.ts';

describe('angles of a picture', () => {
  test('a thousandth of the focal length is a thousandth of a radian; far from the axis it is less than that', () => {
    expect(offAxisDeg(1, 1000)).toBeCloseTo(0.05729575, 7);
    expect(offAxisDeg(1000, 1000)).toBeCloseTo(45, 12);
    expect(seenDeg(2000, 1000)).toBeCloseTo(90, 12);
  });
  test('a field is what light from its corners encloses, by vectors from the lens to the sensor', () => {
    const camera = { widthPx: 6248, heightPx: 4176, pixelUm: 3.76 };
    const f = 135;
    const [w, h] = [(6248 * 0.00376) / 2, (4176 * 0.00376) / 2];
    const between = (a: number[], b: number[]) =>
      (Math.acos(
        a.reduce((s, v, i) => s + v * b[i]!, 0) / Math.hypot(...(a as [number])) / Math.hypot(...(b as [number])),
      ) *
        180) /
      Math.PI;
    const view = fieldOfView(camera, f);
    expect(view.widthDeg).toBeCloseTo(between([-w, 0, f], [w, 0, f]), 9);
    expect(view.heightDeg).toBeCloseTo(between([0, -h, f], [0, h, f]), 9);
    expect(view.diagonalDeg).toBeCloseTo(between([-w, -h, f], [w, h, f]), 9);
  });
});

test('an ellipse is as many times as long as its eccentricity says; a line stays a number', () => {
  for (const ratio of [1, 1.1, 2, 5]) expect(longOverShort(Math.sqrt(1 - 1 / ratio ** 2))).toBeCloseTo(ratio, 9);
  expect(longOverShort(1)).toBeGreaterThan(20);
  expect(Number.isFinite(longOverShort(1))).toBe(true);
});
