import { seeded } from '../statistics/index.ts';

/** Ways to place successive dithers. */
export const PATTERNS = ['spiral', 'random', 'low-discrepancy'] as const;
export type PatternKind = (typeof PATTERNS)[number];
export interface Place {
  x: number;
  y: number;
}

/** Mean distance between two random points of a disk, in radii: 128/(45π), textbook. */
const MEAN_STEP_RADII = 128 / (45 * Math.PI);

/** Radical inverse in a base: Halton (1960), Numerische Mathematik 2, 84. */
function radicalInverse(index: number, base: number): number {
  let [value, digit] = [0, 1 / base];
  for (let n = index; n > 0; n = Math.floor(n / base), digit /= base) value += (n % base) * digit;
  return value;
}
const inDisk = (u: number, v: number, radius: number): Place => {
  const [r, a] = [radius * Math.sqrt(u), 2 * Math.PI * v];
  return { x: r * Math.cos(a), y: r * Math.sin(a) };
};

/**
 * Positions of successive dithers about the framing's centre, in the unit of `step`.
 * Spiral: square, each move exactly one step, never the same place twice; grows with the night. Random: anywhere in a disk
 * in which the mean move is one step; may repeat. Low-discrepancy: the same disk filled evenly (Halton, bases 2 and 3).
 */
export function pattern(kind: PatternKind, count: number, step: number, seed = 1): Place[] {
  if (kind === 'spiral') {
    const places: Place[] = [{ x: 0, y: 0 }];
    let [x, y, side, way] = [0, 0, 1, 0];
    while (places.length < count) {
      for (let half = 0; half < 2 && places.length < count; half++, way = (way + 1) % 4)
        for (let k = 0; k < side && places.length < count; k++) {
          x += [1, 0, -1, 0][way]!;
          y += [0, 1, 0, -1][way]!;
          places.push({ x: x * step, y: y * step });
        }
      side++;
    }
    return places.slice(0, count);
  }
  const radius = step / MEAN_STEP_RADII;
  const random = seeded(seed);
  return Array.from({ length: count }, (_, i) =>
    kind === 'random'
      ? inDisk(random.next(), random.next(), radius)
      : inDisk(radicalInverse(i + 1, 2), radicalInverse(i + 1, 3), radius),
  );
}

/** Mean length of the moves from place to place, in the unit of the places; 0 with fewer than two. */
export const meanMove = (places: readonly Place[]): number =>
  places.length < 2
    ? 0
    : places.slice(1).reduce((s, p, i) => s + Math.hypot(p.x - places[i]!.x, p.y - places[i]!.y), 0) /
      (places.length - 1);

export interface Coverage {
  /** Places more than a pixel from every earlier one. */
  apart: number;
  /** Share of sixteen parts of a pixel that some frame's centre falls into: what resampling finer needs. */
  subPixel: number;
  /** Widest extent: what the stack loses at its edges [px]. */
  extentPx: number;
  meanStepPx: number;
}

/** How well positions serve a camera. @param scale units of the places per pixel */
export function coverageOf(places: readonly Place[], scale: number): Coverage {
  const px = places.map((p) => ({ x: p.x / scale, y: p.y / scale }));
  let apart = 0;
  px.forEach((p, i) => {
    if (px.slice(0, i).every((q) => Math.hypot(p.x - q.x, p.y - q.y) >= 1)) apart++;
  });
  // whole steps of whole pixels must not fall into the cell before by rounding
  const part = (v: number) => Math.min(3, Math.max(0, Math.floor(4 * (v - Math.floor(v + 1e-9)) + 1e-9)));
  const cells = new Set(px.map((p) => 4 * part(p.x) + part(p.y)));
  const extent = (v: number[]) => Math.max(...v) - Math.min(...v);
  return {
    apart,
    subPixel: cells.size / 16,
    extentPx: px.length ? Math.max(extent(px.map((p) => p.x)), extent(px.map((p) => p.y))) : 0,
    meanStepPx: meanMove(px),
  };
}

/** Fewest different positions for which outlier rejection clears fixed pattern and satellites; common practice, no source. */
export const ENOUGH_POSITIONS = 10;

/**
 * How many different positions each filter's frames get, by going through the order frame by frame.
 * @param order names of the filters, one for each frame
 * @param every frames between dithers; 'round': after each pass through the filters
 */
export function positionsByFilter(
  order: readonly string[],
  every: number | 'round',
): { filter: string; frames: number; positions: number }[] {
  const filters = [...new Set(order)];
  const seen = new Map(filters.map((f) => [f, new Set<number>()]));
  const frames = new Map(filters.map((f) => [f, 0]));
  let position = 0;
  let since = 0;
  const inRound = new Set<string>();
  for (const f of order) {
    if (every === 'round' ? inRound.has(f) : since >= every) {
      position++;
      since = 0;
      inRound.clear();
    }
    inRound.add(f);
    since++;
    seen.get(f)!.add(position);
    frames.set(f, frames.get(f)! + 1);
  }
  return filters.map((filter) => ({ filter, frames: frames.get(filter)!, positions: seen.get(filter)!.size }));
}
