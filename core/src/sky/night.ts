import * as Astronomy from 'astronomy-engine';
import { z } from 'zod';
import { day, define, explained, type SpokenVerdict } from '../calculation/index.ts';
import { angleDeg, crossing, SkyWindow, spellsAbove, unit, type Vec } from './ephemeris.ts';
import { Site } from './site.ts';
import { addDays, endOfLocalDay, eveningDate } from './zone.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

const HOUR_MS = 3_600_000;

/** Altitudes of the Sun's centre that divide the night [deg]; −0.833° is 34′ of refraction and 16′ of radius. */
export const SUN_ALTITUDE = { sunset: -0.833, civil: -6, nautical: -12, astronomical: -18 } as const;
export const Darkness = z.enum(['civil', 'nautical', 'astronomical']);
export type Darkness = z.infer<typeof Darkness>;

/** One night at one site: its bounds, and the sky in it. Times in ms. */
export interface NightFrame {
  middle: number;
  from: number;
  to: number;
  sky: SkyWindow;
}

/** The night of a date: from upper to upper transit of the Sun around the lower transit nearest to 24:00 local time. */
export function nightFrame(site: Site, date: string): NightFrame {
  const observer = new Astronomy.Observer(site.latitudeDeg, site.longitudeDeg, 0);
  const at = (hourAngle: number, start: number, dir: 1 | -1) =>
    Astronomy.SearchHourAngle(Astronomy.Body.Sun, observer, hourAngle, new Date(start), dir).time.date.getTime();
  const local24 = endOfLocalDay(site.timeZone, date);
  const after = at(12, local24, 1);
  const before = at(12, local24, -1);
  const middle = after - local24 <= local24 - before ? after : before;
  return { middle, from: at(0, middle, -1), to: at(0, middle, 1), sky: new SkyWindow(site, middle) };
}

/** When the Sun sinks through an altitude and when it rises through it again; null where it does not. */
export function sunCrossings(night: NightFrame, altitudeDeg: number): { down: number | null; up: number | null } {
  const f = (ms: number) => night.sky.sunAltitudeDeg(ms) - altitudeDeg;
  const low = f(night.middle) < 0;
  return {
    down: low && f(night.from) > 0 ? crossing(f, night.from, night.middle) : null,
    up: low && f(night.to) > 0 ? crossing(f, night.middle, night.to) : null,
  };
}

/** The spell of the night with the Sun below an altitude; null when there is none, the whole night when always. */
export function darkSpell(night: NightFrame, altitudeDeg: number): [number, number] | null {
  if (night.sky.sunAltitudeDeg(night.middle) >= altitudeDeg) return null;
  const { down, up } = sunCrossings(night, altitudeDeg);
  return [down ?? night.from, up ?? night.to];
}

const orNull = z.string().nullable();
const spell = z.strictObject({ start: z.string(), end: z.string() }).nullable();

/**
 * The evening whose night is still to be worked: that of `eveningDate`, or the next one once the Sun has risen on it.
 * @param nowMs  UTC [ms]
 * @returns local date, YYYY-MM-DD
 */
export function comingEvening(site: Site, nowMs: number): string {
  const evening = eveningDate(site.timeZone, nowMs);
  const { up } = sunCrossings(nightFrame(site, evening), SUN_ALTITUDE.sunset);
  return up !== null && up < nowMs ? addDays(evening, 1) : evening;
}

export const NightInput = z.strictObject({ site: Site, date: day('Local date of the evening') });
export type NightInput = z.infer<typeof NightInput>;

export const NightOutput = z.strictObject({
  middle: z.string(),
  sunset: orNull,
  civilDusk: orNull,
  nauticalDusk: orNull,
  astronomicalDusk: orNull,
  astronomicalDawn: orNull,
  nauticalDawn: orNull,
  civilDawn: orNull,
  sunrise: orNull,
  darkHours: z.number(),
  /** The spell of the night below each twilight; null where the Sun does not sink so low. */
  dark: z.strictObject({ sunset: spell, civil: spell, nautical: spell, astronomical: spell }),
  moon: z.strictObject({
    illumination: z.number(),
    phaseAngleDeg: z.number(),
    rise: orNull,
    set: orNull,
    darkMoonlessHours: z.number(),
    up: z.array(z.strictObject({ start: z.string(), end: z.string() })),
  }),
  ...explained,
});
export type NightOutput = z.input<typeof NightOutput>;

const iso = (ms: number | null) => (ms === null ? null : new Date(Math.round(ms)).toISOString());

const overlap = (a: [number, number], b: [number, number]) => Math.max(0, Math.min(a[1], b[1]) - Math.max(a[0], b[0]));

/** Sun–Moon–Earth angle, geocentric [deg]; 0 = full. */
export function moonPhaseAngleDeg(sky: SkyWindow, ms: number): number {
  const m = sky.moonGeocentric(ms);
  const s = sky.sunGeocentric(ms);
  const toSun: Vec = [s[0] - m[0], s[1] - m[1], s[2] - m[2]];
  const toEarth: Vec = [-m[0], -m[1], -m[2]];
  return angleDeg(unit(toSun), unit(toEarth));
}

const spellOf = (frame: NightFrame, which: keyof typeof SUN_ALTITUDE) => {
  const below = darkSpell(frame, SUN_ALTITUDE[which]);
  return below && { start: iso(below[0])!, end: iso(below[1])! };
};

/** Twilights, darkness and the Moon of one night. */
export function night(input: NightInput): NightOutput {
  const frame = nightFrame(input.site, input.date);
  const { sky, from, to, middle } = frame;
  const set = sunCrossings(frame, SUN_ALTITUDE.sunset);
  const civil = sunCrossings(frame, SUN_ALTITUDE.civil);
  const nautical = sunCrossings(frame, SUN_ALTITUDE.nautical);
  const astronomical = sunCrossings(frame, SUN_ALTITUDE.astronomical);
  const dark = darkSpell(frame, SUN_ALTITUDE.astronomical);
  const darkHours = dark ? (dark[1] - dark[0]) / HOUR_MS : 0;
  const up = spellsAbove((ms) => sky.moonUpDeg(ms), from, to, 10 * 60_000);
  const rise = up.find(([a]) => a > from)?.[0] ?? null;
  const moonset = up.find(([, b]) => b < to)?.[1] ?? null;
  const moonlit = dark ? up.reduce((s, spell) => s + overlap(spell, dark), 0) / HOUR_MS : 0;
  const phaseAngleDeg = moonPhaseAngleDeg(sky, middle);
  const illumination = (1 + Math.cos((phaseAngleDeg * Math.PI) / 180)) / 2;
  const darkMoonlessHours = Math.max(0, darkHours - moonlit);
  return {
    middle: iso(middle)!,
    sunset: iso(set.down),
    civilDusk: iso(civil.down),
    nauticalDusk: iso(nautical.down),
    astronomicalDusk: iso(astronomical.down),
    astronomicalDawn: iso(astronomical.up),
    nauticalDawn: iso(nautical.up),
    civilDawn: iso(civil.up),
    sunrise: iso(set.up),
    darkHours,
    dark: {
      sunset: spellOf(frame, 'sunset'),
      civil: spellOf(frame, 'civil'),
      nautical: spellOf(frame, 'nautical'),
      astronomical: spellOf(frame, 'astronomical'),
    },
    moon: {
      illumination,
      phaseAngleDeg,
      rise: iso(rise),
      set: iso(moonset),
      darkMoonlessHours,
      up: up.map(([a, b]) => ({ start: iso(a)!, end: iso(b)! })),
    },
    working: [
      {
        label: 'Middle of the night',
        formula: 'Sun’s lower transit nearest to 24:00 local time',
        value: iso(middle),
        unit: 'UTC',
        source: 'astronomy-engine ephemeris',
      },
      { label: 'Dark', formula: 'Sun below −18°', value: darkHours, unit: 'h' },
      {
        label: 'Dark without Moon',
        formula: 'Sun below −18° and the Moon’s upper limb down',
        value: darkMoonlessHours,
        unit: 'h',
      },
      { label: 'Moon lit', formula: '(1 + cos phase angle)/2', value: 100 * illumination, unit: '%' },
    ],
    verdict: verdictOf(darkHours, darkMoonlessHours, illumination),
  };
}

function verdictOf(dark: number, moonless: number, lit: number): SpokenVerdict {
  if (dark === 0) return makeVerdict('bad', phrase('sky.no-astronomical-darkness'));
  const code = moonless >= dark - 0.05 ? 'sky.dark' : moonless < 0.05 ? 'sky.dark-moon-up' : 'sky.dark-partly';
  return makeVerdict(
    moonless < 1 ? 'caution' : 'good',
    phrase(code, { darkHours: dark, moonlessHours: moonless, litPercent: 100 * lit }),
  );
}

export const skyNight = define({
  name: 'sky.night',
  summary: 'Twilights, dark hours and the Moon of one night at one site',
  sources: ['astronomy-engine 2.1 (VSOP87, ELP truncated; ±1′)', 'Twilight altitudes: textbook astronomy'],
  input: NightInput,
  output: NightOutput,
  compute: night,
});
