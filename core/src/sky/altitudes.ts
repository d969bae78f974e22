import { nightFrame } from './night.ts';
import type { Site } from './site.ts';

/** How high places stood at moments of one night [deg], refraction left out. */
export function altitudesAt(
  site: Site,
  date: string,
  seen: readonly { ms: number; raDeg: number; decDeg: number }[],
): number[] {
  const { sky } = nightFrame(site, date);
  return seen.map(({ ms, raDeg, decDeg }) => sky.altAz(sky.apparent(raDeg, decDeg), ms).altitudeDeg);
}
