import { seeded, type Random } from '../statistics/index.ts';
import type { Overheads } from '../sequence/index.ts';
import type { Camera, FilterWheel, Focuser, Guider, Mount, Observatory, PierSide, Weather } from './devices.ts';
import { DeviceFault } from './devices.ts';
import { GuideLoop, type GuideAir } from './guideLoop.ts';
import { equatorialOf, parkedAxes, sideOf } from './mountAxes.ts';
import { Cooler, type CoolerReach } from './cooler.ts';
import { StandInMount } from './standInMount.ts';
import { VirtualClock, type Pace } from './virtualClock.ts';

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
  latitudeDeg?: number;
  /** What the camera’s cooler can do; left out: it has none. */
  cooler?: CoolerReach;
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

/** Width of a star on the stand-in’s camera [arcsec], and its elongation by optics alone; invented. */
const STAR_ARCSEC = 2.2;
const OPTICS = 0.25;
/** What the mount of a practice rig does by itself; invented. */
const mountTruth = (random: Random) => ({
  wormS: 400 + 160 * random.next(),
  wormArcsec: 2 + 1.5 * random.next(),
  driftArcsecPerMin: (random.next() < 0.5 ? -1 : 1) * (0.3 + 1.2 * random.next()),
});
/** Simulated equipment on a clock of its own: the same seed gives the same night, however often one looks. */
export interface StandIns extends Observatory {
  clock: VirtualClock;
  mount: Mount & { pierSide: () => PierSide };
}

/** Simulated equipment in virtual time: the same seed gives the same night. */
export function standIns(world: SimulatedTruth, overheads: Overheads, pace?: Pace): StandIns {
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
  let filter = first;
  let position = Math.round(world.focusAt);
  let guiding = false;
  let disturbed = (_ms: number): GuideAir => ({ gust: false, lost: false, hot: false });

  const clock = new VirtualClock(world.startMs, pace);
  const now = () => clock.now();
  const tube = new StandInMount(clock, world);
  const cooler = world.cooler && new Cooler(clock, () => temperatureAt(world, now()), world.cooler);
  const loop = new GuideLoop(world.startMs, mountTruth(random.fork('mount')), random.fork('guiding'), (ms) =>
    disturbed(ms),
  );
  const spend = (s: number) => clock.sleep(s * 1000);
  const cloudy = (ms: number) => cloud.some(([a, b]) => ms >= a && ms < b);
  const trueFocus = (ms: number) =>
    world.focusAt + (world.offsetSteps[filter] ?? 0) + world.stepsPerC * (temperatureAt(world, ms) - world.referenceC);
  const hfdAt = (ms: number, spread: number) => {
    const still = (seeing(ms) / 2.2) * world.bestHfdPx;
    return Math.hypot(still, world.slopePxPerStep * (position - trueFocus(ms))) * (1 + spread * noise.normal());
  };
  /** Whatever moves the tube lets the guide star go. */
  const letGo = () => {
    guiding = false;
    loop.hold(false, now());
    offArcmin = 0;
  };
  const stopped = () => clock.interrupt(new DeviceFault('mount', 'it was stopped'));

  const mount: StandIns['mount'] = {
    slewAndCentre: async ({ raDeg, decDeg }, withinArcmin) => {
      letGo();
      await tube.towards(raDeg, decDeg, overheads.slewCentreS, tube.sideFor(raDeg));
      // the first slew misses; each solving takes most of what is left away, as often as there is time for
      let left = 2 + 4 * Math.abs(pointing.normal());
      for (let k = 0; k < SOLVES && left > withinArcmin; k++) left *= 0.05 + 0.1 * pointing.next();
      return left;
    },
    slewToField: ({ altitudeDeg, azimuthDeg }) => {
      const { haDeg, decDeg } = equatorialOf(altitudeDeg, azimuthDeg, tube.latitudeDeg);
      const raDeg = tube.haDeg(haDeg);
      letGo();
      return tube.towards(raDeg, decDeg, overheads.slewCentreS, sideOf(haDeg));
    },
    flip: ({ raDeg, decDeg }, to) => {
      letGo();
      return tube.towards(raDeg, decDeg, overheads.flipS, to);
    },
    pierSide: tube.pierSide,
    park: () => tube.go(parkedAxes(tube.latitudeDeg), PARK_S, null),
    abort: stopped,
    state: () => tube.state(),
  };
  const guider: Guider = {
    start: async () => {
      await spend(overheads.guideStartS);
      guiding = true;
      loop.hold(true, now());
    },
    stop: async () => {
      guiding = false;
      loop.hold(false, now());
    },
    dither: async () => {
      await spend(overheads.ditherS);
      loop.hold(guiding, now());
    },
    state: () => {
      if (!guiding) return { is: 'off' as const, rms: null };
      return { is: disturbed(now()).lost ? ('lost' as const) : ('guiding' as const), rms: loop.rms(now()) };
    },
  };
  const wheel: FilterWheel = {
    filters: world.filters,
    current: () => filter,
    select: async (name) => {
      if (!world.filters.includes(name)) throw new Error(`the wheel has no filter “${name}”`);
      if (name === filter) return;
      await spend(overheads.filterChangeS);
      filter = name;
    },
  };
  const focuser: Focuser = {
    position: () => position,
    temperatureC: () => Math.round(temperatureAt(world, now()) * 10) / 10,
    moveTo: async (p) => void (position = Math.round(p)),
  };
  const camera: Camera = {
    expose: async (seconds) => {
      const from = now();
      loop.open(from);
      try {
        await spend(seconds);
      } finally {
        // what is moved by hand, or shaken, is so whether or not the frame is kept
        if (knock.next() < KNOCKS) offArcmin += 1.5 + 3 * knock.next();
      }
      const samples = 8;
      let covered = 0;
      for (let k = 0; k < samples; k++)
        if (cloudy(from + ((k + 0.5) / samples) * seconds * 1000)) covered += 1 / samples;
      const hfdPx = hfdAt(from + seconds * 500, 0.015);
      const jolted = bump.next() < 0.02;
      const spread = (world.bestHfdPx / hfdPx) ** 1.2;
      const long = Math.hypot(OPTICS, loop.smeared(now(), STAR_ARCSEC));
      return {
        hfdPx,
        stars: Math.max(0, Math.round(420 * spread * (1 - 0.95 * covered) * (1 + 0.05 * noise.normal()))),
        eccentricity: Math.min(0.95, long + (jolted ? 0.35 : 0) + Math.abs(0.05 * noise.normal())),
        background: 1 + 1.4 * covered + 0.02 * noise.normal(),
        offArcmin,
      };
    },
    download: () => spend(overheads.downloadS),
    focusFrame: async () => ({ hfdPx: hfdAt(now(), 0.025), stars: cloudy(now()) ? 3 : 180 }),
    abort: () => clock.interrupt(new DeviceFault('camera', 'it was stopped')),
    ...(cooler
      ? {
          cool: async (toC) => cooler.to(toC),
          state: () => ({ sensorC: cooler.temperatureC(), coolerPercent: cooler.percent() }),
        }
      : {}),
  };
  const weather: Weather = {
    read: () => ({
      clear: !cloudy(now()),
      temperatureC: Math.round(temperatureAt(world, now()) * 10) / 10,
      seeingArcsec: seeing(now()),
      ...air(now()),
    }),
  };
  // a plug that sits badly: it answers when it is asked again
  const connect = async () => cables.next() > SILENT;
  const disturb = (by: typeof disturbed) => void (disturbed = by);
  return { connect, clock, mount, guider, wheel, focuser, camera, weather, disturb };
}
/** Parking takes so long [s]; invented. */
const PARK_S = 40;
