import { expect, test } from '@jest/globals';
import { addDays, year, type YearNight } from '../sky/index.ts';
import { finishing, inHundred, OPEN_SHARE } from './finishing.ts';

const night = (i: number, hours: number, moonlessHours = hours): YearNight => ({
  date: addDays('2026-11-01', i),
  hours,
  moonlessHours,
  illumination: 0.5,
});
const nights = (n: number, of: (i: number) => number, dark: (i: number) => number = of) =>
  Array.from({ length: n }, (_, i) => night(i, of(i), dark(i)));

test('counts the nights of the season that is on, and no longer than that', () => {
  const got = finishing({
    nights: nights(100, (i) => (i < 30 ? 5 : 0)),
    needMinutes: 600,
    narrow: true,
    clearFraction: 1,
  });
  expect(got).toMatchObject({
    season: { first: '2026-11-01', last: '2026-11-30', now: true },
    chance: 1,
    // 240 min of open shutter a night
    p10: '2026-11-03',
    p50: '2026-11-03',
    p90: '2026-11-03',
    mostMinutes: 30 * 300 * OPEN_SHARE,
  });
  const short = finishing({
    nights: nights(100, (i) => (i < 2 ? 5 : 0)),
    needMinutes: 600,
    narrow: true,
    clearFraction: 1,
  });
  expect([short.chance, short.p50]).toEqual([0, null]);
});
test('of an object that is not up yet it is the next one; of one that never is, none', () => {
  const later = finishing({
    nights: nights(200, (i) => (i >= 60 ? 4 : 0.5)),
    needMinutes: 100,
    narrow: true,
    clearFraction: 0.5,
  });
  expect(later.season).toEqual({ first: addDays('2026-11-01', 60), last: addDays('2026-11-01', 199), now: false });
  expect(
    finishing({ nights: nights(300, () => 0.3), needMinutes: 100, narrow: true, clearFraction: 0.5 }),
  ).toMatchObject({
    season: null,
    chance: 0,
  });
});
test('a few short nights do not end it; a longer gap does', () => {
  const gap = (n: number) =>
    finishing({
      nights: nights(60, (i) => (i >= 20 && i < 20 + n ? 0.2 : 4)),
      needMinutes: 1,
      narrow: true,
      clearFraction: 0.5,
    }).season!.last;
  expect([gap(8), gap(15)]).toEqual([addDays('2026-11-01', 59), addDays('2026-11-01', 19)]);
});
test('the Moon takes hours from broad filters alone', () => {
  const moon = nights(
    28,
    () => 6,
    (i) => (i < 14 ? 0 : 6),
  );
  const [narrow, broad] = [true, false].map((n) =>
    finishing({ nights: moon, needMinutes: 280, narrow: n, clearFraction: 1 }),
  );
  expect([narrow!.p50, broad!.p50]).toEqual(['2026-11-01', '2026-11-15']);
});
test('chances are the binomial ones of like nights, and agree with the sky’s own year', () => {
  const one = finishing({ nights: nights(3, () => 5), needMinutes: 480, narrow: true, clearFraction: 0.5 });
  // two of three nights clear
  expect(one.chance).toBeCloseTo(0.5, 12);
  const site = {
    name: 'ridge',
    latitudeDeg: 47,
    longitudeDeg: 8,
    elevationM: 0,
    timeZone: 'Europe/Zurich',
    horizon: [],
  };
  const sky = year({
    site,
    from: '2026-11-01',
    nights: 365,
    raDeg: 83.8,
    decDeg: -5.4,
    minimumAltitudeDeg: 25,
    darkness: 'astronomical',
  });
  const orion = finishing({ nights: sky.nights, needMinutes: 1200, narrow: true, clearFraction: 0.4 });
  expect(orion.season!.first < '2026-11-15').toBe(true);
  expect(orion.season!.last > '2027-02-15' && orion.season!.last < '2027-04-20').toBe(true);
  expect(orion.p10! < orion.p50! && orion.p50! < orion.p90!).toBe(true);
});

test.each([
  [0, 0],
  [0.0004, 1],
  [0.484, 48],
  [0.9999, 99],
  [1, 100],
])('a chance of %p is %p in a hundred', (chance, said) => expect(inHundred(chance)).toBe(said));
