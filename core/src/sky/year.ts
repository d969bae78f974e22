import { z } from 'zod';
import { day, define, explained, within, type SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { crossing, SkyWindow } from './ephemeris.ts';
import { Darkness, moonPhaseAngleDeg, SUN_ALTITUDE } from './night.ts';
import { horizonAt, Site } from './site.ts';
import { addDays, endOfLocalDay } from './zone.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Nights that share one set of tables; the frame of date moves by 2″ within it, less than a second of time. */
const NIGHTS_A_WINDOW = 10;
/** Step at which a night is looked at [ms]; crossings between are found by straight lines, to a few seconds. */
const STEP_MS = 10 * 60_000;
/** Nights looked through for the next good ones. */
const NEXT_NIGHTS = 60;
/** Best nights that are named. */
const BEST = 5;

export const YearInput = z.strictObject({
  site: Site,
  from: day('Local date of the first evening'),
  nights: z.int().min(1).max(400).default(365),
  raDeg: within('deg', 0, 360, 'Right ascension, J2000'),
  decDeg: within('deg', -90, 90, 'Declination, J2000'),
  minimumAltitudeDeg: within('deg', -90, 90, 'Lowest altitude worked at').default(30),
  darkness: Darkness.default('astronomical'),
});
export type YearInput = z.infer<typeof YearInput>;

const YearNight = z.strictObject({
  date: z.string(),
  hours: z.number(),
  moonlessHours: z.number(),
  illumination: z.number(),
});
export type YearNight = z.infer<typeof YearNight>;
export const YearOutput = z.strictObject({
  nights: z.array(YearNight),
  /** Of the next sixty nights those with most hours without the Moon, best first. */
  best: z.array(z.string()),
  ...explained,
});
export type YearOutput = z.input<typeof YearOutput>;

/** The Sun’s lower transit nearest to an instant [ms]: hour angle 180°, found in two steps. */
function lowerTransit(sky: SkyWindow, ms: number): number {
  let at = ms;
  for (let k = 0; k < 2; k++) {
    const sun = sky.sunVector(at);
    const ra = (Math.atan2(sun[1], sun[0]) * 180) / Math.PI;
    const past = ((((sky.siderealDeg(at) - ra) % 360) + 360) % 360) - 180;
    at -= (past / 360) * DAY_MS;
  }
  return at;
}

/** The dark part of the night around its middle [ms]; null when the Sun stays too high. */
function darkPart(sky: SkyWindow, middle: number, altitudeDeg: number): [number, number] | null {
  const f = (ms: number) => sky.sunAltitudeDeg(ms) - altitudeDeg;
  if (f(middle) >= 0) return null;
  const [before, after] = [middle - DAY_MS / 2, middle + DAY_MS / 2];
  return [f(before) > 0 ? crossing(f, before, middle) : before, f(after) > 0 ? crossing(f, middle, after) : after];
}

/** Share of a step in which a quantity is above zero, from its ends. */
const shareAbove = (a: number, b: number) => (a >= 0 ? (b >= 0 ? 1 : a / (a - b)) : b >= 0 ? b / (b - a) : 0);

/**
 * Hours in which one object can be worked, night by night: Sun down, object above its limit and the horizon; and those of
 * them in which the Moon is down. Against `sky.target` hours agree within a minute, unless the horizon has walls narrower than
 * a step of ten minutes.
 */
export function year(input: YearInput): YearOutput {
  const { site } = input;
  const nights: YearNight[] = [];
  let sky: SkyWindow | null = null;
  let star: ReturnType<SkyWindow['apparent']> = [0, 0, 0];
  for (let n = 0; n < input.nights; n++) {
    const date = addDays(input.from, n);
    if (n % NIGHTS_A_WINDOW === 0) {
      const first = endOfLocalDay(site.timeZone, date);
      sky = new SkyWindow(site, first + ((NIGHTS_A_WINDOW - 1) / 2) * DAY_MS, (NIGHTS_A_WINDOW / 2 + 1) * DAY_MS);
      star = sky.apparent(input.raDeg, input.decDeg);
    }
    nights.push({ date, ...oneNight(sky!, star, lowerTransit(sky!, endOfLocalDay(site.timeZone, date)), input) });
  }
  const best = nights
    .slice(0, NEXT_NIGHTS)
    .filter((x) => x.moonlessHours > 0)
    .sort((a, b) => b.moonlessHours - a.moonlessHours || (a.date < b.date ? -1 : 1))
    .slice(0, BEST)
    .map((x) => x.date);
  const total = (of: (x: YearNight) => number) => nights.reduce((s, x) => s + of(x), 0);
  return {
    nights,
    best,
    working: [
      {
        label: 'Workable in all',
        formula: `Sun below ${SUN_ALTITUDE[input.darkness]}°, altitude ≥ ${input.minimumAltitudeDeg}° and above the horizon line, in steps of 10 min`,
        value: total((x) => x.hours),
        unit: 'h',
        source: 'astronomy-engine ephemeris',
      },
      {
        label: 'Of them without the Moon',
        formula: 'its upper limb down, 34′ of refraction',
        value: total((x) => x.moonlessHours),
        unit: 'h',
      },
    ],
    verdict: verdictOf(nights, best),
  };
}

function oneNight(sky: SkyWindow, star: ReturnType<SkyWindow['apparent']>, middle: number, input: YearInput) {
  const illumination = (1 + Math.cos((moonPhaseAngleDeg(sky, middle) * Math.PI) / 180)) / 2;
  const dark = darkPart(sky, middle, SUN_ALTITUDE[input.darkness]);
  if (!dark) return { hours: 0, moonlessHours: 0, illumination };
  const free = (ms: number) => {
    const p = sky.altAz(star, ms);
    return p.altitudeDeg - Math.max(input.minimumAltitudeDeg, horizonAt(input.site.horizon, p.azimuthDeg));
  };
  const steps = Math.max(1, Math.ceil((dark[1] - dark[0]) / STEP_MS));
  const stepMs = (dark[1] - dark[0]) / steps;
  let [hours, moonlessHours] = [0, 0];
  let [a, moonA] = [free(dark[0]), -sky.moonUpDeg(dark[0])];
  for (let k = 1; k <= steps; k++) {
    const at = dark[0] + k * stepMs;
    const [b, moonB] = [free(at), -sky.moonUpDeg(at)];
    const share = shareAbove(a, b);
    hours += (share * stepMs) / HOUR_MS;
    // both at once: exact where only one of them changes within the step
    moonlessHours += (Math.min(share, shareAbove(moonA, moonB)) * stepMs) / HOUR_MS;
    [a, moonA] = [b, moonB];
  }
  return { hours, moonlessHours, illumination };
}

function verdictOf(nights: readonly YearNight[], best: readonly string[]): SpokenVerdict {
  const able = nights.filter((x) => x.hours >= 1).length;
  if (able === 0) return makeVerdict('bad', phrase('sky.year-never'));
  const top = nights.find((x) => x.date === best[0]);
  const most = phrase('sky.year', { able, total: nights.length });
  return top
    ? makeVerdict('good', most, phrase('sky.year-next', { date: top.date, moonlessHours: top.moonlessHours }))
    : makeVerdict('caution', most, phrase('sky.year-later', { within: NEXT_NIGHTS }));
}

export const skyYear = define({
  name: 'sky.year',
  summary: 'Hours of one object night by night through a year, with and without the Moon, and the next good nights',
  sources: ['astronomy-engine 2.1', 'Twilight altitudes: textbook astronomy'],
  input: YearInput,
  output: YearOutput,
  compute: year,
});
