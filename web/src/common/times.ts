import { zoneOffsetMs } from '@keen/core/sky';
import dayjs from 'dayjs';
import utc from 'dayjs/plugin/utc';

dayjs.extend(utc);

/** Wall clock at the site, HH:mm. */
export const clock = (iso: string | number, timeZone: string): string => {
  const ms = typeof iso === 'string' ? Date.parse(iso) : iso;
  return dayjs.utc(ms + zoneOffsetMs(timeZone, ms)).format('HH:mm');
};
/** The day on which something happened there, by its own calendar. */
export const localDay = (iso: string, timeZone: string): string => {
  const ms = Date.parse(iso);
  return dayjs.utc(ms + zoneOffsetMs(timeZone, ms)).format('YYYY-MM-DD');
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
/** Whole local hours between two instants, every so many hours. */
export function hourTicks(fromMs: number, toMs: number, offsetMs: number, everyHours: number): number[] {
  const step = everyHours * 3_600_000;
  const ticks: number[] = [];
  for (let t = Math.ceil((fromMs + offsetMs) / step) * step - offsetMs; t <= toMs; t += step) ticks.push(t);
  return ticks;
}
/** Hours between two marks of a clock. */
const CLOCK_STEPS = [1 / 12, 1 / 6, 1 / 4, 1 / 2, 1, 2, 3, 6];
/** Marks of the clock at whole steps of it, nine at most. */
export const clockMarks = (fromMs: number, toMs: number, timeZone: string): number[] =>
  hourTicks(
    fromMs,
    toMs,
    zoneOffsetMs(timeZone, fromMs),
    CLOCK_STEPS.find((h) => (toMs - fromMs) / (3_600_000 * h) <= 8) ?? CLOCK_STEPS.at(-1)!,
  );
