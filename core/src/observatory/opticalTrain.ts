import type { Overheads } from '../sequence/index.ts';
import type { Random } from '../statistics/index.ts';
import { DeviceFault, type Camera, type Clock, type FilterWheel, type Focuser } from './devices.ts';
import type { SimulatedTruth } from './simulatedTruth.ts';

/** Width of a star on the stand-in’s camera [arcsec], and its elongation by optics alone; invented. */
const STAR_ARCSEC = 2.2;
const OPTICS = 0.25;
/** Stars of a clear frame in focus; invented. */
export const STAND_IN_STARS = 420;

/** What a camera exposes through, and itself: under a sky, on a mount that holds it more or less. */
export function opticalTrain(
  world: SimulatedTruth,
  overheads: Overheads,
  clock: Clock & { interrupt: (why: Error) => void },
  sky: { seeing: (ms: number) => number; cloudy: (ms: number) => boolean; temperatureC: (ms: number) => number },
  on: {
    shutter: (ms: number) => (untilMs: number, starArcsec: number) => number;
    offArcmin: () => number;
    /** Somebody may have knocked against it. */
    shaken: () => void;
    random: { noise: Random; bump: Random };
  },
): { wheel: FilterWheel; focuser: Focuser; camera: Camera } {
  const { noise, bump } = on.random;
  const { seeing, cloudy } = sky;
  const now = () => clock.now();
  const spend = (s: number) => clock.sleep(s * 1000);
  let filter = world.filters[0]!;
  let position = Math.round(world.focusAt);
  /** Where the tube stands, which follows what turns it only once the play is taken up. */
  let stands = position;
  const play = world.backlashSteps ?? 0;
  const trueFocus = (ms: number) =>
    world.focusAt + (world.offsetSteps[filter] ?? 0) + world.stepsPerC * (sky.temperatureC(ms) - world.referenceC);
  const hfdAt = (ms: number, spread: number) => {
    const still = (seeing(ms) / 2.2) * world.bestHfdPx;
    return Math.hypot(still, world.slopePxPerStep * (stands - trueFocus(ms))) * (1 + spread * noise.normal());
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
    temperatureC: () => Math.round(sky.temperatureC(now()) * 10) / 10,
    moveTo: async (p) => {
      position = Math.round(p);
      stands = Math.min(position, Math.max(stands, position - play));
    },
  };
  const camera: Camera = {
    expose: async (seconds) => {
      const from = now();
      const shut = on.shutter(from);
      let smeared: number;
      try {
        await spend(seconds);
      } finally {
        smeared = shut(now(), STAR_ARCSEC);
        // what is moved by hand, or shaken, is so whether or not the frame is kept
        on.shaken();
      }
      const samples = 8;
      let covered = 0;
      for (let k = 0; k < samples; k++)
        if (cloudy(from + ((k + 0.5) / samples) * seconds * 1000)) covered += 1 / samples;
      const hfdPx = hfdAt(from + seconds * 500, 0.015);
      const jolted = bump.next() < 0.02;
      const spread = (world.bestHfdPx / hfdPx) ** 1.2;
      const long = Math.hypot(OPTICS, smeared);
      return {
        hfdPx,
        stars: Math.max(0, Math.round(STAND_IN_STARS * spread * (1 - 0.95 * covered) * (1 + 0.05 * noise.normal()))),
        eccentricity: Math.min(0.95, long + (jolted ? 0.35 : 0) + Math.abs(0.05 * noise.normal())),
        background: 1 + 1.4 * covered + 0.02 * noise.normal(),
        offArcmin: on.offArcmin(),
      };
    },
    download: () => spend(overheads.downloadS),
    focusFrame: async () => ({ hfdPx: hfdAt(now(), 0.025), stars: cloudy(now()) ? 3 : 180 }),
    abort: () => clock.interrupt(new DeviceFault('camera', 'it was stopped')),
  };
  return { wheel, focuser, camera };
}
