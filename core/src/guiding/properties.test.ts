import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { flexure, FlexureInput } from './flexure.ts';
import { calibration, wayForAngle, CalibrationInput, limit, LimitInput } from './limit.ts';
import { budget, BudgetInput } from './budget.ts';

const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const T0 = Date.parse('2026-11-24T20:00:00Z');

describe('flexure', () => {
  const run = fc.record({
    minutes: fc.integer({ min: 5, max: 120 }),
    speed: between(0.01, 3),
    direction: between(0, 360),
    scale: between(0.3, 4),
    seed: fc.integer({ min: 1, max: 1e6 }),
  });
  const framesOf = (r: { minutes: number; speed: number; direction: number; seed: number }, noise: number) => {
    const random = seeded(r.seed);
    const a = (r.direction * Math.PI) / 180;
    return Array.from({ length: 20 }, (_, k) => {
      const min = (r.minutes * k) / 19;
      return {
        time: new Date(T0 + Math.round(min * 60_000)).toISOString(),
        xPx: 1200 + r.speed * min * Math.cos(a) + noise * random.normal(),
        yPx: 800 + r.speed * min * Math.sin(a) + noise * random.normal(),
      };
    });
  };
  const of = (frames: object[], scaleArcsecPerPx: number) =>
    flexure(parseInput(FlexureInput, { frames, scaleArcsecPerPx }));

  test('a steady drift comes back with its rate and direction, in whatever order the frames stand', () => {
    fc.assert(
      fc.property(run, (r) => {
        const frames = framesOf(r, 0);
        const got = of([...frames].reverse(), r.scale);
        expect(got.rateArcsecPerMin).toBeCloseTo(r.speed * r.scale, 2);
        const off = Math.abs(got.directionDeg - r.direction) % 360;
        expect(Math.min(off, 360 - off)).toBeLessThan(0.5);
        expect(got.longestExposureS!).toBeCloseTo(60 / r.speed, 0);
        expect(got.residualRmsPx).toBeLessThan(0.01);
        expect(got.directionDeg).toBeLessThan(360);
      }),
      { seed: 51 },
    );
  });
  test('moving every frame alike changes nothing; a quarter turn of the picture turns the direction a quarter', () => {
    fc.assert(
      fc.property(run, between(-500, 500), (r, shift) => {
        const frames = framesOf(r, 0.1);
        const one = of(frames, r.scale);
        const moved = of(
          frames.map((f) => ({ ...f, xPx: f.xPx + shift, yPx: f.yPx - shift })),
          r.scale,
        );
        expect(moved.rateArcsecPerMin).toBeCloseTo(one.rateArcsecPerMin, 6);
        const turned = of(
          frames.map((f) => ({ ...f, xPx: -f.yPx, yPx: f.xPx })),
          r.scale,
        );
        expect((turned.directionDeg - one.directionDeg + 720) % 360).toBeCloseTo(90, 5);
      }),
      { seed: 52 },
    );
  });
  test('a star that stands still trails nowhere and points to 0', () => {
    const still = [0, 1, 2].map((k) => ({ time: new Date(T0 + k * 60_000).toISOString(), xPx: 5.3, yPx: 7.1 }));
    expect(of(still, 1)).toMatchObject({ longestExposureS: null, residualRmsPx: expect.closeTo(0, 9) });
  });
});

describe('the faintest star that guides', () => {
  const camera = fc.record({
    apertureMm: between(50, 500),
    exposureS: between(0.5, 8),
    pixelUm: between(2, 9),
    focalLengthMm: between(150, 2500),
    fwhmArcsec: between(1.5, 6),
    readNoiseE: between(0.5, 10),
    quantumEfficiency: between(0.2, 0.9),
    skyMagArcsec2: between(16, 22),
  });
  const at = (over: object) => limit(parseInput(LimitInput, over)).limitingMag;
  test('gains from glass, time and light; loses by noise, bright sky, air and a stricter wish', () => {
    fc.assert(
      fc.property(camera, (c) => {
        const here = at(c);
        for (const better of [
          { apertureMm: c.apertureMm * 1.5 },
          { exposureS: c.exposureS * 2 },
          { quantumEfficiency: c.quantumEfficiency * 1.1 },
          { skyMagArcsec2: c.skyMagArcsec2 + 1 },
          { snr: 10 },
        ])
          expect(at({ ...c, ...better })).toBeGreaterThan(here);
        for (const worse of [
          { lightFraction: 0.5 },
          { readNoiseE: c.readNoiseE * 2 },
          { airmass: 2 },
          { obstructionMm: c.apertureMm * 0.4 },
          { snr: 40 },
        ])
          expect(at({ ...c, ...worse })).toBeLessThan(here);
      }),
      { seed: 53 },
    );
  });
  test('half the light costs three quarters of a magnitude where photons of the star rule, more where noise does', () => {
    const rich = {
      apertureMm: 200,
      exposureS: 1,
      pixelUm: 3,
      focalLengthMm: 400,
      fwhmArcsec: 3,
      readNoiseE: 0,
      quantumEfficiency: 0.8,
      skyMagArcsec2: 22,
      snr: 500,
    };
    const noisy = { ...rich, readNoiseE: 30, snr: 5, exposureS: 0.5, skyMagArcsec2: 17 };
    const cost = (c: object) => at(c) - at({ ...c, lightFraction: 0.5 });
    expect(cost(rich)).toBeCloseTo(2.5 * Math.log10(2), 2);
    expect(cost(noisy)).toBeGreaterThan(0.7);
  });
});

describe('calibration and budget', () => {
  test('a pulse grows with the way and with 1/cos δ, and falls with steps and rate', () => {
    const of = (over: object) =>
      calibration(parseInput(CalibrationInput, { focalLengthMm: 400, pixelUm: 3.75, decDeg: 0, travelPx: 25, ...over }))
        .pulseMs;
    fc.assert(
      fc.property(between(-60, 60), fc.integer({ min: 2, max: 40 }), between(0.2, 1), (decDeg, steps, guideRate) => {
        const here = of({ steps, guideRate });
        expect(of({ decDeg, steps, guideRate })).toBeCloseTo(here / Math.cos((decDeg * Math.PI) / 180), 6);
        expect(of({ steps: 2 * steps, guideRate })).toBeCloseTo(here / 2, 6);
        expect(of({ steps, guideRate, travelPx: 50 })).toBeCloseTo(2 * here, 6);
        expect(of({ steps, guideRate, binning: 2 })).toBeCloseTo(2 * here, 6);
      }),
      { seed: 54 },
    );
  });
  test('the way for a wanted angle keeps it: 4000 simulated calibrations scatter as asked', () => {
    const random = seeded(91);
    for (const [steps, noise, wanted] of [
      [10, 0.2, 0.5],
      [4, 0.4, 1],
      [24, 0.15, 0.3],
    ] as const) {
      const way = wayForAngle(noise, steps, wanted);
      const at = Array.from({ length: steps + 1 }, (_, k) => (k * way) / steps - way / 2);
      const across = at.reduce((s, x) => s + x * x, 0);
      const angles = Array.from({ length: 4000 }, () => {
        const slope = at.reduce((s, x) => s + x * noise * random.normal(), 0) / across;
        return (Math.atan(slope) * 180) / Math.PI;
      });
      const sigma = Math.sqrt(angles.reduce((s, a) => s + a * a, 0) / angles.length);
      expect(sigma / wanted).toBeGreaterThan(0.95);
      expect(sigma / wanted).toBeLessThan(1.05);
    }
  });
  test('every school says something, in its order; more flexure never argues for the guide scope', () => {
    const rank = { 'guide-scope': 0, either: 1, 'off-axis': 2 } as const;
    fc.assert(
      fc.property(between(200, 3000), between(60, 400), between(0, 0.3), between(30, 900), (f, guideF, flex, s) => {
        const of = (flexureArcsecPerMin: number) =>
          budget(
            parseInput(BudgetInput, {
              imaging: { focalLengthMm: f, pixelUm: 3.76 },
              guide: { focalLengthMm: guideF, pixelUm: 3.75 },
              offAxis: false,
              flexureArcsecPerMin,
              exposureS: s,
              seeingArcsec: 2.5,
            }),
          );
        const [less, more] = [of(flex), of(flex + 0.1)];
        expect(less.schools.map((x) => x.id)).toEqual(['focal-length-limit', 'sub-pixel', 'budget']);
        less.schools.forEach((x, k) => {
          expect(rank[more.schools[k]!.advice]).toBeGreaterThanOrEqual(rank[x.advice]);
          expect(x.because.length).toBeGreaterThan(10);
        });
        expect(more.longestExposureS!).toBeLessThan(less.longestExposureS ?? Infinity);
      }),
      { seed: 55 },
    );
  });
});
