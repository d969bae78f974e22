import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import {
  addedNoise,
  HABITUAL_S,
  integration,
  IntegrationInput,
  skyLight,
  surfaceMagOf,
  SkyLightInput,
  sub,
  SubInput,
} from './index.ts';

const camera = { apertureMm: 100, scaleArcsecPerPx: 1.2, bandwidthNm: 300, quantumEfficiency: 0.8 };
const sky = (mag: number, more: object = {}) =>
  skyLight(parseInput(SkyLightInput, { skyMagArcsec2: mag, ...camera, ...more })).electronsPerSPx;

describe('light of a surface', () => {
  test('five magnitudes are a factor of a hundred; band, area and scale count as they should', () => {
    expect(sky(15) / sky(20)).toBeCloseTo(100, 9);
    expect(sky(20, { bandwidthNm: 3 }) / sky(20)).toBeCloseTo(0.01, 12);
    expect(sky(20, { apertureMm: 200, scaleArcsecPerPx: 0.6 }) / sky(20)).toBeCloseTo(1, 12);
    expect(() => sky(20, { obstructionMm: 100 })).toThrow(InvalidInput);
    for (const mag of [12, 18.7, 22])
      expect(surfaceMagOf({ transmission: 0.85, obstructionMm: 0, ...camera }, sky(mag))).toBeCloseTo(mag, 9);
  });
});

describe('one frame', () => {
  const input = fc.record({
    readNoiseE: fc.double({ min: 0.3, max: 20, noNaN: true }),
    skyEPerSPx: fc.double({ min: 1e-4, max: 100, noNaN: true }),
    darkEPerSPx: fc.double({ min: 0, max: 1, noNaN: true }),
    noiseIncrease: fc.double({ min: 0.01, max: 0.5, noNaN: true }),
  });
  test('at the shortest useful exposure the noise is larger by what was accepted, no more', () => {
    fc.assert(
      fc.property(input, (i) => {
        const got = sub(parseInput(SubInput, i));
        expect(addedNoise(parseInput(SubInput, i), got.minimumS)).toBeCloseTo(i.noiseIncrease, 9);
        expect(HABITUAL_S).toContain(got.recommendedS);
        if (got.minimumS <= 1200) expect(got.recommendedS).toBeGreaterThanOrEqual(got.minimumS);
      }),
      { seed: 300 },
    );
  });
  test('so it is when electrons are counted: frames of that length, added up, against one long one', () => {
    const i = parseInput(SubInput, { readNoiseE: 4, skyEPerSPx: 0.8, noiseIncrease: 0.1 });
    const t = sub(i).minimumS;
    const r = seeded(11);
    // far from zero a Poisson count is normal with its own mean as variance
    const count = () => i.skyEPerSPx * t + Math.sqrt(i.skyEPerSPx * t) * r.normal() + i.readNoiseE * r.normal();
    const n = 40_000;
    let [sum, squares] = [0, 0];
    for (let k = 0; k < n; k++) {
      const x = count() - i.skyEPerSPx * t;
      sum += x;
      squares += x * x;
    }
    const noise = Math.sqrt(squares / n - (sum / n) ** 2);
    // the scatter of a measured scatter is 1/√(2n)
    expect(Math.abs(noise / Math.sqrt(i.skyEPerSPx * t) - 1.1)).toBeLessThan((4 * 1.1) / Math.sqrt(2 * n));
  });
  test('what clips first is said, and the frame stays below the well', () => {
    const got = sub(parseInput(SubInput, { readNoiseE: 8, skyEPerSPx: 0.1, fullWellE: 20_000, starEPerSPeak: 500 }));
    expect(got.recommendedS).toBeLessThanOrEqual(got.clipS!);
    expect(got.verdict).toMatchObject({ level: 'caution' });
    expect(got.verdict.text).toMatch(/fill their pixels after 40/);
    const dark = sub(parseInput(SubInput, { readNoiseE: 8, skyEPerSPx: 0.01 }));
    expect([dark.recommendedS, dark.verdict.level]).toEqual([1200, 'caution']);
  });
});

describe('many frames', () => {
  const asked = (more: object = {}) =>
    integration(
      parseInput(IntegrationInput, {
        targetMagArcsec2: 23,
        skyMagArcsec2: 20.5,
        ...camera,
        readNoiseE: 1.5,
        subS: 180,
        snr: 10,
        ...more,
      }),
    );
  test('their signal to noise reaches the wish, and one frame fewer does not', () => {
    for (const snr of [3, 10, 25]) {
      const got = asked({ snr });
      expect(got.snrPerSub * Math.sqrt(got.subs)).toBeGreaterThanOrEqual(snr);
      expect(got.snrPerSub * Math.sqrt(got.subs - 1)).toBeLessThan(snr);
    }
  });
  test('without read noise only the time counts, however it is cut', () => {
    const hours = [60, 300].map((subS) => asked({ readNoiseE: 0, subS, snr: 60 }).hours);
    expect(hours[0]! / hours[1]!).toBeCloseTo(1, 1);
    expect(asked({ subS: 20, readNoiseE: 9 }).hours).toBeGreaterThan(asked({ subS: 600, readNoiseE: 9 }).hours);
  });
  test('four pixels added are twice the signal to noise', () => {
    expect(asked({ binArea: 4 }).snrPerSub / asked().snrPerSub).toBeCloseTo(2, 12);
  });
});
