import { direction, dot, horizonAt, SkyWindow, turn, type Site } from '../sky/index.ts';
import { makeVerdict, phrase, type Code } from '../phrases/index.ts';
import type { Verdict, VerdictLevel } from '../calculation/index.ts';
import { RAD, SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';

/** As near the equator as the sky allows: farther right ascension moves a star less. Common practice, no source. */
const FARTHEST_DEC = 20;
/** Beside the meridian, so that the mount neither flips nor reaches through the zenith. */
const HOUR_ANGLE_DEG = 12;
/** Altitude from which calibrating is trusted [°]; common practice, no source. */
const WANTED_ALTITUDE = 35;

export interface CalibrationPlace {
  raDeg: number;
  decDeg: number;
  altitudeDeg: number;
  azimuthDeg: number;
  side: 'east' | 'west';
  /** Clear of the horizon and high enough. */
  good: boolean;
}

/**
 * Where to calibrate: near the celestial equator, a little off the meridian on the side the night begins.
 * Declination leaves the equator only as far as the altitude asks for, 20° at most.
 */
export function calibrationPlace(site: Site, time: string, side: 'east' | 'west'): CalibrationPlace {
  const ms = Date.parse(time);
  const { zenith, north, east } = new SkyWindow(site, ms).zenithJ2000(ms);
  const meridian = Math.atan2(zenith[1], zenith[0]) / RAD;
  const raDeg = turn(meridian + (side === 'east' ? HOUR_ANGLE_DEG : -HOUR_ANGLE_DEG));
  const at = (decDeg: number) => {
    const d = direction(raDeg, decDeg);
    return {
      decDeg,
      altitudeDeg: Math.asin(Math.max(-1, Math.min(1, dot(d, zenith)))) / RAD,
      azimuthDeg: turn(Math.atan2(dot(d, east), dot(d, north)) / RAD),
    };
  };
  const toward = Math.sign(site.latitudeDeg) || 1;
  const clear = (p: ReturnType<typeof at>) =>
    p.altitudeDeg >= Math.max(WANTED_ALTITUDE, horizonAt(site.horizon, p.azimuthDeg) + 3);
  for (let d = 0; d <= FARTHEST_DEC; d++) {
    const place = at(d === 0 ? 0 : toward * d);
    if (clear(place)) return { raDeg, ...place, side, good: true };
  }
  return { raDeg, ...at(toward * FARTHEST_DEC), side, good: false };
}

export interface Answer {
  expectedPx: number;
  verdict: Verdict;
}
/** A star that moves less than this share of what was sent does not answer. Common practice, no source. */
const DEAF = 1 / 3;

/**
 * The test by hand: one long pulse along declination, and how far the spot went. A hot pixel, a fleck of dust or a
 * reflection stays where it is.
 */
export function answerOf(pulseMs: number, guideRate: number, scaleArcsecPerPx: number, movedPx: number | null): Answer {
  const expectedPx = ((pulseMs / 1000) * SIDEREAL_ARCSEC_PER_S * guideRate) / scaleArcsecPerPx;
  const answer = (level: VerdictLevel, code: Code, values: Record<string, number>): Answer => ({
    expectedPx,
    verdict: makeVerdict(level, phrase(code, values)),
  });
  if (movedPx === null) return answer('caution', 'guide.nudge-send', { expectedPx });
  const share = Math.abs(movedPx) / expectedPx;
  if (share < DEAF) return answer('bad', 'guide.nudge-deaf', { movedPx: Math.abs(movedPx), expectedPx });
  if (share > 1.5 || share < 0.67) return answer('caution', 'guide.nudge-off', { sharePercent: 100 * share });
  return answer('good', 'guide.nudge-star', { sharePercent: 100 * share });
}
