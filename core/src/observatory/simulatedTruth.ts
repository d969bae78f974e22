import { scaleArcsecPerPx } from '../quantities/index.ts';
import { zone } from '../focus/index.ts';
import { filtersOf, trainFingerprint, type RigSetup } from '../rig/index.ts';
import { hash32, seeded } from '../statistics/index.ts';
import type { CoolerReach } from './cooler.ts';

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
  /** So far past the meridian the mount follows before it stops; left out: as far as the sky turns. */
  pastMeridianDeg?: number;
  /** How the roof stands at the beginning; left out: there is none, or it is opened and closed by hand. */
  roof?: 'open' | 'closed';
  /** Play of the focuser’s gears: driven up, the tube stands so many steps behind; left out: none. */
  backlashSteps?: number;
  /** A rotator: how far it turns to either side, and at which of its angles north is up, west of the pier. */
  rotator?: { reachDeg: number; northDeg: number; afterFlip: 'turn' | 'leave' };
  /** How far a tip-tilt plate moves the star. */
  tipTilt?: { reachArcsec: number };
  /** What everything runs on. */
  supply?: { switched: boolean; battery: { capacityWh: number; drawW: number } | null };
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

/** Critical focus zone of a rig in focuser steps, as the seeing allows it. */
export function zoneStepsOf(setup: RigSetup, seeingArcsec = 2.2): number {
  const z = zone({
    focalRatio: setup.focalLengthMm / setup.apertureMm,
    apertureMm: setup.apertureMm,
    stepUm: setup.focuserStepUm,
    seeingArcsec,
    wavelengthNm: 550,
    tolerancePercent: 10,
  });
  return z.seeingSteps ?? z.classicSteps!;
}

/**
 * The stand-ins' truth for a rig: every train state has its own hidden offsets, slope and focus, the same each night,
 * while weather and noise follow the seed.
 */
export function simulatedTruthOf(
  setup: RigSetup,
  seed: number,
  startMs: number,
  endMs: number,
  mildC = 9,
): SimulatedTruth {
  const state = seeded(hash32(trainFingerprint(setup)));
  const weather = seeded(seed).fork('weather');
  const zoneSteps = zoneStepsOf(setup);
  const filters = filtersOf(setup);
  const offsetSteps: Record<string, number> = {};
  filters.forEach((f, i) => {
    // parfocal within a third of a zone, or a few zones off, as real filter sets are
    const size =
      state.next() < 0.3 ? 0.12 * state.normal() : (state.next() < 0.5 ? -1 : 1) * (0.7 + 2.3 * state.next());
    offsetSteps[f] = i === 0 ? 0 : Math.round(size * zoneSteps * 10) / 10;
  });
  const scale = scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm);
  const turned = seeded(hash32(trainFingerprint(setup))).fork('rotator');
  const focalRatio = setup.focalLengthMm / setup.apertureMm;
  return {
    seed,
    startMs,
    endMs,
    filters: filters.length ? filters : ['none'],
    offsetSteps,
    focusAt: Math.round(6000 + 9000 * state.next()),
    referenceC: 10,
    stepsPerC: (state.next() < 0.5 ? -1 : 1) * zoneSteps * (0.35 + 0.4 * state.next()),
    startC: mildC + 4 * weather.normal(),
    fallC: 4 + 4 * weather.next(),
    // blur circle = defocus/N; half the light lies within about 0.7 of its diameter
    slopePxPerStep: (0.7 * setup.focuserStepUm) / focalRatio / setup.camera.pixelUm,
    bestHfdPx: Math.max(1.5, 2.4 / scale),
    scaleArcsecPerPx: scale,
    backlashSteps: Math.round(zoneSteps * (0.4 + 0.9 * turned.fork('play').next())),
    ...(setup.mount.pastMeridianDeg === undefined ? {} : { pastMeridianDeg: setup.mount.pastMeridianDeg }),
    ...(setup.rotator ? { rotator: { ...setup.rotator, northDeg: 360 * turned.next() - 180 } } : {}),
    ...(setup.train.some((p) => p.tilts) ? { tipTilt: { reachArcsec: PLATE_ARCSEC } } : {}),
    ...(setup.supply ? { supply: { switched: setup.supply.switched, battery: setup.supply.battery } } : {}),
  };
}
/** How far a tip-tilt plate moves the star; invented. */
const PLATE_ARCSEC = 18;
