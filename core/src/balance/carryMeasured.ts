import type { Origin, PlacedPart, RigSetup } from '../rig/index.ts';
import type { Moment } from './schemas.ts';

/** The part whose mass centre nobody knows: the tube, or else the heaviest. */
export const carrierOf = (setup: RigSetup): PlacedPart | null =>
  setup.placed.find((p) => p.kind === 'tube') ??
  setup.placed.reduce<PlacedPart | null>((most, p) => (!most || p.massKg > most.massKg ? p : most), null);

/**
 * A rig whose moments are those a spring scale measured: the difference to what the parts add up to is put on the tube's
 * mass centre, the number that is known least. Components that were not measured stay as they are.
 * @param computed  moments of the parts as listed, weights and shaft included [kg·mm]
 * @returns null where there is no part with a mass to carry it
 */
export function carryMeasured(
  setup: RigSetup,
  measured: { x?: number | undefined; y?: number | undefined; z?: number | undefined },
  computed: Moment,
  from: Origin,
): RigSetup | null {
  const next = structuredClone(setup);
  const part = carrierOf(next);
  if (!part || !(part.massKg > 0)) return null;
  const shift = (m: number | undefined, c: number) => (m === undefined ? 0 : (m - c) / part.massKg);
  part.xMm += shift(measured.x, computed.x);
  part.yMm += shift(measured.y, computed.y);
  part.zMm += shift(measured.z, computed.z);
  part.placeFrom = from;
  delete part.ruler;
  return next;
}
