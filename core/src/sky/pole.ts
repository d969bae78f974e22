import { z } from 'zod';
import { define, explained, instant } from '../calculation/index.ts';
import { angleDeg, SkyWindow } from './ephemeris.ts';
import { Site } from './site.ts';
import { zoneOffsetMs } from './zone.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** Pole stars, ICRS at J2000, proper motion in mas a year (right ascension times cos δ). Hipparcos, from memory. */
const STARS = {
  north: { name: 'Polaris', raDeg: 37.954561, decDeg: 89.264109, pmRa: 44.5, pmDec: -11.9 },
  south: { name: 'σ Octantis', raDeg: 317.19522, decDeg: -88.956498, pmRa: 26.6, pmDec: 5.0 },
} as const;
const J2000_MS = Date.UTC(2000, 0, 1, 12);
const YEAR_MS = 365.25 * 86_400_000;
const MAS_PER_DEG = 3_600_000;
const HOUR_MS = 3_600_000;

export const PoleInput = z.strictObject({ site: Site, time: instant('Moment') });
export type PoleInput = z.infer<typeof PoleInput>;
export const PoleOutput = z.strictObject({
  star: z.string(),
  starHourAngleDeg: z.number(),
  starDistanceArcmin: z.number(),
  clock: z.string(),
  clockInverted: z.string(),
  zoneMeridianDeg: z.number(),
  longitudeOffsetDeg: z.number(),
  standardTime: z.string(),
  ...explained,
});
export type PoleOutput = z.input<typeof PoleOutput>;

/** A turn, clockwise from 12, as hours and minutes of a dial. */
const dial = (turnDeg: number): string => {
  const minutes = Math.round((((turnDeg % 360) + 360) % 360) * 2) % 720;
  return `${Math.floor(minutes / 60) || 12}:${String(minutes % 60).padStart(2, '0')}`;
};

/** Where the pole star stands about the pole, as a person or a polar scope sees it, and what a date ring wants. */
export function pole({ site, time }: PoleInput): PoleOutput {
  const ms = Date.parse(time);
  const north = site.latitudeDeg >= 0;
  const s = north ? STARS.north : STARS.south;
  const years = (ms - J2000_MS) / YEAR_MS;
  const decDeg = s.decDeg + (s.pmDec * years) / MAS_PER_DEG;
  const raDeg = s.raDeg + (s.pmRa * years) / MAS_PER_DEG / Math.cos((s.decDeg * Math.PI) / 180);
  const sky = new SkyWindow(site, ms, 0);
  const star = sky.apparent(raDeg, decDeg);
  const raOfDate = (Math.atan2(star[1], star[0]) * 180) / Math.PI;
  const hourAngle = (((sky.siderealDeg(ms) - raOfDate) % 360) + 360) % 360;
  const distance = angleDeg(star, [0, 0, north ? 1 : -1]) * 60;
  const year = new Date(ms).getUTCFullYear();
  const offset = Math.min(
    zoneOffsetMs(site.timeZone, Date.UTC(year, 0, 1)),
    zoneOffsetMs(site.timeZone, Date.UTC(year, 6, 1)),
  );
  const zoneMeridianDeg = (15 * offset) / HOUR_MS;
  const raw = (((site.longitudeDeg - zoneMeridianDeg) % 360) + 360) % 360;
  const longitudeOffsetDeg = raw > 180 ? raw - 360 : raw;
  // the sky turns anticlockwise about the north pole, clockwise about the south pole
  const turn = north ? -hourAngle : hourAngle;
  const clock = dial(turn);
  const clockInverted = dial(turn + 180);
  const standardTime = new Date(ms + offset).toISOString().slice(0, 19);
  return {
    star: s.name,
    starHourAngleDeg: hourAngle,
    starDistanceArcmin: distance,
    clock,
    clockInverted,
    zoneMeridianDeg,
    longitudeOffsetDeg,
    standardTime,
    working: [
      {
        label: 'Hour angle',
        formula: 'local sidereal time − right ascension of date',
        value: hourAngle,
        unit: '°',
        source: 'Hipparcos place (from memory), astronomy-engine precession',
      },
      { label: 'From the pole', formula: 'apparent place to the true pole of date', value: distance, unit: '′' },
      {
        label: 'Site from its zone meridian',
        formula: 'longitude − 15·standard offset',
        value: longitudeOffsetDeg,
        unit: '°',
      },
      { label: 'Standard time', formula: 'local time without the summer hour', value: standardTime, unit: '' },
    ],
    verdict: makeVerdict('good', phrase('sky.pole', { star: s.name, clock, clockInverted, offArcmin: distance })),
  };
}

export const skyPole = define({
  name: 'sky.pole',
  summary: 'Place of the pole star about the pole, and what a polar scope’s date ring wants',
  sources: ['Hipparcos catalogue (places from memory)', 'astronomy-engine 2.1 (precession, nutation, sidereal time)'],
  input: PoleInput,
  output: PoleOutput,
  compute: pole,
});
