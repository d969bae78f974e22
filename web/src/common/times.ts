import { zoneOffsetMs } from '@keen/core/sky';
import dayjs from 'dayjs';
import utc from 'dayjs/plugin/utc';

dayjs.extend(utc);

/** Wall clock at the site, HH:mm. */
export const clock = (iso: string | number, timeZone: string): string => {
  const ms = typeof iso === 'string' ? Date.parse(iso) : iso;
  return dayjs.utc(ms + zoneOffsetMs(timeZone, ms)).format('HH:mm');
};
export const clockOr = (iso: string | null, timeZone: string): string => (iso ? clock(iso, timeZone) : '–');
/** "24 Nov", or with the year when it is not this one. */
export const dayName = (day: string): string => {
  const d = dayjs(day);
  return d.format(d.year() === dayjs().year() ? 'D MMM' : 'D MMM YYYY');
};
export const hours = (minutes: number): string => {
  const m = Math.round(minutes);
  return `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, '0')}`;
};
