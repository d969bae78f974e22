import { endOfLocalDay, eveningDate } from '../sky/index.ts';

/**
 * The night a moment belongs to, as the evening on which it begins: what is exposed, focused or guided before the next
 * noon belongs to it, so flats of the morning lie with the frames they serve.
 */
export const nightOf = (at: string, timeZone: string): string => eveningDate(timeZone, Date.parse(at));

/** When a night, called by its evening, is over: the next noon [ms]. */
export const endOfNightMs = (night: string, timeZone: string): number =>
  endOfLocalDay(timeZone, night) + 12 * 3_600_000;

/** When the night of a moment is over. For many moments this is asked once and compared. */
export const nightEndsMs = (at: string, timeZone: string): number => endOfNightMs(nightOf(at, timeZone), timeZone);

/** Does what happened at a moment belong to this night? What carries no time belongs to none. */
export const isOfNight = (at: string | null, night: string, timeZone: string): boolean =>
  at !== null && nightOf(at, timeZone) === night;

/** Items by their night, oldest first; those without a time go with `otherwise`. */
export function byNight<T>(
  items: readonly T[],
  at: (item: T) => string | null,
  timeZone: string,
  otherwise: string,
): [night: string, items: T[]][] {
  const nights = new Map<string, T[]>();
  for (const item of items) {
    const moment = at(item);
    const night = moment === null ? otherwise : nightOf(moment, timeZone);
    const there = nights.get(night);
    if (there) there.push(item);
    else nights.set(night, [item]);
  }
  return [...nights].sort(([a], [b]) => (a < b ? -1 : 1));
}

/** What is kept with the night somebody named: it belongs to that night, and to the camera it was kept for. */
export const isLogOfNight = (
  log: { night: string; system: string },
  night: { night: string; system: string },
): boolean => log.night === night.night && log.system === night.system;
