import { describe, expect, test } from '@jest/globals';
import { brightness } from './brightness.ts';
import { skyOver } from './skyOver.ts';

const point = (hour: number, moonAltitudeDeg: number, more: object = {}) => ({
  time: `2026-11-19T${hour}:00:00.000Z`,
  altitudeDeg: 60,
  moonAltitudeDeg,
  moonSeparationDeg: 70,
  ...more,
});
const window = [{ start: '2026-11-19T18:00:00.000Z', end: '2026-11-19T22:00:00.000Z' }];
const b = (moonAltitudeDeg: number, altitudeDeg = 60) =>
  brightness({
    moonPhaseAngleDeg: 30,
    moonSeparationDeg: 70,
    moonZenithDeg: 90 - moonAltitudeDeg,
    targetZenithDeg: 90 - altitudeDeg,
    extinction: 0.172,
    darkZenithMag: 21,
  });

describe('the sky over an object in its hours', () => {
  test('with the Moon down is the dark sky at its height', () => {
    const got = skyOver([point(19, -10), point(20, -20)], window, 30, 21)!;
    expect(got.darkMag).toBeCloseTo(b(-10).skyMag, 9);
    expect([got.withMoonMag, got.brighteningMag, got.moonShare]).toEqual([got.darkMag, 0, 0]);
  });
  test('averages light, not magnitudes; a Moon that is up for half of it takes less than all', () => {
    const got = skyOver([point(19, 40), point(20, -5)], window, 30, 21)!;
    const [up, down] = [b(40), b(-5)];
    const mean = (up.darkNl + up.moonNl + down.darkNl + down.moonNl) / 2;
    expect(got.withMoonMag).toBeCloseTo((20.7233 - Math.log(mean / 34.08)) / 0.92104, 3);
    expect(got.moonShare).toBe(0.5);
    expect(got.brighteningMag).toBeLessThan(up.brighteningMag);
    expect(got.darkMag - got.withMoonMag).toBeCloseTo(got.brighteningMag, 9);
  });
  test('what lies outside the windows or under the horizon does not count', () => {
    const night = [point(17, 40), point(19, -5), point(23, 40)];
    expect(skyOver(night, window, 30, 21)!.brighteningMag).toBe(0);
    expect(skyOver([point(19, 0, { altitudeDeg: -3 })], window, 30, 21)).toBeNull();
    expect(skyOver(night, [], 30, 21)).toBeNull();
  });
});
