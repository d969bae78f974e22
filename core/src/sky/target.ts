import { z } from 'zod';
import { day, define, explained, within, type SpokenVerdict } from '../calculation/index.ts';
import { angleDeg, SIDEREAL_RATE, spellsAbove, unit, type SkyWindow, type Vec } from './ephemeris.ts';
import { darkSpell, Darkness, nightFrame, sunCrossings, SUN_ALTITUDE, type NightFrame } from './night.ts';
import { horizonAt, Site } from './site.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

const MIN_MS = 60_000;
const DAY_MS = 86_400_000;

export const TargetInput = z.strictObject({
  site: Site,
  date: day('Local date of the evening'),
  raDeg: within('deg', 0, 360, 'Right ascension, J2000'),
  decDeg: within('deg', -90, 90, 'Declination, J2000'),
  minimumAltitudeDeg: within('deg', -90, 90, 'Lowest altitude worked at').default(30),
  darkness: Darkness.default('astronomical'),
  stepMin: z
    .number()
    .positive()
    .min(0.05, 'steps below 0.05 min are finer than the ephemeris')
    .meta({ unit: 'min', description: 'Step of the track' })
    .default(5),
});
export type TargetInput = z.infer<typeof TargetInput>;

const Window = z.strictObject({ start: z.string(), end: z.string() });

export const TargetOutput = z.strictObject({
  transit: z.string(),
  transitAltitudeDeg: z.number(),
  windows: z.array(Window),
  /** The same with the Sun down, however bright the sky. */
  up: z.array(Window),
  hours: z.number(),
  moonSeparationDeg: z.number(),
  flip: z.string().nullable(),
  track: z.array(
    z.strictObject({
      time: z.string(),
      altitudeDeg: z.number(),
      azimuthDeg: z.number(),
      airmass: z.number().nullable(),
      moonAltitudeDeg: z.number(),
      moonSeparationDeg: z.number(),
    }),
  ),
  ...explained,
});
export type TargetOutput = z.input<typeof TargetOutput>;

/** Relative airmass; null below the horizon. Source: Kasten & Young 1989, Applied Optics 28, 4735. */
export const airmass = (altitudeDeg: number): number | null =>
  altitudeDeg < 0 ? null : 1 / (Math.sin((altitudeDeg * Math.PI) / 180) + 0.50572 * (altitudeDeg + 6.07995) ** -1.6364);

const iso = (ms: number) => new Date(Math.round(ms)).toISOString();

/** Upper transit nearest to an instant [ms]. */
function transitNear(sky: SkyWindow, star: Vec, ms: number): number {
  const raDeg = (Math.atan2(star[1], star[0]) * 180) / Math.PI;
  const hourAngle = ((((sky.siderealDeg(ms) - raDeg + 180) % 360) + 360) % 360) - 180;
  return ms - (hourAngle / 360 / SIDEREAL_RATE) * DAY_MS;
}

/** One object through one night: when it can be worked, how high, and how far from the Moon. */
export function target(input: TargetInput, frame: NightFrame = nightFrame(input.site, input.date)): TargetOutput {
  const { sky, middle } = frame;
  const star = sky.apparent(input.raDeg, input.decDeg);
  const transit = transitNear(sky, star, middle);
  const transitAltitudeDeg = sky.altAz(star, transit).altitudeDeg;
  const dark = darkSpell(frame, SUN_ALTITUDE[input.darkness]);
  const { horizon } = input.site;
  const clearance = (ms: number) => {
    const p = sky.altAz(star, ms);
    return p.altitudeDeg - Math.max(input.minimumAltitudeDeg, horizonAt(horizon, p.azimuthDeg));
  };
  const night = darkSpell(frame, SUN_ALTITUDE.sunset);
  const up = night ? spellsAbove(clearance, night[0], night[1], 3 * MIN_MS) : [];
  const windows = dark
    ? up.map(([a, b]): [number, number] => [Math.max(a, dark[0]), Math.min(b, dark[1])]).filter(([a, b]) => b > a)
    : [];
  const hours = windows.reduce((s, [a, b]) => s + (b - a), 0) / 3_600_000;
  const flip = windows.some(([a, b]) => transit > a && transit < b) ? transit : null;

  const separation = (ms: number) => angleDeg(star, unit(sky.moonVector(ms)));
  const sun = sunCrossings(frame, SUN_ALTITUDE.sunset);
  const whole = sun.down === null || sun.up === null;
  const first = whole ? frame.from : sun.down!;
  const last = whole ? frame.to : sun.up!;
  const stepMs = input.stepMin * MIN_MS;
  const zero = Math.floor(first / DAY_MS) * DAY_MS;
  const track: TargetOutput['track'] = [];
  for (let k = Math.ceil((first - zero) / stepMs - 1e-9); zero + k * stepMs <= last; k++) {
    const ms = zero + k * stepMs;
    const p = sky.altAz(star, ms);
    track.push({
      time: iso(ms),
      altitudeDeg: p.altitudeDeg,
      azimuthDeg: p.azimuthDeg,
      airmass: airmass(p.altitudeDeg),
      moonAltitudeDeg: sky.moonAltitudeDeg(ms),
      moonSeparationDeg: separation(ms),
    });
  }
  const moonSeparationDeg = separation(middle);
  return {
    transit: iso(transit),
    transitAltitudeDeg,
    windows: windows.map(([a, b]) => ({ start: iso(a), end: iso(b) })),
    up: up.map(([a, b]) => ({ start: iso(a), end: iso(b) })),
    hours,
    moonSeparationDeg,
    flip: flip === null ? null : iso(flip),
    track,
    working: [
      { label: 'Transit', formula: 'local sidereal time = right ascension of date', value: iso(transit), unit: 'UTC' },
      { label: 'Altitude at transit', formula: 'airless', value: transitAltitudeDeg, unit: '°' },
      {
        label: 'Workable',
        formula: `Sun below ${SUN_ALTITUDE[input.darkness]}°, altitude ≥ ${input.minimumAltitudeDeg}° and above the horizon line`,
        value: hours,
        unit: 'h',
        source: 'astronomy-engine ephemeris',
      },
      { label: 'Moon’s distance at the middle', formula: 'topocentric', value: moonSeparationDeg, unit: '°' },
    ],
    verdict: verdictOf(input, hours, transitAltitudeDeg, dark !== null),
  };
}

function verdictOf(input: TargetInput, hours: number, top: number, dark: boolean): SpokenVerdict {
  if (!dark) return makeVerdict('bad', phrase(`sky.no-${input.darkness}-darkness`));
  const limitDeg = input.minimumAltitudeDeg;
  if (hours === 0)
    return makeVerdict(
      'bad',
      top < limitDeg ? phrase('sky.too-low', { limitDeg, topDeg: top }) : phrase('sky.behind-horizon', { limitDeg }),
    );
  return makeVerdict(hours < 2 ? 'caution' : 'good', phrase('sky.workable', { workableHours: hours, topDeg: top }));
}

export const skyTarget = define({
  name: 'sky.target',
  summary: 'When and how well one object can be worked in one night',
  sources: ['astronomy-engine 2.1', 'Kasten & Young 1989, Applied Optics 28, 4735 (airmass)'],
  input: TargetInput,
  output: TargetOutput,
  compute: (input) => target(input),
});
