import { RAD } from '../quantities/index.ts';

/** A place on the sky, J2000 degrees. */
export interface SkyPoint {
  raDeg: number;
  decDeg: number;
}

/**
 * Great-circle angle between two places, good at every distance. Source: Vincenty (1975), Survey Review 23(176), 88,
 * on a sphere (from memory).
 * @returns degrees, 0 to 180
 */
export function separationDeg(a: SkyPoint, b: SkyPoint): number {
  const dRa = (b.raDeg - a.raDeg) * RAD;
  const [sinA, cosA] = [Math.sin(a.decDeg * RAD), Math.cos(a.decDeg * RAD)];
  const [sinB, cosB] = [Math.sin(b.decDeg * RAD), Math.cos(b.decDeg * RAD)];
  const across = Math.hypot(cosB * Math.sin(dRa), cosA * sinB - sinA * cosB * Math.cos(dRa));
  return Math.atan2(across, sinA * sinB + cosA * cosB * Math.cos(dRa)) / RAD;
}
