import type { UpkeepRecord } from '@keen/contract';
import { dayName } from './times.ts';

const nightsOf = (n: number) => `${n} ${n === 1 ? 'night' : 'nights'}`;

/** When something that comes again is due, as people say it. */
export function dueWords({ due }: Pick<UpkeepRecord, 'due'>): string {
  const { date, nightsLeft } = due;
  const byDay = date === null ? '' : due.state === 'over' ? `since ${dayName(date)}` : `on ${dayName(date)}`;
  const byNight =
    nightsLeft === null
      ? ''
      : nightsLeft > 0
        ? `after ${nightsOf(nightsLeft)} more`
        : nightsLeft === 0
          ? 'its nights are over'
          : `${nightsOf(-nightsLeft)} over`;
  const both = [byDay, byNight].filter(Boolean).join(' or ');
  return due.state === 'over' ? `due now (${both.replace(' or ', ', ')})` : `due ${both}`;
}
/** How often it comes again. */
export function oftenWords({ everyDays, everyNights }: Pick<UpkeepRecord, 'everyDays' | 'everyNights'>): string {
  const days = everyDays === null ? '' : everyDays === 1 ? 'every day' : `every ${everyDays} days`;
  const nights = everyNights === null ? '' : `every ${everyNights === 1 ? 'night' : `${everyNights} nights`} of work`;
  return [days, nights].filter(Boolean).join(' or ');
}
