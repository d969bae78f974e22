import { expect, test } from '@jest/globals';
import { writeFits16 } from '../../exchange/index.ts';
import { separationDeg } from '../../sky/index.ts';
import { shippedStars } from '../../test/shippedStars.ts';
import { measurePicture } from '../measure/measure.ts';
import { fieldStars } from './field.ts';
import { practiceScene } from './practice.ts';
import { renderCounts } from './render.ts';

const stars = shippedStars();
const frame = { id: 'a', raDeg: 13.2, decDeg: 56.6, hfdPx: 3.4, eccentricity: 0.3, starShare: 1, skyShare: 1, scaleArcsecPerPx: 1.4 }; // prettier-ignore
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
  const field = { raDeg: 83.8, decDeg: -5.4, angleDeg: 0, scaleArcsecPerPx: 2, widthPx: 2000, heightPx: 1500, magZeroElectrons: 1e9, faintestMag: 9, seed: 1 }; // prettier-ignore
  const drawn = fieldStars(field, stars);
  const cap = stars({ raDeg: 83.8, decDeg: -5.4, radiusDeg: 0.9, faintestMag: 9 });
  const of = (electrons: number) => Array.from({ length: cap.length }, (_, i) => i).filter((i) => Math.abs(1e9 * 10 ** (-0.4 * cap.mag[i]!) / electrons - 1) < 1e-6); // prettier-ignore
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
