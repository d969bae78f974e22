import { instantOfLocal } from '../sky/index.ts';

/** A day and a time of it as somebody wrote them, before anybody says in which zone. */
export interface ReadInstant {
  /** As if it were UTC [ms since 1970]. */
  wallMs: number;
  /** Minutes east of UTC that it names itself; null where it names none. */
  offsetMin: number | null;
  /** It names a day and no time of it. */
  dayOnly: boolean;
}
export type InstantRead =
  | { ok: true; value: ReadInstant }
  /** `doubt`: could be two things, and the file or a person has to say which. */
  | { ok: false; doubt: boolean; reason: string };

/** In which order a day and a month are written where only a slash parts them. */
export type DayOrder = 'dmy' | 'mdy';

const refuse = (reason: string, doubt = false): InstantRead => ({ ok: false, doubt, reason });
const ISO_DAY = /^(\d{4})([-/.])(\d{1,2})\2(\d{1,2})/;
const BASIC_DAY = /^(\d{4})(\d{2})(\d{2})(?=$|[T\s])/;
const LAST_YEAR = /^(\d{1,2})([-/.])(\d{1,2})\2(\d{4}|\d{2})(?!\d)/;
const TIME = /^(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,30}))?)?\s*([ap]m)?/i;
const BASIC_TIME = /^(\d{2})(\d{2})(?:(\d{2})(?:\.(\d{1,30}))?)?/;
const ZONE = /^(?:(z|utc|gmt|ut)|([+\-−])(\d{2}):?(\d{2})?)$/i;

/** Days of a month in the Gregorian calendar. */
const daysIn = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/**
 * Reads a date with or without a time of day: 2026-11-24T20:15:00.5Z, 2026/11/24 20:15, 24.11.2026 20:15:00, 20261124T201500.
 * The calendar is checked: a 30th of February is no date. Where slashes leave the order of day and month open it asks.
 */
export function readInstant(text: string, order?: DayOrder): InstantRead {
  const t = text.trim().replace(/,\s+/, ' ');
  const read = dayOf(t, order);
  if (!('day' in read)) return read;
  const { day, rest } = read;
  const [year, month, dayOfMonth] = day;
  if (month < 1 || month > 12) return refuse(`“${text.trim()}” has no month ${month}`);
  if (dayOfMonth < 1 || dayOfMonth > daysIn(year, month))
    return refuse(`“${text.trim()}”: that month has ${daysIn(year, month)} days`);
  const dayMs = Date.UTC(year, month - 1, dayOfMonth);
  const after = rest.replace(/^[T\s]+/i, '');
  if (after === '') return { ok: true, value: { wallMs: dayMs, offsetMin: null, dayOnly: true } };
  if (!/^[T\s]/i.test(rest)) return refuse(`“${text.trim()}” is no date with a time`);
  const clock = readClock(after);
  if (!clock) return refuse(`“${text.trim()}” has no time of day behind its date`);
  return { ok: true, value: { wallMs: dayMs + clock.ms, offsetMin: clock.offsetMin, dayOnly: false } };
}

interface Day {
  day: readonly [number, number, number];
  rest: string;
}
function dayOf(t: string, order: DayOrder | undefined): Day | (InstantRead & { ok: false }) {
  const iso = ISO_DAY.exec(t) ?? null;
  if (iso) return { day: [Number(iso[1]), Number(iso[3]), Number(iso[4])], rest: t.slice(iso[0].length) };
  const basic = BASIC_DAY.exec(t);
  if (basic) return { day: [Number(basic[1]), Number(basic[2]), Number(basic[3])], rest: t.slice(basic[0].length) };
  const last = LAST_YEAR.exec(t);
  if (!last) return refuse(`“${t.slice(0, 40)}” is no date; write 2026-11-24 20:15:00`) as InstantRead & { ok: false };
  const [whole, a, sign, b, y] = last;
  const [first, second] = [Number(a), Number(b)];
  const year = y!.length === 2 ? 2000 + Number(y) : Number(y);
  const rest = t.slice(whole.length);
  // a dot is written where the day comes first; with a slash either may
  const chosen =
    sign === '.' ? 'dmy' : first > 12 ? 'dmy' : second > 12 ? 'mdy' : (order ?? (first === second ? 'dmy' : null));
  if (chosen === null)
    return refuse(
      `“${whole}” could be the ${first}th of month ${second} or the ${second}th of month ${first}`,
      true,
    ) as InstantRead & { ok: false };
  return { day: chosen === 'dmy' ? [year, second, first] : [year, first, second], rest };
}

/** A time of day with the zone it may name; null for anything else. Sixty seconds are a leap second. */
export function readClock(text: string): { ms: number; offsetMin: number | null } | null {
  const t = text.trim();
  const m = TIME.exec(t) ?? BASIC_TIME.exec(t);
  if (!m) return null;
  const half = m[5]?.toLowerCase();
  let hour = Number(m[1]);
  const [minute, second] = [Number(m[2]), Number(m[3] ?? 0)];
  if (half && (hour < 1 || hour > 12)) return null;
  if (half) hour = (hour % 12) + (half === 'pm' ? 12 : 0);
  if (hour > 23 || minute > 59 || second > 60) return null;
  const fraction = m[4] ? Number(`0.${m[4]}`) : 0;
  const ms = Math.round(1000 * (3600 * hour + 60 * minute + second + fraction));
  const rest = t.slice(m[0].length).trim();
  if (rest === '') return { ms, offsetMin: null };
  const zone = ZONE.exec(rest);
  if (!zone) return null;
  const minutes = zone[1] ? 0 : Number(zone[3]) * 60 + Number(zone[4] ?? 0);
  if (minutes > 14 * 60) return null;
  return { ms, offsetMin: zone[1] ? 0 : (zone[2] === '+' ? 1 : -1) * minutes };
}

/** The instant [ms]: by the zone it names, else by the one given; a clock that is set back gives its first pass. */
export const instantMs = ({ wallMs, offsetMin }: ReadInstant, zone = 'UTC'): number =>
  offsetMin !== null ? wallMs - 60_000 * offsetMin : zone === 'UTC' ? wallMs : instantOfLocal(zone, wallMs);
