import { moonPhaseAngleDeg, type NightFrame } from './night.ts';

const MOON_KM = 1737.4;

/** The Moon as it stands at a place: height, direction, apparent size and phase. */
export interface MoonDisk {
  altitudeDeg: number;
  azimuthDeg: number;
  /** As seen from the place itself: a hair larger overhead than at the horizon. */
  diameterArcmin: number;
  phaseAngleDeg: number;
}

export function moonDisk({ sky }: NightFrame, ms: number): MoonDisk {
  const v = sky.moonVector(ms);
  const { altitudeDeg, azimuthDeg } = sky.altAz(v, ms);
  const km = Math.hypot(...v);
  const diameterArcmin = (2 * Math.asin(MOON_KM / km) * 180 * 60) / Math.PI;
  return { altitudeDeg, azimuthDeg, diameterArcmin, phaseAngleDeg: moonPhaseAngleDeg(sky, ms) };
}
