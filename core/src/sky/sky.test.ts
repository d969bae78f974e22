import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pole } from './pole.ts';
import { describe, expect, test } from '@jest/globals';
import { findObjects, scanNight, type Catalogue } from './catalogue.ts';
import { night, nightFrame } from './night.ts';
import { hiddenShare, Horizon, horizonAt } from './site.ts';
import { target } from './target.ts';
import { eveningDate, zoneOffsetMs } from './zone.ts';

const catalogue = JSON.parse(
  readFileSync(join(import.meta.dirname, '../../../data/deep-sky.json'), 'utf8'),
) as Catalogue;
const yard = {
  latitudeDeg: 47.07,
  longitudeDeg: 15.44,
  elevationM: 353,
  timeZone: 'Europe/Vienna',
  horizon: [
    { azimuthDeg: 0, altitudeDeg: 18 },
    { azimuthDeg: 180, altitudeDeg: 14 },
    { azimuthDeg: 270, altitudeDeg: 35 },
  ],
};

describe('a night', () => {
  test('its events stand in order, and the dark hours are the span between the astronomical twilights', () => {
    const n = night({ site: yard, date: '2026-11-24' });
    const order = [
      n.sunset,
      n.civilDusk,
      n.nauticalDusk,
      n.astronomicalDusk,
      n.middle,
      n.astronomicalDawn,
      n.nauticalDawn,
      n.civilDawn,
      n.sunrise,
    ];
    expect([...order].sort()).toEqual(order);
    expect(n.darkHours).toBeCloseTo((Date.parse(n.astronomicalDawn!) - Date.parse(n.astronomicalDusk!)) / 3_600_000, 6);
  });
  test('new and full Moon of published almanacs: 9 Nov 2026 new, 24 Nov 2026 full (from memory)', () => {
    expect(night({ site: yard, date: '2026-11-09' }).moon.illumination).toBeLessThan(0.01);
    expect(night({ site: yard, date: '2026-11-24' }).moon.illumination).toBeGreaterThan(0.99);
  });
  test('in a northern summer at 60° it never gets dark', () => {
    const n = night({ site: { ...yard, latitudeDeg: 60 }, date: '2026-06-21' });
    expect(n.astronomicalDusk).toBeNull();
    expect(n.darkHours).toBe(0);
    expect(n.verdict.level).toBe('bad');
  });
  test('the night of a date begins at noon, on clock-change nights too', () => {
    expect(eveningDate('Europe/Vienna', Date.parse('2026-11-25T01:00:00Z'))).toBe('2026-11-24');
    expect(eveningDate('Europe/Vienna', Date.parse('2026-11-24T12:00:00Z'))).toBe('2026-11-24');
    expect(zoneOffsetMs('Europe/Vienna', Date.parse('2026-10-25T00:30:00Z'))).toBe(7_200_000);
    expect(zoneOffsetMs('Europe/Vienna', Date.parse('2026-10-25T01:30:00Z'))).toBe(3_600_000);
  });
});

describe('horizon', () => {
  test('is linear between points and around the circle', () => {
    expect(horizonAt(yard.horizon, 90)).toBeCloseTo(16, 9);
    expect(horizonAt(yard.horizon, 315)).toBeCloseTo(26.5, 9);
    expect(horizonAt([], 12)).toBe(0);
    // half of the directions free, half behind a wall of 60°: between sin 30° and sin 60° of a half sphere from sin 30° on
    const wall = [0, 179.999, 180, 359.999].map((azimuthDeg, i) => ({ azimuthDeg, altitudeDeg: i < 2 ? 60 : 0 }));
    expect(hiddenShare(wall, 30)).toBeCloseTo(0.5 * ((Math.sin(Math.PI / 3) - 0.5) / 0.5), 2);
    expect(hiddenShare(undefined, 30)).toBe(0);
    expect(horizonAt([{ azimuthDeg: 40, altitudeDeg: 9 }], 200)).toBe(9);
  });
  test('a wall all round leaves no window', () => {
    const walled = { ...yard, horizon: [{ azimuthDeg: 0, altitudeDeg: 89 }] };
    const t = target({
      site: walled,
      date: '2026-11-24',
      raDeg: 10,
      decDeg: 41,
      minimumAltitudeDeg: 30,
      darkness: 'astronomical',
      stepMin: 30,
    });
    expect(t.windows).toEqual([]);
    expect(t.flip).toBeNull();
  });
});

describe('the catalogue', () => {
  test('finds by designation, alias and name, however it is typed', () => {
    expect(findObjects(catalogue, 'ngc891')[0]!.id).toBe('NGC 891');
    expect(findObjects(catalogue, 'NGC 0891')[0]!.id).toBe('NGC 891');
    expect(findObjects(catalogue, 'm33')[0]!.id).toBe('M 33');
    expect(findObjects(catalogue, 'no such thing')).toEqual([]);
  });
  test('published places: M 31 at 10.68°, +41.27° and NGC 253 at 11.89°, −25.29° (NASA/IPAC, from memory)', () => {
    for (const [name, ra, dec] of [
      ['M 31', 10.68, 41.27],
      ['NGC 253', 11.89, -25.29],
    ] as const) {
      const o = findObjects(catalogue, name)[0]!;
      expect(Math.abs(o.raDeg - ra)).toBeLessThan(0.05);
      expect(Math.abs(o.decDeg - dec)).toBeLessThan(0.05);
    }
  });
  test('the fast scan of the whole sky agrees with the careful calculation of single objects', () => {
    const date = '2026-11-24';
    const scan = scanNight(catalogue, {
      site: yard,
      date,
      minimumAltitudeDeg: 30,
      darkness: 'astronomical',
      stepMin: 5,
    });
    const frame = nightFrame(yard, date);
    for (let i = 0; i < catalogue.id.length; i += 487) {
      const t = target(
        {
          site: yard,
          date,
          raDeg: catalogue.raDeg[i]!,
          decDeg: catalogue.decDeg[i]!,
          minimumAltitudeDeg: 30,
          darkness: 'astronomical',
          stepMin: 60,
        },
        frame,
      );
      expect(Math.abs(scan.minutes[i]! - t.hours * 60)).toBeLessThan(13);
    }
  });
});

describe('the pole star', () => {
  // Source: J. Meeus, Astronomical Algorithms, 2nd ed. (1998), ch. 21, example with α Ursae Minoris: mean places of 2050.0
  // and 2100.0, proper motion included (from memory). Nutation and aberration add up to about half an arcminute.
  test.each([
    ['2050-01-01T00:00:00Z', 3 + 48 / 60 + 16.43 / 3600, 89 + 27 / 60 + 15.38 / 3600],
    ['2100-01-01T00:00:00Z', 5 + 53 / 60 + 29.17 / 3600, 89 + 32 / 60 + 22.18 / 3600],
  ])('at %s stands where precession puts it', (time, raHours, decDeg) => {
    const site = { latitudeDeg: 50, longitudeDeg: 0, elevationM: 0, timeZone: 'UTC', horizon: [] };
    const got = pole({ site, time });
    expect(Math.abs(got.starDistanceArcmin - 60 * (90 - decDeg))).toBeLessThan(0.6);
    // mean sidereal time at Greenwich, Meeus (12.4); near the pole half an arcminute is a degree of right ascension
    const jd = Date.parse(time) / 86_400_000 + 2_440_587.5;
    const gmst = 280.46061837 + 360.98564736629 * (jd - 2_451_545);
    const off = ((got.starHourAngleDeg - (gmst - 15 * raHours) + 540) % 360) - 180;
    expect(Math.abs(((off + 540) % 360) - 180)).toBeLessThan(1.6);
  });
});

test('a horizon measured from any side on, also across north, is the same horizon', () => {
  const points = [10, 80, 170, 250, 355].map((azimuthDeg, i) => ({ azimuthDeg, altitudeDeg: 5 + 7 * i }));
  const sorted = Horizon.parse(points);
  for (let turn = 1; turn < points.length; turn++) {
    const other = Horizon.parse([...points.slice(turn), ...points.slice(0, turn)]);
    for (let az = 0; az < 360; az += 7) expect(horizonAt(other, az)).toBe(horizonAt(sorted, az));
  }
  expect(Horizon.parse([...points].reverse())).toEqual(sorted);
  // across north: between 355° and 10°
  expect(horizonAt(sorted, 2.5)).toBeCloseTo((33 + 5) / 2, 9);
});
