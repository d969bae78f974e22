import { RAD } from '../quantities/index.ts';
import type { Stars } from '../calculation/index.ts';

/** Places of stars in the focal plane about a centre, only those in front of it. */
export interface Projected {
  /** Index in the list they came from. */
  index: Int32Array;
  /** East and north of the centre [mm]. */
  eastMm: Float64Array;
  northMm: Float64Array;
  length: number;
}

/**
 * Gnomonic projection about a centre, x east, y north: the plane a lens without distortion makes.
 * Source: textbook; ξ = cos δ sin Δα / cos c, η = (cos δ₀ sin δ − sin δ₀ cos δ cos Δα) / cos c.
 * @param reachMm stars farther out are left away
 */
export function project(
  stars: Stars,
  centre: { raDeg: number; decDeg: number },
  focalLengthMm: number,
  reachMm = Infinity,
): Projected {
  const [sin0, cos0] = [Math.sin(centre.decDeg * RAD), Math.cos(centre.decDeg * RAD)];
  const cosReach = Math.cos(Math.atan(reachMm / focalLengthMm)) - 1e-12;
  const out: Projected = {
    index: new Int32Array(stars.length),
    eastMm: new Float64Array(stars.length),
    northMm: new Float64Array(stars.length),
    length: 0,
  };
  for (let i = 0; i < stars.length; i++) {
    const dec = stars.decDeg[i]! * RAD;
    const da = (stars.raDeg[i]! - centre.raDeg) * RAD;
    const [sin, cos] = [Math.sin(dec), Math.cos(dec)];
    const cosDa = Math.cos(da);
    const cosC = sin0 * sin + cos0 * cos * cosDa;
    if (cosC <= 1e-9 || cosC < cosReach) continue;
    out.index[out.length] = i;
    out.eastMm[out.length] = (focalLengthMm * cos * Math.sin(da)) / cosC;
    out.northMm[out.length] = (focalLengthMm * (cos0 * sin - sin0 * cos * cosDa)) / cosC;
    out.length++;
  }
  return out;
}
