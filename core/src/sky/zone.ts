/** Time zones by the platform's own tables (Intl). Instants are milliseconds since 1970, UTC. */

const DAY_MS = 86_400_000;

/** Formatters by zone: making one costs more than a hundred uses of it, and it never changes. */
const formatters = new Map<string, Intl.DateTimeFormat>();

/** @throws RangeError for a zone the platform does not know */
export function zoneFormatter(timeZone: string): Intl.DateTimeFormat {
  let f = formatters.get(timeZone);
  if (!f) {
    f = new Intl.DateTimeFormat('en-US', {
      timeZone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    formatters.set(timeZone, f);
  }
  return f;
}

/** Offset of local time from UTC at an instant [ms], east positive. */
export function zoneOffsetMs(timeZone: string, atMs: number): number {
  const parts = zoneFormatter(timeZone).formatToParts(atMs);
  const get = (type: string) => Number(parts.find((p) => p.type === type)!.value);
  const local = Date.UTC(get('year'), get('month') - 1, get('day'), get('hour'), get('minute'), get('second'));
  return local - Math.floor(atMs / 1000) * 1000;
}

/** Instant of a local wall-clock time given as if it were UTC [ms]. In a skipped hour the offset before it holds. */
export function instantOfLocal(timeZone: string, localMs: number): number {
  const first = localMs - zoneOffsetMs(timeZone, localMs - zoneOffsetMs(timeZone, localMs));
  const second = localMs - zoneOffsetMs(timeZone, first);
  return Math.abs(second - first) < 1 ? first : Math.min(first, second);
}

/** Local calendar day of an instant, YYYY-MM-DD. */
export const localDay = (timeZone: string, atMs: number): string =>
  new Date(atMs + zoneOffsetMs(timeZone, atMs)).toISOString().slice(0, 10);

/** 24:00 local time of a calendar day, as an instant. */
export const endOfLocalDay = (timeZone: string, day: string): number =>
  instantOfLocal(timeZone, Date.parse(`${day}T00:00:00Z`) + DAY_MS);

/** The evening date of the night an instant belongs to: until local noon it is still last night. */
export const eveningDate = (timeZone: string, atMs: number): string => localDay(timeZone, atMs - DAY_MS / 2);

/** The calendar day so many days on. */
export const addDays = (day: string, days: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + days * DAY_MS).toISOString().slice(0, 10);
