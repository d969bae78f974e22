import { seeded, type Random } from '../statistics/index.ts';
import type { Overheads } from '../sequence/index.ts';
import type { Camera, Guider, Mount, Observatory, PierSide, Roof, Rotator, TipTilt, Weather } from './devices.ts';
import { DeviceFault } from './devices.ts';
import { GuideLoop, type GuideAir } from './guideLoop.ts';
import { equatorialOf, parkedAxes, sideOf } from './mountAxes.ts';
import { Cooler } from './cooler.ts';
import { opticalTrain } from './opticalTrain.ts';
import { drawCloud, temperatureAt, type SimulatedTruth } from './simulatedTruth.ts';
import { StandInMount } from './standInMount.ts';
import { StandInRotator, turningS } from './standInRotator.ts';
import { StandInSupply } from './standInSupply.ts';
import { VirtualClock, type Pace } from './virtualClock.ts';

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

/**
 * Simulated equipment in virtual time: the same seed gives the same night.
 * @param second  a second camera on the same mount, under the same sky
 */
export function standIns(
  world: SimulatedTruth,
  overheads: Overheads,
  pace?: Pace,
  second: { world: SimulatedTruth; overheads: Overheads } | null = null,
): StandIns {
  const random = seeded(world.seed);
  const [noise, bump] = [random.fork('camera'), random.fork('tracking')];
  const seeing = seeingWalk(random.fork('seeing'));
  const air = airWalk(random.fork('air'), world);
  const knock = random.fork('knock');
  const pointing = random.fork('pointing');
  const cables = random.fork('cables');
  /** How far the telescope was knocked since it was last centred [arcmin]. */
  let offArcmin = 0;
  const cloud = world.cloud ?? drawCloud(world.seed, world.startMs, world.endMs);
  let guiding = false;
  let disturbed = (_ms: number): GuideAir => ({ gust: false, lost: false, hot: false, deaf: false });

  const clock = new VirtualClock(world.startMs, pace);
  const now = () => clock.now();
  const tube = new StandInMount(clock, world);
  const cooler = world.cooler && new Cooler(clock, () => temperatureAt(world, now()), world.cooler);
  const plate = world.tipTilt ?? null;
  const loop = new GuideLoop(
    world.startMs,
    mountTruth(random.fork('mount')),
    random.fork('guiding'),
    (ms) => disturbed(ms),
    plate,
  );
  const spend = (s: number) => clock.sleep(s * 1000);
  const cloudy = (ms: number) => cloud.some(([a, b]) => ms >= a && ms < b);
  /** Whatever moves the tube lets the guide star go. */
  const letGo = () => {
    guiding = false;
    loop.hold(false, now());
    offArcmin = 0;
  };
  const stopped = () => clock.interrupt(new DeviceFault('mount', 'it was stopped'));
  /** Where there is a rotator, what a pointing takes is said for both. */
  const own = (s: number) => s - (world.rotator ? turningS(s) : 0);
  const turnsBack = world.rotator?.afterFlip === 'turn';
  let turnS = 0;
  const turner =
    world.rotator &&
    new StandInRotator(clock, world.rotator, {
      side: () => tube.pierSide(),
      random: random.fork('rotator'),
      seconds: () => turnS,
    });

  const mount: StandIns['mount'] = {
    slewAndCentre: async ({ raDeg, decDeg }, withinArcmin) => {
      letGo();
      turnS = turningS(overheads.slewCentreS);
      await tube.towards(raDeg, decDeg, own(overheads.slewCentreS), tube.sideFor(raDeg));
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
      turnS = turningS(overheads.flipS);
      return tube.towards(raDeg, decDeg, turnsBack ? own(overheads.flipS) : overheads.flipS, to);
    },
    pierSide: tube.pierSide,
    park: () => tube.go(parkedAxes(tube.latitudeDeg), PARK_S, null),
    abort: stopped,
    state: () => tube.state(),
  };
  const rotator: Rotator | undefined = turner && {
    turnTo: (want) => turner.turnTo(want),
    angleDeg: () => turner.angleDeg(),
    abort: () => clock.interrupt(new DeviceFault('rotator', 'it was stopped')),
  };
  const power = world.supply && new StandInSupply(now, world.supply);
  const tipTilt: TipTilt | undefined = plate
    ? { tilt: () => loop.tilt(now()), centre: async () => loop.centrePlate(now()) }
    : undefined;
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
  const sky = { seeing, cloudy, temperatureC: (ms: number) => temperatureAt(world, ms) };
  const pointed = { shutter: (ms: number) => loop.shutter(ms), offArcmin: () => offArcmin };
  const train = opticalTrain(world, overheads, clock, sky, {
    ...pointed,
    shaken: () => {
      if (knock.next() < KNOCKS) offArcmin += 1.5 + 3 * knock.next();
    },
    random: { noise, bump },
  });
  const { wheel, focuser } = train;
  const camera: Camera = {
    ...train.camera,
    ...(cooler
      ? {
          cool: async (toC) => cooler.to(toC),
          state: () => ({ sensorC: cooler.temperatureC(), coolerPercent: cooler.percent() }),
        }
      : {}),
  };
  let roofIs: ReturnType<Roof['state']> = world.roof ?? 'open';
  const roofGoes = async (to: 'open' | 'closed') => {
    if (roofIs === to) return;
    roofIs = 'moves';
    await spend(ROOF_S);
    roofIs = to;
  };
  const roof: Roof = { state: () => roofIs, open: () => roofGoes('open'), close: () => roofGoes('closed') };
  const weather: Weather = {
    read: () => ({
      clear: !cloudy(now()),
      temperatureC: Math.round(temperatureAt(world, now()) * 10) / 10,
      seeingArcsec: seeing(now()),
      ...air(now()),
    }),
  };
  // a plug that sits badly: it answers when it is asked again
  const connect = async () => (power?.state().on ?? true) && cables.next() > SILENT;
  const disturb = (by: typeof disturbed) => void (disturbed = by);
  const beside = second && {
    ...opticalTrain(second.world, second.overheads, clock.beside, sky, {
      ...pointed,
      shaken: () => undefined,
      random: { noise: random.fork('second camera'), bump: random.fork('second tracking') },
    }),
    interrupt: clock.beside.interrupt,
  };
  return {
    connect,
    clock,
    mount,
    guider,
    wheel,
    focuser,
    camera,
    weather,
    disturb,
    ...(beside ? { beside } : {}),
    ...(rotator ? { rotator } : {}),
    ...(tipTilt ? { tipTilt } : {}),
    ...(power ? { power } : {}),
    ...(world.roof ? { roof, interlock: { isSafe: () => roofIs === 'open' } } : {}),
  };
}
/** A roof takes so long [s]; invented. */
const ROOF_S = 55;
/** Parking takes so long [s]; invented. */
const PARK_S = 40;
