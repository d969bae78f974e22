import { SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';
import {
  axesOf,
  beforeLimitDeg,
  equatorialOf,
  horizontalOf,
  onTheWay,
  parkedAxes,
  pointingOf,
  sideOf,
  turnedWith,
  type Pointing,
} from '../observatory/index.ts';
import { separationDeg } from '../sky/index.ts';
import type { Ask } from './events.ts';
import type { RunState } from './state.ts';
import { watchOf } from './work.ts';

/** What forbids a motion: the place is below the horizon, or too near the Sun while that is up. */
export type Hazard = { code: 'ground'; altitudeDeg: number } | { code: 'sun'; apartDeg: number; wantedDeg: number };
/** Below this a tube looks at the ground [deg]. */
const GROUND_DEG = -1;
/** By night the Sun harms nothing: below this it is down, whatever bends its light [deg]. */
const SUN_DOWN_DEG = -1.5;
/** Places looked at on the way. */
const PLACES = 40;

/** What forbids to look there at a moment. */
function hazardAt(s: Pick<RunState, 'plan' | 'startMs'>, p: Pointing, ms: number): Hazard | null {
  const watcher = watchOf(s);
  if (!watcher || !s.plan.site) return null;
  const there = horizontalOf(p.haDeg, p.decDeg, s.plan.site.latitudeDeg);
  const { altitudeDeg } = there;
  if (altitudeDeg < GROUND_DEG) return { code: 'ground', altitudeDeg };
  const sun = watcher.sun(ms);
  if (sun.altitudeDeg < SUN_DOWN_DEG) return null;
  const apartDeg = separationDeg(
    { raDeg: there.azimuthDeg, decDeg: there.altitudeDeg },
    { raDeg: sun.azimuthDeg, decDeg: sun.altitudeDeg },
  );
  const wantedDeg = s.plan.watches.sunDistanceDeg;
  return apartDeg < wantedDeg ? { code: 'sun', apartDeg, wantedDeg } : null;
}
/** Where the tube is now, as it was read last; null where the mount does not tell. */
function tubeNow({ readings: { tube }, nowMs }: RunState): Pointing | null {
  return tube && turnedWith(tube, { follows: tube.follows, sinceMs: nowMs - tube.atMs });
}
/** How long the mount goes on following by its own limit, as it was read last [ms]; infinite where none is known. */
export function untilLimitMs(s: RunState): number {
  const { pastMeridianDeg } = s.plan;
  const tube = s.readings.tube?.follows && pastMeridianDeg !== undefined ? tubeNow(s) : null;
  return tube ? (beforeLimitDeg(tube, pastMeridianDeg!) * 3_600_000) / SIDEREAL_ARCSEC_PER_S : Infinity;
}
/** What forbids that the tube is where it is. */
export function hazardNow(s: RunState): Hazard | null {
  const tube = tubeNow(s);
  return tube && hazardAt(s, tube, s.nowMs);
}
/** A tube that is being brought out of where it must not be: no reason to stop it, as long as it comes out. */
export const isLeaving = (now: Hazard, before: RunState['readings']['tube'], s: RunState): boolean => {
  const was = before && hazardAt(s, before, s.nowMs);
  return was?.code === now.code && depthOf(now) <= depthOf(was) + 0.02;
};
/** Where a motion ends; null for one that goes nowhere. */
function goalOf(s: RunState, ask: Ask): Pointing | null {
  const { site } = s.plan;
  if (!site) return null;
  const pointing = (haDeg: number, decDeg: number): Pointing => ({
    haDeg,
    decDeg,
    side: sideOf(haDeg),
  });
  switch (ask.do) {
    case 'centre':
      return pointing(watchOf(s)!.hourAngleDeg(ask.raDeg, s.nowMs), ask.decDeg);
    case 'field': {
      const { haDeg, decDeg } = equatorialOf(ask.altitudeDeg, ask.azimuthDeg, site.latitudeDeg);
      return pointing(haDeg, decDeg);
    }
    case 'park':
      return pointingOf(parkedAxes(site.latitudeDeg));
    case 'flip':
      return { ...pointing(watchOf(s)!.hourAngleDeg(ask.raDeg, s.nowMs), ask.decDeg), side: ask.to };
    default:
      return null;
  }
}
/** How deep in it a place is, more being worse [deg]. */
const depthOf = (h: Hazard): number => (h.code === 'ground' ? -h.altitudeDeg : -h.apartDeg);
/** What forbids the way between two places, which both axes take at an even speed; the way out of where it must not be is allowed. */
function onWay(s: RunState, from: Pointing, to: Pointing): Hazard | null {
  const { latitudeDeg } = s.plan.site!;
  const [a, b] = [axesOf(from, latitudeDeg), axesOf(to, latitudeDeg)];
  let leaving = hazardAt(s, pointingOf(a), s.nowMs);
  for (let k = leaving ? 1 : 0; k <= PLACES; k++) {
    const hazard = hazardAt(s, pointingOf(onTheWay(a, b, k / PLACES)), s.nowMs);
    if (hazard && (k === PLACES || hazard.code !== leaving?.code || depthOf(hazard) >= depthOf(leaving))) return hazard;
    leaving = hazard;
  }
  return null;
}
/**
 * What forbids a motion before it begins: its end, or any place on the way there. Where the mount does not tell where it is, its
 * end alone is looked at.
 */
export function hazardOf(s: RunState, ask: Ask): Hazard | null {
  const goal = goalOf(s, ask);
  return goal && onWay(s, tubeNow(s) ?? goal, goal);
}

/** So near the pole the tube turns about it without leaving it far [deg]. */
const NEAR_POLE_DEG = 88;
/** Places over which a motion is not forbidden whose straight way is: up its hour circle to the pole, and down to where it ends. */
export function detour(s: RunState, ask: Ask): { altitudeDeg: number; azimuthDeg: number }[] | null {
  const [goal, tube] = [goalOf(s, ask), tubeNow(s)];
  if (!goal || !tube) return null;
  const { latitudeDeg } = s.plan.site!;
  /** Near the pole, on the hour circle of a place, and on the side of the pier on which it is. */
  const above = ({ haDeg, side }: Pointing): Pointing => {
    const ha = sideOf(haDeg) === side ? haDeg : side === 'west' ? -1 : 1;
    return { haDeg: ha, decDeg: Math.sign(latitudeDeg || 1) * NEAR_POLE_DEG, side };
  };
  const isClear = (places: readonly Pointing[]) => places.every((to, i) => i === 0 || !onWay(s, places[i - 1]!, to));
  const [up, down] = [above(tube), above(goal)];
  const over = [[down], [up], [up, down]].find((places) => isClear([tube, ...places, goal]));
  return (
    over?.map((p) => {
      const { altitudeDeg, azimuthDeg } = horizontalOf(p.haDeg, p.decDeg, latitudeDeg);
      return { altitudeDeg, azimuthDeg };
    }) ?? null
  );
}
