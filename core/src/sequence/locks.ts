import { z } from 'zod';
import { noRepeats } from '../calculation/index.ts';
import { instantOfLocal, zoneOffsetMs } from '../sky/index.ts';
import type { Leg, NightPlan } from './nightPlan.ts';

/**
 * What of a plan can be closed on its own. `targets` is which objects and panels are worked, in which order, role and turns; `hours` their
 * windows; `filters` which filters with how many frames; the others are what they say.
 */
export const PlanField = z.enum([
  'targets',
  'hours',
  'filters',
  'exposures',
  'order',
  'focus',
  'dither',
  'following',
  'opening',
  'closing',
  'watches',
]);
export type PlanField = z.infer<typeof PlanField>;

export const PlanLock = z.strictObject({
  field: PlanField,
  reason: z.string().trim().max(200).default(''),
});
export type PlanLock = z.infer<typeof PlanLock>;

export const PlanLocks = z
  .array(PlanLock)
  .max(PlanField.options.length)
  .superRefine(noRepeats((l) => l.field, 'the lock on'))
  .default([]);

/** What the lead does, and a second camera beside it. */
const cameras = (l: Leg) => [l.settings, ...(l.follower ? [l.follower.settings] : [])];

/** What a field of one leg consists of, in a form whose equality means that nothing was changed. */
const OF_LEG = {
  hours: (l: Leg) => [l.from, l.until, l.darkness ?? null],
  filters: (l: Leg) => cameras(l).map((s) => s.filters.map((f) => [f.name, f.quota, f.moon ?? null])),
  order: (l: Leg) => cameras(l).map((s) => s.order),
  focus: (l: Leg) => cameras(l).map((s) => [s.focus, s.coolingCPerHour]),
  dither: (l: Leg) => [l.settings.dither, l.follower?.waitedFor ?? false],
  following: (l: Leg) => [l.guiding, l.meridian, l.centreWithinArcmin],
};
/** Closed exposures close the lengths there are: a filter taken in or left out is a matter of the filters. */
const lengthsDiffer = (before: Leg, after: Leg): boolean =>
  cameras(after).some((s, i) => {
    const was = new Map(cameras(before)[i]?.filters.map((f) => [f.name, f.exposureS]));
    return s.filters.some((f) => was.has(f.name) && was.get(f.name) !== f.exposureS);
  });
const OF_NIGHT = {
  targets: (p: NightPlan) => p.legs.map((l) => [l.projectId, l.panel, l.role, l.turnMin, l.follower?.projectId]),
  opening: (p: NightPlan) => p.opening,
  closing: (p: NightPlan) => p.closing,
  watches: (p: NightPlan) => p.watches,
};

/** Keys in one order, and what is not there left out. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(
          Object.entries(v)
            .filter(([, x]) => x !== undefined)
            .sort(([a], [b]) => (a < b ? -1 : 1)),
        )
      : v,
  );

const differ = (a: unknown, b: unknown) => canonical(a) !== canonical(b);
/**
 * The fields in which two plans differ. A leg that is new is held against the last one there was, so that a closed exposure
 * stays closed in it; that there is one more is a matter of the targets.
 */
export const changedFields = (before: NightPlan, after: NightPlan): PlanField[] =>
  PlanField.options.filter((field) => {
    if (field in OF_NIGHT) {
      const of = OF_NIGHT[field as keyof typeof OF_NIGHT];
      return differ(of(before), of(after));
    }
    const standing = (i: number) => before.legs[Math.min(i, before.legs.length - 1)]!;
    if (field === 'exposures') return after.legs.some((leg, i) => lengthsDiffer(standing(i), leg));
    const of = OF_LEG[field as keyof typeof OF_LEG];
    return after.legs.some((leg, i) => differ(of(leg), of(standing(i))));
  });

/** The locks that a change would break. */
export function brokenLocks(locks: readonly PlanLock[], before: NightPlan, after: NightPlan): PlanLock[] {
  const changed = new Set(changedFields(before, after));
  return locks.filter((l) => changed.has(l.field));
}

/** Where an instant of one night lies in another, by the clock on the wall there [ms]. */
export function nightMover(timeZone: string, from: string, to: string, zoneThere = timeZone): (ms: number) => number {
  const shift = Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`);
  if (shift === 0 && zoneThere === timeZone) return (ms) => ms;
  return (ms) => instantOfLocal(zoneThere, ms + zoneOffsetMs(timeZone, ms) + shift);
}

/**
 * A plan carried to another night: clocks keep their local time, everything the sky decides is left to the new sky.
 * @param move where an instant of the old night lies in the new one [ms]
 */
export function movedToNight<P extends { legs: readonly Leg[] }>(plan: P, move: (ms: number) => number): P {
  const bound = <B extends Leg['from']>(b: B): B =>
    b.by === 'clock' ? { ...b, at: new Date(move(Date.parse(b.at))).toISOString() } : b;
  return { ...plan, legs: plan.legs.map((l) => ({ ...l, from: bound(l.from), until: bound(l.until) })) };
}
