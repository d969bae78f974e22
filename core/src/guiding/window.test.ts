import { describe, expect, test } from '@jest/globals';
import { rounds } from '../test/rounds.ts';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { direction, dot, skyPlace, starsOf, type Vec } from '../sky/index.ts';
import { shippedStars } from '../test/shippedStars.ts';
import { guideStarsOf, StarsInput } from './stars.ts';
import { project } from '../sky/index.ts';
import { anglesOf, turnWindow } from './window.ts';

const source = shippedStars();
const RAD = Math.PI / 180;

/** Counted another way: three axes turned with the window, and plain dot products, no trigonometry per star. */
function countedIndependently(i: StarsInput): { lit: Set<number>; brightest: number } {
  const cap =
    (Math.atan((i.centreRadiusMm + i.fieldMm.radial + i.fieldMm.tangential) / i.focalLengthMm) * 180) / Math.PI;
  const stars = source({ raDeg: i.raDeg, decDeg: i.decDeg, radiusDeg: cap, faintestMag: i.faintestMag });
  const axis = direction(i.raDeg, i.decDeg);
  const east: Vec = [-Math.sin(i.raDeg * RAD), Math.cos(i.raDeg * RAD), 0];
  const north: Vec = [
    axis[1] * east[2] - axis[2] * east[1],
    axis[2] * east[0] - axis[0] * east[2],
    axis[0] * east[1] - axis[1] * east[0],
  ];
  const lit = new Set<number>();
  let brightest = Infinity;
  for (let s = 0; s < stars.length; s++) {
    const mag = stars.mag[s]!;
    if (mag < i.brightestMag || mag > i.faintestMag) continue;
    const d = direction(stars.raDeg[s]!, stars.decDeg[s]!);
    const depth = dot(d, axis);
    if (depth <= 0) continue;
    for (let pa = 0; pa < 360; pa++) {
      const [c, n] = [Math.cos(pa * RAD), Math.sin(pa * RAD)];
      const out: Vec = [0, 1, 2].map((k) => c * north[k]! + n * east[k]!) as unknown as Vec;
      const across: Vec = [0, 1, 2].map((k) => c * east[k]! - n * north[k]!) as unknown as Vec;
      const y = (i.focalLengthMm * dot(d, out)) / depth - i.centreRadiusMm;
      const x = (i.focalLengthMm * dot(d, across)) / depth;
      if (Math.abs(x) <= i.fieldMm.tangential / 2 && Math.abs(y) <= i.fieldMm.radial / 2) {
        lit.add(pa);
        brightest = Math.min(brightest, mag);
      }
    }
  }
  return { lit, brightest };
}

describe('windows', () => {
  test.each([
    ['a small galaxy in Pegasus', 339.267, 34.416, 1600],
    ['a cluster in Cygnus', 305.0, 38.0, 800],
    ['near the pole', 37.95, 87.9, 1000],
    ['the seam of right ascension', 0.02, -25.3, 500],
  ])('%s: the same angles as counted independently', (_name, raDeg, decDeg, focalLengthMm) => {
    const input = parseInput(StarsInput, {
      raDeg,
      decDeg,
      focalLengthMm,
      centreRadiusMm: 14.5,
      fieldMm: { tangential: 5.6, radial: 3.2 },
      faintestMag: 12,
    });
    const other = countedIndependently(input);
    const got = guideStarsOf(input, source);
    expect(got.coverage).toBeCloseTo(other.lit.size / 360, 9);
    const angles = new Set<number>();
    for (const w of got.windows) {
      const to = w.toPaDeg < w.fromPaDeg ? w.toPaDeg + 360 : w.toPaDeg;
      for (let pa = w.fromPaDeg; pa <= to + 1e-9; pa++) angles.add(Math.round(pa) % 360);
    }
    expect([...angles].sort((a, b) => a - b)).toEqual([...other.lit].sort((a, b) => a - b));
    if (got.best) expect(got.best.star.mag).toBeCloseTo(other.brightest, 3);
  });

  test('a fainter limit never darkens an angle; turning the sky turns the windows', () => {
    const place = fc.record({
      raDeg: fc.double({ min: 0, max: 359, noNaN: true }),
      decDeg: fc.double({ min: -80, max: 80, noNaN: true }),
    });
    fc.assert(
      fc.property(place, fc.integer({ min: 8, max: 12 }), ({ raDeg, decDeg }, mag) => {
        const of = (faintestMag: number) =>
          guideStarsOf(
            parseInput(StarsInput, {
              raDeg,
              decDeg,
              focalLengthMm: 900,
              centreRadiusMm: 15,
              fieldMm: { tangential: 6, radial: 4 },
              faintestMag,
            }),
            source,
          ).coverage;
        expect(of(mag + 1)).toBeGreaterThanOrEqual(of(mag));
      }),
      { seed: 21, numRuns: rounds(12, 25) },
    );
  });

  test('each star is found at the angle it stands at, whatever the step and the start', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.double({ min: -85, max: 85, noNaN: true }),
        fc.integer({ min: 0, max: 359 }),
        fc.integer({ min: 0, max: 359 }),
        fc.constantFrom(0.5, 1, 3, 7),
        (raDeg, decDeg, pa, from, stepDeg) => {
          const f = 1000;
          const place = skyPlace({ raDeg, decDeg }, 20 * Math.sin(pa * RAD), 20 * Math.cos(pa * RAD), f);
          const stars = starsOf([{ ...place, mag: 9 }]);
          const w = { focalLengthMm: f, centreRadiusMm: 20, fieldMm: { tangential: 8, radial: 4 } };
          const ring = turnWindow(
            w,
            stars,
            project(stars, { raDeg, decDeg }, f),
            { fromPaDeg: from, toPaDeg: from + 360, stepDeg },
            { brightest: 2, faintest: 12 },
          );
          const half = Math.asin(4 / 20) / RAD;
          ring.count.forEach((n, k) => {
            const off = Math.abs(((from + k * stepDeg - pa + 540) % 360) - 180);
            if (off < half - 1e-3) expect(n).toBe(1);
            if (off > half + 1e-3) expect(n).toBe(0);
          });
        },
      ),
      { seed: 22, numRuns: rounds(30, 60) },
    );
  });

  test('a full turn leaves out its last step; an arc over north is counted on; more than a turn is one turn', () => {
    expect(anglesOf(0, 360, 1)).toEqual({ steps: 360, full: true });
    expect(anglesOf(320, 40, 1)).toEqual({ steps: 81, full: false });
    expect(anglesOf(10, 10, 5)).toEqual({ steps: 1, full: false });
    expect(anglesOf(0, 720, 7)).toEqual({ steps: 52, full: true });
    expect(anglesOf(1000, 990, 10)).toEqual({ steps: 36, full: false });
  });

  test('any start means the same sky: turns more or less change nothing but the order', () => {
    const of = (fromPaDeg: number) =>
      guideStarsOf(
        parseInput(StarsInput, {
          raDeg: 83,
          decDeg: 22,
          focalLengthMm: 900,
          centreRadiusMm: 15,
          fieldMm: { tangential: 6, radial: 4 },
          faintestMag: 10,
          fromPaDeg,
          toPaDeg: fromPaDeg + 360,
        }),
        source,
      );
    const base = of(0);
    expect(base.windows.length).toBeGreaterThan(0);
    expect(of(-1080).windows).toEqual(base.windows);
    expect(of(3600)).toMatchObject({ coverage: base.coverage, best: base.best });
  });
  test('a magnitude on the limit counts, and comes back as it was given', () => {
    const star = { raDeg: 150, decDeg: 1.145763, mag: 8.2567 };
    const of = (faintestMag: number) =>
      guideStarsOf(
        parseInput(StarsInput, {
          raDeg: 150,
          decDeg: 0,
          focalLengthMm: 1000,
          centreRadiusMm: 20,
          fieldMm: { tangential: 6, radial: 4 },
          faintestMag,
          catalogue: [star],
        }),
      );
    expect(of(8.2567).best!.star).toEqual(star);
    expect(of(8.2566).best).toBeNull();
  });
  test('bad input is named: a limit brighter than the brightest, no catalogue, a window behind the sky', () => {
    const ok = {
      raDeg: 0,
      decDeg: 0,
      focalLengthMm: 500,
      centreRadiusMm: 15,
      fieldMm: { tangential: 5, radial: 4 },
      faintestMag: 11,
    };
    expect(() => parseInput(StarsInput, { ...ok, faintestMag: 2 })).toThrow(/fainter/);
    expect(() => parseInput(StarsInput, { ...ok, stepDeg: 0 })).toThrow(/stepDeg/);
    expect(() => parseInput(StarsInput, { ...ok, decDeg: 91 })).toThrow(/decDeg/);
    expect(() => guideStarsOf(parseInput(StarsInput, ok))).toThrow(/no star catalogue/);
    expect(() => guideStarsOf(parseInput(StarsInput, { ...ok, focalLengthMm: 1 }), source)).toThrow(/off the axis/);
  });
});
