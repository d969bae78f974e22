import * as Astronomy from 'astronomy-engine';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { rounds } from '../test/rounds.ts';
import { SkyWindow, type Vec } from './ephemeris.ts';

const site = { latitudeDeg: 47, longitudeDeg: 15, elevationM: 350, timeZone: 'Europe/Vienna', horizon: [] };
const HALF_DAY_MS = 43_200_000;

describe('Sun and Moon between the nodes of their tables', () => {
  // the ephemeris itself, asked at the very instant
  const asked = (body: Astronomy.Body, middleMs: number, ms: number): Vec => {
    const v = Astronomy.GeoVector(body, Astronomy.MakeTime(new Date(ms)), true);
    const turned = Astronomy.RotateVector(Astronomy.Rotation_EQJ_EQD(Astronomy.MakeTime(new Date(middleMs))), v);
    return [turned.x * 149_597_870.7, turned.y * 149_597_870.7, turned.z * 149_597_870.7];
  };
  const arcsecBetween = (a: Vec, b: Vec): number => {
    const cross = Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]);
    return (Math.atan2(cross, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) * 180 * 3600) / Math.PI;
  };
  test('stand within a thousandth of an arcsecond of where the ephemeris has them, and the Moon within 10 m of its distance', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1950-01-01'), max: new Date('2070-01-01'), noInvalidDate: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (middle, share) => {
          const middleMs = middle.getTime();
          const ms = middleMs + share * HALF_DAY_MS;
          const sky = new SkyWindow(site, middleMs);
          const [moon, sun] = [sky.moonGeocentric(ms), sky.sunGeocentric(ms)];
          const [trueMoon, trueSun] = [
            asked(Astronomy.Body.Moon, middleMs, ms),
            asked(Astronomy.Body.Sun, middleMs, ms),
          ];
          expect(arcsecBetween(moon, trueMoon)).toBeLessThan(0.001);
          expect(arcsecBetween(sun, trueSun)).toBeLessThan(0.001);
          expect(Math.abs(Math.hypot(...moon) - Math.hypot(...trueMoon))).toBeLessThan(0.01);
        },
      ),
      { numRuns: rounds(150, 3000) },
    );
  });
});
