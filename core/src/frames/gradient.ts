import type { FrameMeasures } from './frameMeasures.ts';

export interface SkyGradient {
  /** From the dark edge of the field to the bright one [counts]. */
  counts: number;
  /** Towards the brighter side, anticlockwise from the right [°]. */
  towardsDeg: number;
  /** Of the nine cells’ differences, the share that lies on a plane, 0 to 1. */
  even: number;
}
/** The plane through the sky of the nine cells: a lamp, the Moon or the town’s side; what is left over is no gradient. */
export function skyGradient(look: Pick<FrameMeasures, 'grid'>): SkyGradient {
  const mean = look.grid.reduce((s, c) => s + c.background, 0) / 9;
  const along = (of: 'col' | 'row') => look.grid.reduce((s, c) => s + (c[of] - 1) * (c.background - mean), 0) / 6;
  const [right, up] = [along('col'), along('row')];
  const total = look.grid.reduce((s, c) => s + (c.background - mean) ** 2, 0);
  const plane = 6 * (right ** 2 + up ** 2);
  const towards = (Math.atan2(up, right) * 180) / Math.PI;
  return { counts: 3 * Math.hypot(right, up), towardsDeg: (towards + 360) % 360, even: total > 0 ? plane / total : 0 };
}
