import { z } from 'zod';
import { huberFit } from '../../statistics/index.ts';
import type { Aperture } from './sizes.ts';

const value = z.number().min(-1e3).max(1e3);
const error = z.number().min(0).max(1e3);
/**
 * How the light of stars lies to one side of their cores, in half flux diameters: a part alike over the whole field, and
 * one that grows from the middle outwards, given at the corner. Errors are standard errors.
 */
export const Flare = z.strictObject({
  x: value,
  y: value,
  error,
  /** Away from the middle where positive, towards it where negative. */
  outward: value,
  outwardError: error,
});
export type Flare = z.infer<typeof Flare>;

/** Width of the weight that finds the core, and reach of the light held against it, in half flux diameters. */
const CORE = 0.3;
const REACH = 1.2;
/** Steps of the weight towards the core. */
const ROUNDS = 6;
/** Stars that tell a field. */
const ENOUGH = 20;

/**
 * From the core of a star to the centre of all its light, in half flux diameters: nothing for any shape that looks the
 * same turned by half a circle, however long; a coma’s tail draws it out.
 * @param star what lies around it, read to `radiusPx` at least
 * @returns null where the core runs away from the place of the star
 */
export function starFlare(star: Aperture, radiusPx: number, hfdPx: number): { x: number; y: number } | null {
  const sigma = Math.max(0.7, CORE * hfdPx);
  const reach = Math.min(REACH * hfdPx, radiusPx);
  let [x, y] = [0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    let [sum, sx, sy] = [0, 0, 0];
    star.forEach(reach, (dx, dy, v) => {
      const weighed = v * Math.exp(-((dx - x) ** 2 + (dy - y) ** 2) / (2 * sigma * sigma));
      sum += weighed;
      sx += weighed * (dx - x);
      sy += weighed * (dy - y);
    });
    if (!(sum > 0)) return null;
    // a weight as wide as the star halves each step: twice as far meets it
    [x, y] = [x + (2 * sx) / sum, y + (2 * sy) / sum];
  }
  if (!(Math.hypot(x, y) < hfdPx / 2)) return null;
  let [sum, sx, sy] = [0, 0, 0];
  star.forEach(radiusPx, (dx, dy, v) => {
    const [ox, oy] = [dx - x, dy - y];
    if (ox * ox + oy * oy > reach * reach) return;
    sum += v;
    sx += v * ox;
    sy += v * oy;
  });
  return sum > 0 ? { x: sx / sum / hfdPx, y: sy / sum / hfdPx } : null;
}

/** Flare of a coma whose light lies one half flux diameter out of the core; by drawn stars, within 15 % from 0.3 on. */
const BY_CUBE = 0.7;
/**
 * How far coma draws the centre of the light out of the core [px]: the core is found by a weight as wide as the star,
 * which follows a short tail almost wholly, so that the flare grows with the cube of it. Comas by drawn stars whose wings
 * fall off with the exponent 3.5; other wings were not tried.
 */
export const comaPx = (flare: number, hfdPx: number): number => hfdPx * Math.cbrt(flare / BY_CUBE);

/** The two parts of the flare of a field’s stars, fitted together and robustly; null where too few stars tell it. */
export function flareOf(
  stars: readonly { x: number; y: number; flare: { x: number; y: number } | null }[],
  widthPx: number,
  heightPx: number,
): Flare | null {
  const corner = Math.hypot(widthPx, heightPx) / 2;
  const rows: number[][] = [];
  const values: number[] = [];
  for (const { x, y, flare } of stars) {
    if (!flare) continue;
    const [rx, ry] = [(x - (widthPx - 1) / 2) / corner, (y - (heightPx - 1) / 2) / corner];
    // coma grows with the distance, and the flare with its cube
    const far = rx * rx + ry * ry;
    rows.push([1, 0, far * rx], [0, 1, far * ry]);
    values.push(flare.x, flare.y);
  }
  if (values.length < 2 * ENOUGH) return null;
  const fit = huberFit(
    rows,
    values,
    values.map(() => 1),
  );
  if (!fit) return null;
  const [x, y, outward] = fit.coefficients as [number, number, number];
  const [cx, cy, co] = [0, 1, 2].map((i) => fit.covariance[i]![i]!) as [number, number, number];
  return { x, y, error: Math.sqrt((cx + cy) / 2), outward, outwardError: Math.sqrt(co) };
}
