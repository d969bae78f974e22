import { expect, test } from '@jest/globals';
import { writeFits16 } from '../../exchange/index.ts';
import { separationDeg } from '../../sky/index.ts';
import { healthyScene } from '../../test/faultyFrames.ts';
import { shippedStars } from '../../test/shippedStars.ts';
import { measurePicture } from '../measure/measure.ts';
import { fieldStars } from './field.ts';
import { practiceFrame, practiceScene } from './practice.ts';
import { lightOf, renderCounts } from './render.ts';

const stars = shippedStars();
const frame = {
  id: 'a',
  raDeg: 13.2,
  decDeg: 56.6,
  hfdPx: 3.4,
  eccentricity: 0.3,
  starShare: 1,
  skyShare: 1,
  scaleArcsecPerPx: 1.4,
};
const look = (more: object = {}) => {
  const s = practiceScene({ ...frame, ...more }, stars);
  return measurePicture(writeFits16(renderCounts(s), s.widthPx, s.heightPx, []));
};

test('a practice frame measures as its stand-in camera said', () => {
  const usual = look();
  expect(Math.abs(usual.hfdPx! / 3.4 - 1)).toBeLessThan(0.15);
  expect(usual.eccentricity!).toBeLessThan(0.45);
  expect(usual.stars).toBeGreaterThan(40);
  expect(Math.abs(look({ id: 'b', hfdPx: 6 }).hfdPx! / 6 - 1)).toBeLessThan(0.15);
  const long = look({ id: 'c', eccentricity: 0.75 });
  expect(Math.abs(long.eccentricity! - 0.75)).toBeLessThan(0.12);
  const cloudy = look({ id: 'd', starShare: 0.2, skyShare: 1.8 });
  expect(cloudy.stars).toBeLessThan(0.7 * usual.stars);
  expect(cloudy.background).toBeGreaterThan(1.3 * usual.background);
});
test('catalogue stars stand where the sky has them: as far apart in pixels as on the sky, east to the left', () => {
  const field = {
    raDeg: 83.8,
    decDeg: -5.4,
    angleDeg: 0,
    scaleArcsecPerPx: 2,
    widthPx: 2000,
    heightPx: 1500,
    magZeroElectrons: 1e9,
    faintestMag: 9,
    seed: 1,
  };
  const drawn = fieldStars(field, stars);
  const cap = stars({ raDeg: 83.8, decDeg: -5.4, radiusDeg: 0.9, faintestMag: 9 });
  const of = (electrons: number) =>
    Array.from({ length: cap.length }, (_, i) => i).filter(
      (i) => Math.abs((1e9 * 10 ** (-0.4 * cap.mag[i]!)) / electrons - 1) < 1e-6,
    );
  const known = drawn.flatMap((d) => {
    const same = of(d.electrons);
    return same.length === 1 ? [{ ...d, raDeg: cap.raDeg[same[0]!]!, decDeg: cap.decDeg[same[0]!]! }] : [];
  });
  expect(known.length).toBeGreaterThan(5);
  for (const a of known)
    for (const b of known) {
      const px = Math.hypot(a.x - b.x, a.y - b.y);
      expect(Math.abs((px * 2) / 3600 - separationDeg(a, b))).toBeLessThan(0.001);
      if (a.raDeg > b.raDeg + 0.1) expect(a.x).toBeLessThan(b.x);
      if (a.decDeg > b.decDeg + 0.1) expect(a.y).toBeGreaterThan(b.y);
    }
});

test('a camera that looks past its prism is lit on one side only, with a soft edge where it was told', () => {
  const scene = { ...healthyScene(3, 400, 200), stars: [], vignetting: 0, hotPixels: 0 };
  const level = (light: Float32Array, x: number) => {
    let sum = 0;
    for (let y = 0; y < 200; y++) sum += light[y * 400 + x]!;
    return sum / 200 / scene.skyElectrons;
  };
  for (const [edge, lit, dark] of [
    ['left', 20, 380],
    ['right', 380, 20],
  ] as const) {
    const light = lightOf({ ...scene, lit: { edge, share: 0.4 } });
    expect(level(light, lit)).toBeGreaterThan(0.99);
    expect(level(light, dark)).toBeLessThan(0.01);
    // the half of it where the shadow begins
    expect(level(light, edge === 'left' ? 160 : 239)).toBeCloseTo(0.5, 1);
  }
});
test('a stand-in’s frame is drawn by what it told: sky never darker than the usual, stars against the richest frame', () => {
  const told = practiceFrame(
    'a',
    { raDeg: 10, decDeg: 50 },
    { hfdPx: 2.4, eccentricity: 0.2, stars: 150, background: 0.5 },
    300,
    1.1,
  );
  expect(told).toEqual({
    id: 'a',
    raDeg: 10,
    decDeg: 50,
    hfdPx: 2.4,
    eccentricity: 0.2,
    starShare: 0.5,
    skyShare: 1,
    scaleArcsecPerPx: 1.1,
  });
});
