import type { UpkeepRecord } from '@keen/contract';
import { dayName } from './times.ts';

const nightsOf = (n: number) => `${n} ${n === 1 ? 'night' : 'nights'}`;

/** When something that comes again is due, as people say it. */
export function dueWords({ due }: Pick<UpkeepRecord, 'due'>): string {
  const { date, nightsLeft } = due;
  if (due.state === 'over') {
    const byNight =
      nightsLeft === null || nightsLeft > 0
        ? ''
        : nightsLeft === 0
          ? 'its nights are over'
          : `${nightsOf(-nightsLeft)} over`;
    // of two counts the one that is over says it; the day is, where the nights are not
    return `due now (${byNight || `since ${dayName(date!)}`})`;
  }
  const byDay = date === null ? '' : `on ${dayName(date)}`;
  const byNight = nightsLeft === null ? '' : `after ${nightsOf(nightsLeft)} more`;
  return `due ${[byDay, byNight].filter(Boolean).join(' or ')}`;
}
/** How often it comes again. */
export function oftenWords({ everyDays, everyNights }: Pick<UpkeepRecord, 'everyDays' | 'everyNights'>): string {
  const days = everyDays === null ? '' : everyDays === 1 ? 'every day' : `every ${everyDays} days`;
  const nights = everyNights === null ? '' : `every ${everyNights === 1 ? 'night' : `${everyNights} nights`} of work`;
  return [days, nights].filter(Boolean).join(' or ');
}
