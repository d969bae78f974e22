import ICAL from 'ical.js';
import { z } from 'zod';
import { day } from '../calculation/index.ts';
import { phrase, type Phrase } from '../phrases/index.ts';
import { addDays, endOfLocalDay, instantOfLocal } from '../sky/index.ts';

/** Nights, by their evenings, on which somebody is away: the first and the last with it. */
export const AbsenceNights = z
  .strictObject({ from: day('First night'), until: day('Last night'), title: z.string().trim().max(200).default('') })
  .refine((a) => a.until >= a.from, { path: ['until'], message: 'comes before the first night' });
export type AbsenceNights = z.infer<typeof AbsenceNights>;

/** Letters of a calendar that are read, events in it, and times an event that recurs is followed. */
const MOST_LETTERS = 4_000_000;
const MOST_EVENTS = 5000;
const MOST_TIMES = 40_000;
const HOUR_MS = 3_600_000;
/** A night, for whoever has something else to do, is from here to there by the clock; common practice, no source [h]. */
const NIGHT_HOURS = [18, 30] as const;

export interface ReadAbsences {
  absences: AbsenceNights[];
  /** Events that are there and make no night absent: free, called off, by day, or outside of the nights asked for. */
  passedOver: number;
}

export const isAbsent = (absences: readonly AbsenceNights[], night: string): boolean =>
  absences.some((a) => a.from <= night && night <= a.until);

const known = (zone: string): boolean => {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).format(0) !== '';
  } catch {
    return false;
  }
};
/** A moment of a calendar [ms]: by its own zone where that is known, by the calendar’s description of it, else by the site’s clock. */
function momentOf(t: ICAL.Time, tzid: string | null, siteZone: string): number {
  const wall = Date.UTC(t.year, t.month - 1, t.day, t.hour, t.minute, t.second);
  if (t.zone === ICAL.Timezone.utcTimezone) return wall;
  if (tzid && known(tzid)) return instantOfLocal(tzid, wall);
  if (tzid && t.zone && t.zone !== ICAL.Timezone.localTimezone) return 1000 * t.toUnixTime();
  return instantOfLocal(siteZone, wall);
}
const dateOf = (t: ICAL.Time): string =>
  `${String(t.year).padStart(4, '0')}-${String(t.month).padStart(2, '0')}-${String(t.day).padStart(2, '0')}`;

/**
 * The nights that a calendar (iCalendar, RFC 5545) takes from somebody. An event of whole days takes the evenings of its days; one
 * with hours takes the nights it reaches into. Events that recur are followed; what is free or called off takes nothing.
 * @param span  nights that are looked at, and the clock of the place
 * @returns the nights, or what is wrong with the file
 */
export function readAbsences(
  text: string,
  span: { from: string; until: string; timeZone: string },
): { ok: true; value: ReadAbsences } | { ok: false; trouble: Phrase } {
  if (text.length > MOST_LETTERS) return { ok: false, trouble: phrase('absences.too-long', { most: MOST_LETTERS }) };
  let events: ICAL.Component[];
  try {
    const parsed = ICAL.parse(text) as unknown[];
    const calendars = (Array.isArray(parsed[0]) ? parsed : [parsed]) as unknown[][];
    events = calendars.flatMap((c) => new ICAL.Component(c as never).getAllSubcomponents('vevent'));
  } catch {
    return { ok: false, trouble: phrase('absences.no-calendar') };
  }
  if (events.length > MOST_EVENTS) return { ok: false, trouble: phrase('absences.too-many', { most: MOST_EVENTS }) };
  const nights = new Map<string, string>();
  let passedOver = 0;
  for (const event of events) {
    let taken: string[];
    try {
      taken = nightsOf(event, span);
    } catch (e) {
      const code = e instanceof Cut ? 'absences.cut-event' : 'absences.broken-event';
      return { ok: false, trouble: phrase(code, { title: titleOf(event) }) };
    }
    if (!taken.length) passedOver++;
    for (const n of taken) if (!nights.has(n)) nights.set(n, titleOf(event));
  }
  return { ok: true, value: { absences: inARow(nights), passedOver } };
}
/** An event that recurs too often to be followed to the nights that are asked for. */
class Cut extends Error {}
const titleOf = (event: ICAL.Component): string =>
  String(event.getFirstPropertyValue('summary') ?? '')
    .trim()
    .slice(0, 200);

function nightsOf(component: ICAL.Component, { from, until, timeZone }: Parameters<typeof readAbsences>[1]): string[] {
  if (component.getFirstPropertyValue('transp') === 'TRANSPARENT') return [];
  if (component.getFirstPropertyValue('status') === 'CANCELLED') return [];
  const event = new ICAL.Event(component);
  const tzid = (component.getFirstProperty('dtstart')?.getParameter('tzid') as string | undefined) ?? null;
  const lastMs = endOfLocalDay(timeZone, until) + 12 * HOUR_MS;
  const firstMs = endOfLocalDay(timeZone, addDays(from, -1));
  const lengthS = event.duration.toSeconds();
  const found: string[] = [];
  const take = (start: ICAL.Time): boolean => {
    if (start.isDate) {
      const days = Math.max(1, Math.round(lengthS / 86_400));
      const first = dateOf(start);
      for (let k = 0; k < days && k < MOST_TIMES; k++) {
        const night = addDays(first, k);
        if (night >= from && night <= until) found.push(night);
      }
      return first <= until;
    }
    const startMs = momentOf(start, tzid, timeZone);
    const endMs = startMs + 1000 * lengthS;
    if (startMs > lastMs) return false;
    if (endMs < firstMs) return true;
    for (
      let night = addDays(new Date(Math.max(startMs, firstMs)).toISOString().slice(0, 10), -2), k = 0;
      k < MOST_TIMES;
      k++
    ) {
      const [a, b] = NIGHT_HOURS.map((h) => instantOfLocal(timeZone, Date.parse(`${night}T00:00:00Z`) + h * HOUR_MS));
      if (a! >= endMs || night > until) break;
      if (b! > startMs && endMs > startMs && night >= from) found.push(night);
      night = addDays(night, 1);
    }
    return true;
  };
  if (!event.isRecurring()) {
    take(event.startDate);
    return found;
  }
  const times = event.iterator();
  for (let k = 0; k < MOST_TIMES; k++) {
    const next = times.next() as ICAL.Time | null;
    if (!next || !take(next)) return found;
  }
  throw new Cut();
}

/** Nights that follow each other under one title, as one. */
function inARow(nights: ReadonlyMap<string, string>): AbsenceNights[] {
  const made: AbsenceNights[] = [];
  for (const [night, title] of [...nights].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const last = made.at(-1);
    if (last && last.title === title && addDays(last.until, 1) === night) last.until = night;
    else made.push({ from: night, until: night, title });
  }
  return made;
}
