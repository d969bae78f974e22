import { median } from '../../statistics/index.ts';
import { toneOf, type SmallPicture } from './smallPictures.ts';

/** Reach from the place of a star, in half flux diameters. */
const REACH = 1.6;
/** Side of a drawn star [px]. */
const SIDE = 41;
/** Stars of a cell that are laid over one another: more change nothing an eye sees. */
const MOST = 40;
/** Height of the brightest place, in the units of tones: wings of a fiftieth are seen beside it. */
const PEAK = 60;

/**
 * What the stars of each of nine cells have in common, enlarged, row by row from the top left: stars of equal weight laid
 * over one another by their centres of light, the median of each place. Noise, neighbours and hot pixels go; a tail, a
 * direction, a ring stays.
 * @param values the picture with its sky taken off
 * @param stars clean ones, brightest first, in pixels of the picture
 * @returns one without tones where a cell has no star
 */
export function meanStars(
  values: Float32Array,
  w: number,
  h: number,
  stars: readonly { x: number; y: number }[],
  hfdPx: number,
): SmallPicture[] {
  const step = (2 * REACH * hfdPx) / (SIDE - 1);
  const cells = Array.from({ length: 9 }, (): Float32Array[] => []);
  for (const { x, y } of stars) {
    const cell =
      cells[3 * (2 - Math.min(2, Math.floor((3 * (y + 0.5)) / h))) + Math.min(2, Math.floor((3 * (x + 0.5)) / w))]!;
    const star = cell.length < MOST ? enlarged(values, w, h, x, y, step) : null;
    if (star) cell.push(star);
  }
  return cells.map((all) => {
    const tones = new Uint8Array(SIDE * SIDE);
    if (all.length) {
      const middle = Float32Array.from(tones, (_, i) => median(all.map((star) => star[i]!)));
      const peak = middle.reduce((m, v) => Math.max(m, v), 0);
      if (peak > 0) middle.forEach((v, i) => (tones[i] = toneOf((PEAK * v) / peak)));
    }
    return { widthPx: SIDE, heightPx: SIDE, tones };
  });
}

/** The surroundings of a place, first row on top, by bilinear interpolation, in shares of their sum; null where they leave the picture or a value is missing. */
function enlarged(values: Float32Array, w: number, h: number, x: number, y: number, step: number): Float32Array | null {
  const reach = (step * (SIDE - 1)) / 2;
  if (x - reach < 0 || y - reach < 0 || x + reach > w - 2 || y + reach > h - 2) return null;
  const into = new Float32Array(SIDE * SIDE);
  let total = 0;
  for (let j = 0; j < SIDE; j++) {
    const py = y + reach - j * step;
    const [y0, fy] = [Math.floor(py), py - Math.floor(py)];
    for (let i = 0; i < SIDE; i++) {
      const px = x - reach + i * step;
      const [x0, fx] = [Math.floor(px), px - Math.floor(px)];
      const k = y0 * w + x0;
      const v =
        (1 - fy) * ((1 - fx) * values[k]! + fx * values[k + 1]!) +
        fy * ((1 - fx) * values[k + w]! + fx * values[k + w + 1]!);
      into[j * SIDE + i] = v;
      total += v;
    }
  }
  return total > 0 ? into.map((v) => v / total) : null;
}
