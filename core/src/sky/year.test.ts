import { describe, expect, test } from '@jest/globals';
import { night } from './night.ts';
import { target } from './target.ts';
import { year } from './year.ts';

const yard = { latitudeDeg: 47.07, longitudeDeg: 15.44, elevationM: 353, timeZone: 'Europe/Vienna' };
const south = { latitudeDeg: -23.3, longitudeDeg: 16.4, elevationM: 1800, timeZone: 'Africa/Windhoek' };
const north = { latitudeDeg: 65, longitudeDeg: 25, elevationM: 0, timeZone: 'Europe/Helsinki' };
const of = (site: typeof yard, raDeg: number, decDeg: number, more: object = {}) =>
  year({
    site,
    from: '2026-11-19',
    nights: 365,
    raDeg,
    decDeg,
    minimumAltitudeDeg: 30,
    darkness: 'astronomical',
    ...more,
  });

describe('a year of one object', () => {
  test.each([
    ['Andromeda from the yard', yard, 10.685, 41.269],
    ['Orion from the south', south, 83.82, -5.39],
    [
      'a low one behind a roof',
      {
        ...yard,
        horizon: [
          { azimuthDeg: 120, altitudeDeg: 20 },
          { azimuthDeg: 200, altitudeDeg: 34 },
          { azimuthDeg: 260, altitudeDeg: 10 },
        ],
      },
      97,
      5,
    ],
    ['near the pole, far north', north, 200, 80],
  ])('%s: agrees with the night worked out alone, within a minute', (_, site, raDeg, decDeg) => {
    const { nights } = of(site, raDeg, decDeg);
    expect(nights).toHaveLength(365);
    for (let n = 3; n < 365; n += 19) {
      const { date, hours, illumination } = nights[n]!;
      const alone = target({
        site,
        date,
        raDeg,
        decDeg,
        minimumAltitudeDeg: 30,
        darkness: 'astronomical',
        stepMin: 60,
      });
      expect(Math.abs(hours - alone.hours)).toBeLessThan(1 / 60);
      expect(illumination).toBeCloseTo(night({ site, date }).moon.illumination, 3);
    }
  });
  test('hours without the Moon are those of the night for what never sets', () => {
    const { nights } = of(yard, 37.95, 89.26);
    for (let n = 0; n < 365; n += 23)
      expect(
        Math.abs(nights[n]!.moonlessHours - night({ site: yard, date: nights[n]!.date }).moon.darkMoonlessHours),
      ).toBeLessThan(0.05);
  });
  test('never more without the Moon than with it; the best nights are the ones with most', () => {
    const got = of(yard, 10.685, 41.269);
    for (const n of got.nights) expect(n.moonlessHours).toBeLessThanOrEqual(n.hours + 1e-9);
    const soon = got.nights.slice(0, 60);
    const most = Math.max(...soon.map((n) => n.moonlessHours));
    expect(soon.find((n) => n.date === got.best[0])!.moonlessHours).toBe(most);
    expect(got.best).toHaveLength(5);
    // the new Moon of 9 December 2026 lies among them
    expect(got.best.every((d) => d > '2026-11-28' && d < '2027-01-16')).toBe(true);
  });
  test('what never rises is said to, and a summer without dark has no hours', () => {
    expect(of(yard, 83.8, -69).verdict.text).toContain('Never');
    const summer = of(north, 200, 80, { from: '2027-06-01', nights: 30 });
    expect(summer.nights.every((n) => n.hours === 0)).toBe(true);
  });
});
