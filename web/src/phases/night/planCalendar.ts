import type { NightSchedule } from '@keen/core/sequence';
import ical, { ICalCalendarMethod } from 'ical-generator';
import { framesOf } from './usePlanWords.ts';

/** A night as a calendar: one entry for the hours in which the rig is taken, one for each stretch of a leg. */
export function planCalendar(
  night: NightSchedule,
  of: { id: string; rig: string; site: string; names: readonly string[]; now: Date },
): string {
  const calendar = ical({
    name: `${of.rig}, ${of.names.join(', ')}`,
    prodId: '//keen-meridian//night plan//EN',
    method: ICalCalendarMethod.PUBLISH,
  });
  const entry = (id: string, startMs: number, endMs: number, summary: string, description = '') =>
    calendar.createEvent({
      id: `${of.id}.${id}@keen-meridian`,
      stamp: of.now,
      start: new Date(startMs),
      end: new Date(endMs),
      summary,
      description,
      location: of.site,
    });
  entry(
    'night',
    night.startMs,
    night.endMs,
    `${of.rig}: ${of.names.join(', ')}`,
    'From the first step of the opening to the last of the closing.',
  );
  night.pieces.forEach((p, i) => {
    if (p.part !== 'leg') return;
    const schedule = night.legs[p.legIndex]!.schedule;
    entry(
      `leg-${i}`,
      p.startMs,
      p.endMs,
      of.names[p.legIndex] ?? '',
      schedule ? `${framesOf(schedule)} frames planned` : '',
    );
  });
  return calendar.toString();
}
