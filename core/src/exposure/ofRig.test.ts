import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { RigSetup } from '../rig/index.ts';
import { seeded } from '../statistics/index.ts';
import { adviseFilter, filterLight, longestS, sameDepth, TYPICAL } from './ofRig.ts';
import { goalsOf, PALETTES } from './palette.ts';
import { HABITUAL_S } from './sub.ts';

type Setup = Parameters<typeof filterLight>[0];
const rig = (more: Partial<Setup> = {}): Setup => ({
  focalLengthMm: 840,
  apertureMm: 120,
  camera: RigSetup.shape.camera.parse({ name: 'main', pixelUm: 3.76, widthPx: 6248, heightPx: 4176 }),
  ...more,
});
const sensor = { quantumEfficiency: 0.7, readNoiseE: 3.5, fullWellE: 15_000, darkEPerSPx: 0.01 };
const entered = rig({
  camera: { ...rig().camera, sensor },
  bands: [
    { filter: 'Ha', bandwidthNm: 3 },
    { filter: 'L', bandwidthNm: 280, skyEPerSPx: 2.5, skyOn: '2026-11-02' },
  ],
});
const dark = { skyMagArcsec2: 21, brighteningMag: 0 };
const criteria = { noiseIncrease: 0.05, brightestMag: 11, fwhmArcsec: 3 };
const advise = (setup: Setup, filter: string, sky = dark, more = {}) =>
  adviseFilter(filterLight(setup, filter), sky, { ...criteria, ...more });

describe('what a rig tells of a filter', () => {
  test('nothing entered: everything is assumed, and each of it is said once', () => {
    const light = filterLight(rig(), 'Ha');
    expect(light.assumed.map((a) => a.code)).toEqual([
      'assumed.band',
      'assumed.quantum-efficiency',
      'assumed.read-noise',
      'assumed.full-well',
      'assumed.dark-current',
    ]);
    expect(light).toMatchObject({ readNoiseE: TYPICAL.readNoiseE, measured: null, instrument: { obstructionMm: 0 } });
  });
  test('what was entered is used and no longer assumed', () => {
    const light = filterLight(entered, 'Ha');
    expect(light.assumed).toEqual([]);
    expect(light).toMatchObject({
      readNoiseE: 3.5,
      darkEPerSPx: 0.01,
      instrument: { bandwidthNm: 3, quantumEfficiency: 0.7 },
    });
    expect(filterLight(entered, 'R').assumed.map((a) => a.code)).toEqual(['assumed.band']);
  });
  test.each([
    ['Ha', 6],
    ['H-alpha', 6],
    ['OIII', 6],
    ['O3', 6],
    ['SII', 6],
    ['NII', 6],
    ['L', 300],
    ['Lum', 300],
    ['R', 100],
    ['Green', 100],
    ['B', 100],
    ['colour', 100],
    ['clear', 400],
    ['DuoBand', 12],
    ['Light pollution', 300],
    ['my own glass', 300],
  ])('a filter called “%s” is taken to be %i nm wide until somebody says', (filter, nm) => {
    expect(filterLight(rig(), filter).instrument.bandwidthNm).toBe(nm);
  });
});

describe('what a filter asks of an exposure', () => {
  test('a frame of the shortest useful length has the accepted noise more, no more and no less', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 17, max: 22, noNaN: true }),
        fc.double({ min: 0.01, max: 0.5, noNaN: true }),
        fc.constantFrom('L', 'R', 'Ha'),
        (mag, noiseIncrease, filter) => {
          const got = advise(rig(), filter, { skyMagArcsec2: mag, brighteningMag: 0 }, { noiseIncrease });
          expect(got.addedAt(got.minimumS)).toBeCloseTo(noiseIncrease, 9);
        },
      ),
      { seed: 4, numRuns: 100 },
    );
  });
  test('noise of simulated frames is what it says: sky, dark and read noise drawn as counts', () => {
    const got = advise(entered, 'Ha');
    const [seconds, r] = [got.minimumS, seeded(8)];
    const mean = (got.skyEPerSPx + sensor.darkEPerSPx) * seconds;
    // Poisson by counting exponential gaps
    const counts = () => {
      let n = 0;
      for (let t = r.exponential(1); t < mean; t += r.exponential(1)) n++;
      return n;
    };
    const spread = (draw: () => number, n: number) => {
      const all = Array.from({ length: n }, draw);
      const m = all.reduce((s, x) => s + x, 0) / n;
      return Math.sqrt(all.reduce((s, x) => s + (x - m) ** 2, 0) / (n - 1));
    };
    const n = 40_000;
    const ratio = spread(() => counts() + sensor.readNoiseE * r.normal(), n) / spread(counts, n);
    // each spread is known to 1/√(2n) = 0.35 %
    expect(Math.abs(ratio - 1.05)).toBeLessThan(4 * Math.SQRT2 * 0.0036);
  });
  test('a measured sky goes before the estimate, and the Moon brightens it by the same factor', () => {
    const [plain, moon] = [advise(entered, 'L'), advise(entered, 'L', { skyMagArcsec2: 19, brighteningMag: 1.5 })];
    expect(plain).toMatchObject({ skyEPerSPx: 2.5, from: 'measured' });
    expect(moon.skyEPerSPx).toBeCloseTo(2.5 * 10 ** 0.6, 9);
    expect(advise(rig(), 'L').from).toBe('estimate');
  });
  test('a tighter star or a brighter one fills its pixel sooner; five magnitudes are a factor of a hundred', () => {
    const clip = (more: object) => advise(rig(), 'Ha', { skyMagArcsec2: 30, brighteningMag: 0 }, more).clipS;
    expect(clip({ fwhmArcsec: 2 })).toBeLessThan(clip({ fwhmArcsec: 4 }));
    expect(clip({ brightestMag: 11 }) / clip({ brightestMag: 6 })).toBeCloseTo(100, 0);
  });
  test('the brightest pixel of a wide Gaussian star holds what the Gaussian says', () => {
    // summed over a grid of pixels, the star in the middle of one
    const [scale, fwhm] = [0.5, 4];
    const sigma = fwhm / 2.3548;
    let all = 0;
    for (let x = -60; x <= 60; x++)
      for (let y = -60; y <= 60; y++) all += Math.exp(-((x * scale) ** 2 + (y * scale) ** 2) / (2 * sigma ** 2));
    const setup = rig({ focalLengthMm: (206.264806 * 3.76) / scale });
    const night = { skyMagArcsec2: 40, brighteningMag: 0 };
    const [clip, flux] = [
      advise(setup, 'Ha', night, { fwhmArcsec: fwhm }).clipS,
      1e4 * 10 ** -4.4 * (Math.PI / 4) * 144 * 6 * 0.8 * 0.85,
    ];
    expect((TYPICAL.fullWellE / clip - TYPICAL.darkEPerSPx) / flux).toBeCloseTo(1 / all, 3);
  });
  test('five short frames for a long one cost the read noise of four more', () => {
    const got = advise(entered, 'Ha');
    const snr = (seconds: number, frames: number) =>
      (frames * seconds) /
      Math.sqrt(frames * ((got.skyEPerSPx + sensor.darkEPerSPx) * seconds + sensor.readNoiseE ** 2));
    const factor = sameDepth(got, 60, 300);
    expect(factor).toBeGreaterThan(1);
    // so much more time in short frames is as deep
    expect(snr(60, 50 * factor)).toBeCloseTo(snr(300, 10), 9);
    expect(sameDepth(got, 300, 300)).toBe(1);
  });
  test('the longest is a usual length below what stars and flexure allow, never below the advised', () => {
    expect(longestS({ clipS: 250, recommendedS: 30 }, null)).toBe(240);
    expect(longestS({ clipS: 250, recommendedS: 30 }, 100)).toBe(90);
    expect(longestS({ clipS: 9e9, recommendedS: 30 }, null)).toBe(600);
    expect(longestS({ clipS: 9e9, recommendedS: 900 }, null)).toBe(900);
    expect(longestS({ clipS: 0.2, recommendedS: 1 }, null)).toBe(1);
  });
});

describe('hours into frames', () => {
  test('whole frames as near to each share as frames allow', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 200, noNaN: true }),
        fc.constantFrom(...PALETTES),
        fc.constantFrom(...HABITUAL_S),
        (hours, palette, s) => {
          const exposureS = Object.fromEntries(Object.keys(palette.shares).map((f) => [f, s]));
          const sum = Object.values(palette.shares).reduce((a, b) => a + b, 0);
          for (const g of goalsOf(hours, palette.shares, exposureS)) {
            expect(Number.isInteger(g.quota) && g.quota >= 1 && g.quota <= 9999).toBe(true);
            const wanted = (3600 * hours * palette.shares[g.filter]!) / sum;
            if (g.quota > 1 && g.quota < 9999) expect(Math.abs(g.quota * s - wanted)).toBeLessThanOrEqual(s / 2 + 1e-6);
          }
        },
      ),
      { seed: 1, numRuns: 200 },
    );
  });
  test('a filter without a share or an exposure is left out', () => {
    expect(goalsOf(2, { Ha: 1, OIII: 0, SII: 1 }, { Ha: 300 })).toEqual([{ filter: 'Ha', exposureS: 300, quota: 24 }]);
  });
});
