import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../../statistics/index.ts';
import { starShape } from './ellipse.ts';
import { Aperture } from './sizes.ts';

const SIDE = 61;
const MIDDLE = 30;
/** A picture of one star from a profile about the middle. */
const drawn = (profile: (dx: number, dy: number) => number, [cx, cy] = [MIDDLE, MIDDLE]) =>
  Float32Array.from({ length: SIDE * SIDE }, (_, k) => profile((k % SIDE) - cx, Math.floor(k / SIDE) - cy));
const around = (values: Float32Array, radiusPx: number, [x, y] = [MIDDLE, MIDDLE]) => {
  const a = new Aperture(radiusPx);
  a.read({ values, w: SIDE, h: SIDE }, x, y, radiusPx);
  return a;
};
const gauss = (fwhm: number) => (dx: number, dy: number) =>
  1000 * Math.exp((-4 * Math.LN2 * (dx * dx + dy * dy)) / fwhm ** 2);

describe('light within a circle', () => {
  test('of an even picture is the circle’s area, whatever its middle', () => {
    const even = new Float32Array(SIDE * SIDE).fill(1);
    for (const r of [0.3, 0.8, 2.5, 7.31, 14.9])
      for (const middle of [
        [30, 30],
        [30.5, 30.5],
        [29.83, 30.21],
      ] as [number, number][])
        expect(around(even, 15, middle).fluxWithin(r) / (Math.PI * r * r)).toBeCloseTo(1, 1.5);
  });
  test('half of it gives the width of a Gaussian star', () => {
    // half the light of a Gaussian lies within half its width at half maximum; a pixel’s own width comes on top
    for (const fwhm of [3, 4.4, 8])
      expect(around(drawn(gauss(fwhm)), 20).halfFluxDiameter(20).hfd / fwhm).toBeCloseTo(1, 1.3);
  });
  test('of a disk and of a ring is told by the core', () => {
    const core = (profile: (d: number) => number) => {
      const a = around(
        drawn((dx, dy) => profile(Math.hypot(dx, dy))),
        20,
      );
      const { hfd } = a.halfFluxDiameter(20);
      return a.meanBetween(0, 0.2 * hfd) / a.meanBetween(0.3 * hfd, 0.5 * hfd);
    };
    expect(core((d) => (d < 9 ? 1 : 0))).toBeCloseTo(1, 2);
    expect(core((d) => (d < 10 && d > 5 ? 1 : 0))).toBeLessThan(0.3);
    const inFocus = core((d) => Math.exp(-(d * d) / 12));
    expect(inFocus).toBeGreaterThan(1.4);
    expect(inFocus).toBeLessThan(2);
  });
  test('with a pixel without value knows that it is broken', () => {
    const values = drawn(gauss(4));
    values[MIDDLE * SIDE + MIDDLE + 5] = NaN;
    expect([around(values, 4).broken, around(values, 9).broken]).toEqual([false, true]);
  });
});

describe('the shape of a star', () => {
  const moffat = (long: number, short: number, angleDeg: number, beta: number) => (dx: number, dy: number) => {
    const a = (angleDeg * Math.PI) / 180;
    const [u, v] = [dx * Math.cos(a) + dy * Math.sin(a), dy * Math.cos(a) - dx * Math.sin(a)];
    const half = 2 ** (1 / beta) - 1;
    return 5000 * (1 + 4 * half * ((u / long) ** 2 + (v / short) ** 2)) ** -beta;
  };
  test('is found again, at any width, length, angle and wing', () => {
    const any = fc.record({
      short: fc.double({ min: 2.4, max: 7, noNaN: true }),
      ratio: fc.double({ min: 1.05, max: 2, noNaN: true }),
      angle: fc.double({ min: 0, max: 179, noNaN: true }),
      beta: fc.double({ min: 2.5, max: 8, noNaN: true }),
      at: fc.tuple(fc.double({ min: -0.4, max: 0.4, noNaN: true }), fc.double({ min: -0.4, max: 0.4, noNaN: true })),
    });
    fc.assert(
      fc.property(any, ({ short, ratio, angle, beta, at }) => {
        const values = drawn(moffat(short * ratio, short, angle, beta), [MIDDLE + at[0], MIDDLE + at[1]]);
        const got = starShape(around(values, 16), 16, short * Math.sqrt(ratio))!;
        expect(got.fwhmPx / (short * Math.sqrt(ratio))).toBeCloseTo(1, 2);
        expect(Math.abs(got.eccentricity - Math.sqrt(1 - 1 / ratio ** 2))).toBeLessThan(0.02);
        const off = Math.abs(((got.angleDeg - angle + 270) % 180) - 90);
        if (ratio > 1.15) expect(off).toBeLessThan(1);
      }),
      { numRuns: 60, seed: 12 },
    );
  });
  test('of a Gaussian star is its width, though its wings are none of Moffat’s', () => {
    expect(starShape(around(drawn(gauss(4)), 12), 12, 4)!.fwhmPx).toBeCloseTo(4, 1);
  });
  test('survives noise: the middle of many is the truth', () => {
    const r = seeded(3);
    const shapes = Array.from({ length: 60 }, () => {
      const values = drawn(moffat(5, 3.5, 40, 3.5)).map((v) => v + 60 * r.normal());
      return starShape(around(values, 12), 12, 4)!;
    });
    const widths = shapes.map((s) => s.fwhmPx).sort((a, b) => a - b);
    expect(Math.abs(widths[30]! / Math.sqrt(17.5) - 1)).toBeLessThan(0.03);
  });
  test('of no star is none', () => {
    const r = seeded(4);
    const noise = drawn(() => r.normal());
    const shape = starShape(around(noise, 8), 8, 4);
    expect(shape === null || Number.isFinite(shape.fwhmPx)).toBe(true);
    expect(starShape(around(new Float32Array(SIDE * SIDE), 8), 8, 4)).toBeNull();
  });
});
