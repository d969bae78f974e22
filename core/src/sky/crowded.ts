import { separationDeg, type SkyPoint } from './separation.ts';
import type { Stars } from '../calculation/index.ts';

/**
 * The star catalogue's source keeps the ten brightest stars of each of 12·156² equal cells, 0.141 square degrees: no more than
 * 71 a square degree, which the Milky Way reaches all along. From this mean on so many cells are full that faint stars are
 * missing; our own judgement, no source.
 */
const CROWDED_PER_SQ_DEG = 50;

/** Do the cells of the star catalogue run full within this cap of the sky? */
export function isCrowded(stars: Stars, middle: SkyPoint, radiusDeg: number): boolean {
  let inside = 0;
  for (let i = 0; i < stars.length; i++)
    if (separationDeg(middle, { raDeg: stars.raDeg[i]!, decDeg: stars.decDeg[i]! }) <= radiusDeg) inside++;
  return inside > CROWDED_PER_SQ_DEG * Math.PI * radiusDeg ** 2;
}
