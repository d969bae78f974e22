import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import * as Astronomy from 'astronomy-engine';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { moonDisk, nightFrame } from '../sky/index.ts';
import { moonMag, MoonInput, moonSeries, STILL_S } from './moon.ts';

const input = (more: object = {}) =>
  parseInput(MoonInput, {
    apertureMm: 120,
    scaleArcsecPerPx: 0.92,
    bandwidthNm: 100,
    quantumEfficiency: 0.8,
    transmission: 0.85,
    focalRatio: 7,
    pixelUm: 3.76,
    fullWellE: 40_000,
    readNoiseE: 1.6,
    widthPx: 6248,
    heightPx: 4176,
    cropWidthPx: 2400,
    cropHeightPx: 2400,
    bytesPerPx: 2,
    linkMBPerS: 300,
    durationS: 60,
    moonDiameterArcmin: 31,
    moonPhaseAngleDeg: 90,
    moonAltitudeDeg: 45,
    ...more,
  });

describe('a series of the Moon', () => {
  test('knows how bright it is: full −12.7, quarters about −10', () => {
    expect(moonMag(0)).toBeCloseTo(-12.73, 2);
    // tables give −10.0 to −10.2 for the quarters (from memory)
    expect(Math.abs(moonMag(90) + 10.1)).toBeLessThan(0.15);
  });
  test('keeps the brightest ground below its pixels’ well, and the air still', () => {
    const long = moonSeries(input({ bandwidthNm: 1 }));
    expect(long.exposureS).toBe(STILL_S);
    const slow = moonSeries(input({ apertureMm: 400, bandwidthNm: 300 }));
    expect(slow.exposureS).toBe(slow.longestS);
    // twice the well, twice the exposure
    expect(moonSeries(input({ fullWellE: 80_000 })).longestS / moonSeries(input()).longestS).toBeCloseTo(2, 9);
    // the terminator is lit, and fainter than anything that would clip
    expect(slow.terminatorE).toBeGreaterThan(0);
    expect(slow.terminatorE).toBeLessThan(0.05 * 40_000);
  });
  test('is as fast as exposure and link allow, and no file is larger than its frames', () => {
    const whole = moonSeries(input({ cropWidthPx: 6248, cropHeightPx: 4176 }));
    expect(whole.limitedBy).toBe('link');
    expect(whole.framesPerS).toBeCloseTo(300 / (6248 * 4176 * 2e-6), 9);
    const small = moonSeries(input({ cropWidthPx: 640, cropHeightPx: 480, linkMBPerS: 2000, bytesPerPx: 1 }));
    expect(small.limitedBy).toBe('exposure');
    for (const r of [whole, small]) expect(r.frames).toBeLessThanOrEqual(r.framesPerS * 60);
    expect(small.fileMB).toBeCloseTo(small.frames * 640 * 480 * 1e-6, 6);
  });
  test('takes as few fields as cover it, each sharing a fifth with the next', () => {
    fc.assert(
      fc.property(fc.integer({ min: 200, max: 4000 }), fc.double({ min: 0.1, max: 3, noNaN: true }), (crop, scale) => {
        const r = moonSeries(input({ cropWidthPx: crop, cropHeightPx: 4176, scaleArcsecPerPx: scale }));
        const covers = (n: number) => crop + (n - 1) * 0.8 * crop >= r.moonPx - 1e-6;
        expect(covers(r.panelsAcross)).toBe(true);
        if (r.panelsAcross > 1) expect(covers(r.panelsAcross - 1)).toBe(false);
      }),
    );
  });
  test('drifts by its own diameter in about an hour when the mount follows the stars', () => {
    const r = moonSeries(input({ durationS: 3400 }));
    expect(Math.abs(r.driftPx / r.moonPx - 1)).toBeLessThan(0.05);
    expect(r.smearPx).toBeLessThan(0.02);
  });
  test('refuses a crop larger than the sensor, with its place', () => {
    expect(() => moonSeries(input({ cropHeightPx: 5000 }))).toThrow(InvalidInput);
    expect(() => moonSeries(input({ cropHeightPx: 5000 }))).toThrow(/cropHeightPx.*6248 × 4176/);
  });
});

test('the Moon’s disk is as large as its distance makes it, and larger overhead', () => {
  const site = { latitudeDeg: 5, longitudeDeg: 9, elevationM: 300, timeZone: 'Africa/Lagos', horizon: [] };
  const frame = nightFrame(site, '2026-11-24');
  let [low, high] = [0, 0];
  for (let ms = frame.from; ms < frame.to; ms += 3_600_000) {
    const d = moonDisk(frame, ms);
    if (d.altitudeDeg < -2) continue;
    // another library’s libration gives the diameter seen from the middle of the Earth
    const ratio = d.diameterArcmin / (60 * Astronomy.Libration(new Date(ms)).diam_deg);
    expect(ratio).toBeGreaterThan(0.998);
    expect(ratio).toBeLessThan(1.0185);
    if (d.altitudeDeg < 15) low = ratio;
    if (d.altitudeDeg > 60) high = ratio;
  }
  expect(high).toBeGreaterThan(low);
});
