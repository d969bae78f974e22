import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { night, nightFrame } from './night.ts';
import { pole } from './pole.ts';
import { horizonAt } from './site.ts';
import { target } from './target.ts';
import { rounds } from '../test/rounds.ts';

const DAY_MS = 86_400_000;
const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** Anywhere that people observe from and beyond, with a zone that more or less fits. */
const site = fc
  .record({
    latitudeDeg: between(-89, 89),
    zone: fc.constantFrom(
      ['UTC', 0],
      ['Europe/Vienna', 15],
      ['America/New_York', -74],
      ['Pacific/Auckland', 174],
      ['Asia/Kolkata', 77],
      ['Pacific/Kiritimati', -157],
      ['America/Santiago', -70],
    ) as fc.Arbitrary<[string, number]>,
    offset: between(-7, 7),
    ridge: between(0, 40),
  })
  .map(({ latitudeDeg, zone: [timeZone, east], offset, ridge }) => ({
    latitudeDeg,
    longitudeDeg: ((east + offset + 540) % 360) - 180,
    elevationM: 200,
    timeZone,
    horizon: [
      { azimuthDeg: 90, altitudeDeg: 5 },
      { azimuthDeg: 180, altitudeDeg: ridge },
    ],
  }));
const date = fc
  .integer({ min: 0, max: 3650 })
  .map((d) => new Date(Date.UTC(2024, 0, 1) + d * DAY_MS).toISOString().slice(0, 10));
const ms = (t: string | null) => (t === null ? null : Date.parse(t));

describe('a night, anywhere and any day', () => {
  test('its twilights nest about the middle, and its figures are within what can be', () => {
    fc.assert(
      fc.property(site, date, (s, d) => {
        const n = night({ site: s, date: d });
        const middle = Date.parse(n.middle);
        const evening = [n.sunset, n.civilDusk, n.nauticalDusk, n.astronomicalDusk].map(ms);
        const morning = [n.sunrise, n.civilDawn, n.nauticalDawn, n.astronomicalDawn].map(ms);
        // deeper twilight is nearer the middle; where the Sun does not reach it, nor does it reach what is deeper
        for (const [side, sign] of [
          [evening, -1],
          [morning, 1],
        ] as const) {
          const known = side.filter((t): t is number => t !== null);
          for (const t of known) {
            expect(sign * (t - middle)).toBeGreaterThanOrEqual(-1000);
            expect(Math.abs(t - middle)).toBeLessThan(DAY_MS / 2 + 1_800_000);
          }
          for (let i = 1; i < known.length; i++) expect(sign * (known[i - 1]! - known[i]!)).toBeGreaterThanOrEqual(0);
        }
        expect(n.darkHours).toBeGreaterThanOrEqual(0);
        expect(n.darkHours).toBeLessThanOrEqual(24.1);
        const { illumination, phaseAngleDeg, darkMoonlessHours } = n.moon;
        expect(illumination).toBeCloseTo((1 + Math.cos((phaseAngleDeg * Math.PI) / 180)) / 2, 6);
        expect(darkMoonlessHours).toBeLessThanOrEqual(n.darkHours + 1e-6);
      }),
      { seed: 81, numRuns: rounds(40, 120) },
    );
  });
  test('half a year later the long night is a short one, on either hemisphere', () => {
    for (const latitudeDeg of [48, -48]) {
      const s = { latitudeDeg, longitudeDeg: 15, elevationM: 0, timeZone: 'UTC', horizon: [] };
      const [december, june] = [night({ site: s, date: '2026-12-21' }), night({ site: s, date: '2027-06-21' })];
      expect(Math.sign(december.darkHours - june.darkHours)).toBe(Math.sign(latitudeDeg));
    }
  });
});

describe('an object, anywhere and any night', () => {
  test('stands free in its windows and nowhere else, and is highest at its transit', () => {
    fc.assert(
      fc.property(site, date, between(0, 360), between(-89, 89), between(0, 50), (s, d, raDeg, decDeg, limit) => {
        const input = {
          site: s,
          date: d,
          raDeg,
          decDeg,
          minimumAltitudeDeg: limit,
          darkness: 'nautical' as const,
          stepMin: 10,
        };
        const t = target(input, nightFrame(s, d));
        let sum = 0;
        for (const w of t.windows) {
          expect(Date.parse(w.end)).toBeGreaterThan(Date.parse(w.start));
          sum += (Date.parse(w.end) - Date.parse(w.start)) / 3_600_000;
        }
        expect(t.hours).toBeCloseTo(sum, 6);
        const n = night({ site: s, date: d });
        const inside = (at: number, slackMs: number) =>
          t.windows.some((w) => at > Date.parse(w.start) - slackMs && at < Date.parse(w.end) + slackMs);
        for (const p of t.track) {
          const at = Date.parse(p.time);
          expect(p.altitudeDeg).toBeLessThanOrEqual(t.transitAltitudeDeg + 0.05);
          const free = p.altitudeDeg - Math.max(limit, horizonAt(s.horizon, p.azimuthDeg));
          // a step well inside a window stands above both; one well outside does not, while it is dark
          if (inside(at, -60_000)) expect(free).toBeGreaterThan(-0.05);
          const dark =
            n.nauticalDusk &&
            n.nauticalDawn &&
            at > Date.parse(n.nauticalDusk) + 60_000 &&
            at < Date.parse(n.nauticalDawn) - 60_000;
          if (dark && !inside(at, 60_000)) expect(free).toBeLessThan(0.05);
        }
        if (t.flip) expect(inside(Date.parse(t.flip), 0)).toBe(true);
      }),
      { seed: 82, numRuns: rounds(15, 40) },
    );
  });
});

describe('the pole star, anywhere and any moment', () => {
  const minutesOf = (clock: string) => {
    const [h, m] = clock.split(':').map(Number);
    return ((h! % 12) * 60 + m!) % 720;
  };
  const moment = fc.integer({ min: 0, max: 3650 * 1440 }).map((min) => Date.UTC(2024, 0, 1) + min * 60_000);
  test('its dial is its hour angle, six hours apart by eye and inverted, and runs with the sky', () => {
    fc.assert(
      fc.property(site, moment, (s, at) => {
        const of = (t: number) => pole({ site: s, time: new Date(t).toISOString() });
        const [now, later] = [of(at), of(at + 3_600_000)];
        expect((minutesOf(now.clockInverted) - minutesOf(now.clock) + 720) % 720).toBe(360);
        const turn = s.latitudeDeg >= 0 ? 360 - now.starHourAngleDeg : now.starHourAngleDeg;
        const off = Math.abs(minutesOf(now.clock) - turn * 2) % 720;
        expect(Math.min(off, 720 - off)).toBeLessThanOrEqual(0.51);
        // an hour of clock time is 15.04° of sky
        expect((later.starHourAngleDeg - now.starHourAngleDeg + 360) % 360).toBeCloseTo(15.041, 2);
        expect(now.starDistanceArcmin).toBeGreaterThan(s.latitudeDeg >= 0 ? 30 : 60);
        expect(now.starDistanceArcmin).toBeLessThan(s.latitudeDeg >= 0 ? 42 : 75);
      }),
      { seed: 83, numRuns: rounds(50, 150) },
    );
  });
  test('standard time knows no summer hour, and the offset from the zone meridian is less than half a turn', () => {
    fc.assert(
      fc.property(site, moment, (s, at) => {
        const got = pole({ site: s, time: new Date(at).toISOString() });
        const utc = Date.parse(`${got.standardTime}Z`) - (got.zoneMeridianDeg / 15) * 3_600_000;
        expect(Math.abs(utc - at)).toBeLessThan(1000);
        expect(Math.abs(got.longitudeOffsetDeg)).toBeLessThanOrEqual(180);
      }),
      { seed: 84, numRuns: rounds(20, 60) },
    );
  });
});
