import { eveningDate } from '../sky/index.ts';

/**
 * The evening date of a frame at a site; frames of one folder may belong to several nights. Flats of the next morning
 * belong to the night before them: the evening date changes at the Sun's upper transit, about noon.
 */
export const nightOfFrame = (startedAt: string | null, timeZone: string): string | null =>
  startedAt === null ? null : eveningDate(timeZone, Date.parse(startedAt));

/** Items by their night, oldest first; those without a time go with `otherwise`. */
export function byNight<T extends { startedAt: string | null }>(
  items: readonly T[],
  timeZone: string,
  otherwise: string,
): [night: string, items: T[]][] {
  const nights = new Map<string, T[]>();
  for (const i of items) {
    const night = nightOfFrame(i.startedAt, timeZone) ?? otherwise;
    nights.set(night, [...(nights.get(night) ?? []), i]);
  }
  return [...nights].sort(([a], [b]) => (a < b ? -1 : 1));
}
