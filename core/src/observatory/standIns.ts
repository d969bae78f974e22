import { seeded, type Random } from '../statistics/index.ts';
import type { Overheads } from '../sequence/index.ts';
import type { Observatory, PierSide } from './devices.ts';

/** The truth behind the stand-ins; the run must find it out. */
export interface SimulatedTruth {
  seed: number;
  startMs: number;
  endMs: number;
  filters: string[];
  /** Best focus of each filter against the first, in steps. */
  offsetSteps: Record<string, number>;
  /** Best focus of the first filter at `referenceC`. */
  focusAt: number;
  referenceC: number;
  stepsPerC: number;
  /** Temperature at the start and how far it falls; most of it early. */
  startC: number;
  fallC: number;
  /** Slope of the far arms of the V-curve, pixels per step, and the smallest diameter in good air. */
  slopePxPerStep: number;
  bestHfdPx: number;
  scaleArcsecPerPx: number;
  /** Where the mount stands, for the side of the pier from which an object is looked at. */
  longitudeDeg?: number;
  /** Cloud spells [ms]; drawn from the seed when left out. */
  cloud?: [number, number][];
}

/** Temperature of the tube [°C]: falls fast after dusk, then levels out (time constant a third of the night). */
export function temperatureAt(w: SimulatedTruth, ms: number): number {
  const tau = (w.endMs - w.startMs) / 3;
  return w.startC - w.fallC * (1 - Math.exp(-(ms - w.startMs) / tau));
}

/** One spell of cloud, 20 to 50 minutes, somewhere in the middle of the night. */
export function drawCloud(seed: number, startMs: number, endMs: number): [number, number][] {
  const random = seeded(seed).fork('cloud');
  const length = (20 + 30 * random.next()) * 60_000;
  const from = startMs + (0.25 + 0.45 * random.next()) * (endMs - startMs);
  return [[Math.round(from), Math.round(Math.min(endMs, from + length))]];
}

/** Seeing that wanders over minutes: a few slow waves with phases from the seed [arcsec FWHM]. */
function seeingWalk(random: Random): (ms: number) => number {
  const waves = [0, 1, 2, 3].map((k) => ({
    period: (17 + 31 * k) * 60_000 * (0.8 + 0.4 * random.next()),
    phase: 2 * Math.PI * random.next(),
    size: 0.16 + 0.06 * random.next(),
  }));
  return (ms) => 2.2 + waves.reduce((s, v) => s + v.size * Math.sin((2 * Math.PI * ms) / v.period + v.phase), 0);
}

/** Corrections a centring has time for, and how often a device does not answer at once; invented. */
const SOLVES = 3;
const SILENT = 0.04;
/** Share of frames during which somebody knocks against the tripod, invented. */
const KNOCKS = 0.004;

/** Wind that comes and goes, and air that grows damp as it cools; invented. */
function airWalk(random: Random, w: SimulatedTruth): (ms: number) => { windMS: number; humidity: number } {
  const [calm, gusty, first, damp] = [
    1 + 3 * random.next(),
    1 + 4 * random.next(),
    2 * Math.PI * random.next(),
    0.5 + 0.25 * random.next(),
  ];
  return (ms) => {
    const cooled = Math.max(0, w.startC - temperatureAt(w, ms));
    const gust = Math.sin(ms / 2_700_000 + first) * Math.sin(ms / 640_000);
    return { windMS: Math.max(0, calm + gusty * gust), humidity: Math.min(0.99, damp + 0.035 * cooled) };
  };
}

/** Drift of the stand-in mount without a guider [arcsec/s], invented, and the star it smears [arcsec]. */
const DRIFT = 0.03;
const STAR = 2.2;
const unguidedElongation = (seconds: number) => {
  const long = Math.hypot(STAR, DRIFT * seconds);
  return Math.hypot(0.28, Math.sqrt(1 - (STAR / long) ** 2));
};

/** Mean sidereal time to an arcminute [deg]. Source: IAU 1982 expression, leading terms, from memory. */
const siderealDeg = (ms: number, longitudeDeg: number) =>
  280.46061837 + 360.98564736629 * (ms / 86_400_000 + 2440587.5 - 2451545) + longitudeDeg;

/** Simulated equipment in virtual time: the same seed gives the same night. */
export function standIns(world: SimulatedTruth, overheads: Overheads): Observatory {
  const random = seeded(world.seed);
  const noise = random.fork('camera');
  const bump = random.fork('tracking');
  const seeing = seeingWalk(random.fork('seeing'));
  const air = airWalk(random.fork('air'), world);
  const knock = random.fork('knock');
  const pointing = random.fork('pointing');
  const cables = random.fork('cables');
  /** How far the telescope was knocked since it was last centred [arcmin]. */
  let offArcmin = 0;
  const cloud = world.cloud ?? drawCloud(world.seed, world.startMs, world.endMs);
  const first = world.filters[0]!;
  let now = world.startMs;
  let filter = first;
  let position = Math.round(world.focusAt);
  let guiding = false;
  let side: PierSide = 'west';
  /** An object east of the meridian is looked at with the tube on the west side. */
  const sideFor = (raDeg: number): PierSide =>
    Math.sin(((siderealDeg(now, world.longitudeDeg ?? 0) - raDeg) * Math.PI) / 180) < 0 ? 'west' : 'east';

  const clock = {
    now: () => now,
    sleep: (ms: number) => {
      now += ms;
      return Promise.resolve();
    },
  };
  const spend = (s: number) => clock.sleep(s * 1000);
  const cloudy = (ms: number) => cloud.some(([a, b]) => ms >= a && ms < b);
  const trueFocus = (ms: number) =>
    world.focusAt + (world.offsetSteps[filter] ?? 0) + world.stepsPerC * (temperatureAt(world, ms) - world.referenceC);
  const hfdAt = (ms: number, spread: number) => {
    const air = (seeing(ms) / 2.2) * world.bestHfdPx;
    return Math.hypot(air, world.slopePxPerStep * (position - trueFocus(ms))) * (1 + spread * noise.normal());
  };

  return {
    // a plug that sits badly: it answers when it is asked again
    connect: () => Promise.resolve(cables.next() > SILENT),
    clock,
    mount: {
      slewAndCentre: async (target, withinArcmin) => {
        offArcmin = 0;
        side = sideFor(target.raDeg);
        await spend(overheads.slewCentreS);
        // the first slew misses; each solving takes most of what is left away, as often as there is time for
        let left = 2 + 4 * Math.abs(pointing.normal());
        for (let k = 0; k < SOLVES && left > withinArcmin; k++) left *= 0.05 + 0.1 * pointing.next();
        return left;
      },
      slewToField: () => spend(overheads.slewCentreS),
      flip: () => {
        offArcmin = 0;
        side = side === 'east' ? 'west' : 'east';
        return spend(overheads.flipS);
      },
      pierSide: () => side,
      park: () => Promise.resolve(),
    },
    guider: {
      start: async () => {
        await spend(overheads.guideStartS);
        guiding = true;
      },
      stop: () => {
        guiding = false;
        return Promise.resolve();
      },
      dither: () => spend(overheads.ditherS),
    },
    wheel: {
      filters: world.filters,
      current: () => filter,
      select: async (name) => {
        if (!world.filters.includes(name)) throw new Error(`the wheel has no filter “${name}”`);
        if (name === filter) return;
        await spend(overheads.filterChangeS);
        filter = name;
      },
    },
    focuser: {
      position: () => position,
      temperatureC: () => Math.round(temperatureAt(world, now) * 10) / 10,
      moveTo: (p) => {
        position = Math.round(p);
        return Promise.resolve();
      },
    },
    camera: {
      expose: async (seconds) => {
        const from = now;
        await spend(seconds);
        const samples = 8;
        let covered = 0;
        for (let k = 0; k < samples; k++)
          if (cloudy(from + ((k + 0.5) / samples) * seconds * 1000)) covered += 1 / samples;
        const hfdPx = hfdAt(from + seconds * 500, 0.015);
        const jolted = bump.next() < 0.02;
        if (knock.next() < KNOCKS) offArcmin += 1.5 + 3 * knock.next();
        const spread = (world.bestHfdPx / hfdPx) ** 1.2;
        return {
          hfdPx,
          stars: Math.max(0, Math.round(420 * spread * (1 - 0.95 * covered) * (1 + 0.05 * noise.normal()))),
          eccentricity: Math.min(
            0.95,
            (guiding ? 0.28 : unguidedElongation(seconds)) + (jolted ? 0.35 : 0) + Math.abs(0.05 * noise.normal()),
          ),
          background: 1 + 1.4 * covered + 0.02 * noise.normal(),
          offArcmin,
        };
      },
      download: () => spend(overheads.downloadS),
      focusFrame: () => Promise.resolve({ hfdPx: hfdAt(now, 0.025), stars: cloudy(now) ? 3 : 180 }),
    },
    weather: {
      read: () => ({
        clear: !cloudy(now),
        temperatureC: Math.round(temperatureAt(world, now) * 10) / 10,
        seeingArcsec: seeing(now),
        ...air(now),
      }),
    },
  };
}
