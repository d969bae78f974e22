import type { NightOutput } from './night.ts';

const HOUR_MS = 3_600_000;

/** What of a night's full darkness is still to come [h]. */
export interface DarkLeft {
  hours: number;
  /** Of them, without the Moon. */
  moonlessHours: number;
  /** Whether some has passed already. */
  begun: boolean;
}

/** @param fromMs the moment asked about; null for a night looked at as a whole */
export function darkLeft(night: NightOutput, fromMs: number | null): DarkLeft {
  const dark = night.dark.astronomical;
  if (!dark) return { hours: 0, moonlessHours: 0, begun: false };
  if (fromMs === null || fromMs <= Date.parse(dark.start))
    return { hours: night.darkHours, moonlessHours: night.moon.darkMoonlessHours, begun: false };
  const end = Date.parse(dark.end);
  const hours = Math.max(0, end - fromMs) / HOUR_MS;
  const moonlit = night.moon.up.reduce(
    (sum, up) => sum + Math.max(0, Math.min(end, Date.parse(up.end)) - Math.max(fromMs, Date.parse(up.start))),
    0,
  );
  return { hours, moonlessHours: Math.max(0, hours - moonlit / HOUR_MS), begun: true };
}
