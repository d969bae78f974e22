/** Tiles of about this side [px]. */
const TILE = 64;
/** What lies beyond so many scatters is no sky [σ]. */
const CLIP = 3;
/** Pixels of a tile that are looked at in a large picture: its median is then known to a seventeenth of the noise, with its neighbours’ to a fortieth. */
const LOOKED_AT = 455;
/** From so many pixels on a picture is large. */
const LARGE = 4e6;

/** The sky behind the stars: a level for each tile, with straight lines between their middles. */
export interface SkyMap {
  columns: number;
  rows: number;
  /** Middles of the tiles [px]. */
  x: Float64Array;
  y: Float64Array;
  /** Row by row, median of each tile and its neighbours. */
  level: Float64Array;
  /** Median over the tiles of the spread within each. */
  noise: number;
}

/** Median of the first n, which are put in order. */
export function medianIn(a: Float32Array | Float64Array, n: number): number {
  if (n === 0) return NaN;
  const sorted = a.subarray(0, n).sort();
  return (sorted[(n - 1) >> 1]! + sorted[n >> 1]!) / 2;
}

/**
 * Median and standard deviation of the first n after clipping at 3 σ until nothing is clipped any more. They are put in
 * order once; what is clipped then lies at the two ends.
 */
export function clipped(a: Float32Array, n: number): { median: number; sigma: number } {
  const sorted = a.subarray(0, n).sort();
  let [lo, hi] = [0, n];
  const about = medianIn(a, n);
  let [sum, squares] = [0, 0];
  const count = (i: number, sign: 1 | -1) => {
    const d = sorted[i]! - about;
    sum += sign * d;
    squares += sign * d * d;
  };
  for (let i = 0; i < n; i++) count(i, 1);
  for (;;) {
    const left = hi - lo;
    const median = (sorted[lo + ((left - 1) >> 1)]! + sorted[lo + (left >> 1)]!) / 2;
    const sigma = Math.sqrt(Math.max(0, squares / left - (sum / left) ** 2));
    const limit = CLIP * sigma;
    while (lo < hi - 1 && median - sorted[lo]! > limit) count(lo++, -1);
    while (hi > lo + 1 && sorted[hi - 1]! - median > limit) count(--hi, -1);
    if (hi - lo === left) return { median, sigma };
  }
}

const edges = (size: number, parts: number) =>
  Array.from({ length: parts + 1 }, (_, i) => Math.floor((i * size) / parts));

/** The sky of a picture: clipped median of each tile, then the median of each with its neighbours. */
export function skyMap(values: Float32Array, w: number, h: number): SkyMap {
  const [columns, rows] = [Math.max(1, Math.round(w / TILE)), Math.max(1, Math.round(h / TILE))];
  const [ex, ey] = [edges(w, columns), edges(h, rows)];
  const raw = new Float64Array(columns * rows);
  const spread: number[] = [];
  const step = w * h > LARGE ? Math.max(1, Math.round(Math.sqrt((TILE * TILE) / LOOKED_AT))) : 1;
  const scratch = new Float32Array((Math.ceil(w / columns) + 1) * (Math.ceil(h / rows) + 1));
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      let n = 0;
      for (let y = ey[r]!; y < ey[r + 1]!; y += step)
        for (let x = ex[c]! + (y % step), k = y * w + x; x < ex[c + 1]!; x += step, k += step) {
          const v = values[k]!;
          if (v === v) scratch[n++] = v;
        }
      const { median, sigma } = clipped(scratch, n);
      raw[r * columns + c] = median;
      if (n > 8) spread.push(sigma);
    }
  const middle = (e: number[]) => Float64Array.from(e.slice(1), (b, i) => (e[i]! + b - 1) / 2);
  const noise = spread.length ? medianIn(Float64Array.from(spread), spread.length) : 0;
  return { columns, rows, x: middle(ex), y: middle(ey), level: withNeighbours(raw, columns, rows), noise };
}

/** Each tile’s median with those around it; a tile without a valid pixel takes theirs. */
function withNeighbours(raw: Float64Array, columns: number, rows: number): Float64Array {
  const near = new Float64Array(9);
  const fallback = medianIn(
    raw.filter((v) => v === v),
    raw.filter((v) => v === v).length,
  );
  return raw.map((_, i) => {
    const [r, c] = [Math.floor(i / columns), i % columns];
    let n = 0;
    for (let y = Math.max(0, r - 1); y <= Math.min(rows - 1, r + 1); y++)
      for (let x = Math.max(0, c - 1); x <= Math.min(columns - 1, c + 1); x++) {
        const v = raw[y * columns + x]!;
        if (v === v) near[n++] = v;
      }
    return n ? medianIn(near, n) : fallback;
  });
}

/** The two middles around a place and how far between them it lies; beyond the outermost, that one. */
function between(middles: Float64Array, at: number): [number, number, number] {
  const last = middles.length - 1;
  if (at <= middles[0]!) return [0, 0, 0];
  if (at >= middles[last]!) return [last, last, 0];
  let i = Math.min(last - 1, Math.floor(((at - middles[0]!) / (middles[last]! - middles[0]!)) * last));
  while (middles[i]! > at) i--;
  while (middles[i + 1]! <= at) i++;
  return [i, i + 1, (at - middles[i]!) / (middles[i + 1]! - middles[i]!)];
}

/** The sky along one row of pixels, written into `into`. */
export function skyRow(sky: SkyMap, y: number, into: Float32Array): void {
  const [a, b, f] = between(sky.y, y);
  const { columns, level, x: mid } = sky;
  const at = (c: number) => level[a * columns + c]! * (1 - f) + level[b * columns + c]! * f;
  const w = into.length;
  into.fill(at(0), 0, Math.min(w, Math.ceil(mid[0]!)));
  for (let c = 0; c + 1 < columns; c++) {
    const [from, to] = [at(c), at(c + 1)];
    const slope = (to - from) / (mid[c + 1]! - mid[c]!);
    for (let x = Math.ceil(mid[c]!); x < mid[c + 1]!; x++) into[x] = from + slope * (x - mid[c]!);
  }
  into.fill(at(columns - 1), Math.ceil(mid[columns - 1]!));
}

/** Median of the sky over a rectangle, from its tiles’ middles and its corners. */
export function skyOver(sky: SkyMap, x0: number, x1: number, y0: number, y1: number): number {
  const values: number[] = [];
  const N = 12;
  for (let i = 0; i < N; i++)
    for (let j = 0; j < N; j++) {
      const [ax, bx, fx] = between(sky.x, x0 + ((i + 0.5) / N) * (x1 - x0));
      const [ay, by, fy] = between(sky.y, y0 + ((j + 0.5) / N) * (y1 - y0));
      const at = (r: number, c: number) => sky.level[r * sky.columns + c]!;
      values.push(
        (at(ay, ax) * (1 - fx) + at(ay, bx) * fx) * (1 - fy) + (at(by, ax) * (1 - fx) + at(by, bx) * fx) * fy,
      );
    }
  return medianIn(Float64Array.from(values), values.length);
}
