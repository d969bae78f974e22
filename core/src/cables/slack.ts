import { RAD } from '../quantities/index.ts';

type Vec = readonly [number, number, number];
/** Unit vectors of a mount’s pose in east, north and up: along the declination axis to the tube, and towards the sky. */
export function poseAxes(
  latitudeDeg: number,
  hourAngleDeg: number,
  decDeg: number,
  pier: 'east' | 'west',
): { x: Vec; y: Vec; z: Vec } {
  const [sl, cl] = [Math.sin(latitudeDeg * RAD), Math.cos(latitudeDeg * RAD)];
  const [sh, ch] = [Math.sin(hourAngleDeg * RAD), Math.cos(hourAngleDeg * RAD)];
  const [sd, cd] = [Math.sin(decDeg * RAD), Math.cos(decDeg * RAD)];
  const s = pier === 'east' ? 1 : -1;
  const x: Vec = [s * ch, -s * sl * sh, s * cl * sh];
  const z: Vec = [-cd * sh, sd * cl - cd * ch * sl, sd * sl + cd * ch * cl];
  const y: Vec = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  return { x, y, z };
}

/** Farthest pointing from the meridian a night goes to, on either side of the pier [°]. */
const HOURS_DEG = 100;
/** Pointings tried lie this far apart [°]. */
const STEP_DEG = 4;
export interface Reach {
  /** Longest straight way from the point on the tube to the one below, over the whole sky and the flip [mm]. */
  farthestMm: number;
  hourAngleDeg: number;
  decDeg: number;
  pier: 'east' | 'west';
}
/**
 * How long cables between a point of the tube and one below the mount’s head have to be: the largest distance over every
 * pointing above the horizon on either side of the pier, by steps of four degrees.
 * @param point from the crossing of the axes, x along the declination axis away from the weights, y sideways, z skyward [mm]
 */
export function cableReach(
  latitudeDeg: number,
  point: { xMm: number; yMm: number; zMm: number },
  belowMm: number,
): Reach {
  let best: Reach = { farthestMm: 0, hourAngleDeg: 0, decDeg: 0, pier: 'east' };
  for (const pier of ['east', 'west'] as const)
    for (let h = -HOURS_DEG; h <= HOURS_DEG; h += STEP_DEG)
      for (let d = -90; d <= 90; d += STEP_DEG) {
        const { x, y, z } = poseAxes(latitudeDeg, h, d, pier);
        if (z[2] < 0) continue;
        const at = (k: 0 | 1 | 2) => point.xMm * x[k] + point.yMm * y[k] + point.zMm * z[k];
        const farthestMm = Math.hypot(at(0), at(1), at(2) + belowMm);
        if (farthestMm > best.farthestMm) best = { farthestMm, hourAngleDeg: h, decDeg: d, pier };
      }
  return best;
}
