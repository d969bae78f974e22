import { skyRow, type SkyMap } from './sky.ts';

/** Pixels that hang together above the sky. */
export interface Group {
  /** Centroid of the light above the sky [px]. */
  x: number;
  y: number;
  pixels: number;
  flux: number;
  peak: number;
  saturated: boolean;
  /** Standard deviations of the light along its long and its short axis [px]. */
  long: number;
  short: number;
}

/** A pixel belongs to a group more than so many times the noise above the sky. */
const ABOVE = 3;
/** A pixel alone that is brighter than this is hot: it is taken for sky. */
const HOT = 5;

/** Numbers that become more. */
class Growing {
  values = new Int32Array(1 << 14);
  length = 0;
  push(v: number) {
    if (this.length === this.values.length) {
      const more = new Int32Array(2 * this.length);
      more.set(this.values);
      this.values = more;
    }
    this.values[this.length++] = v;
  }
}

/**
 * Takes the sky off a picture in place and gathers what stands above it into groups of pixels that touch by side or
 * corner. Rows are cut into runs, and runs that touch are joined, so that no second picture is needed.
 * @param saturatedFrom a pixel from which on it is full
 */
export function groupsAbove(values: Float32Array, w: number, h: number, sky: SkyMap, saturatedFrom: number): Group[] {
  const limit = ABOVE * sky.noise;
  const [starts, ends, full] = [new Growing(), new Growing(), new Growing()];
  const rowAt = new Int32Array(h + 1);
  const level = new Float32Array(w);
  for (let y = 0; y < h; y++) {
    skyRow(sky, y, level);
    rowAt[y] = starts.length;
    let open = false;
    for (let x = 0, k = y * w; x < w; x++, k++) {
      const raw = values[k]!;
      const v = raw - level[x]!;
      values[k] = v;
      if (v > limit) {
        if (!open) {
          starts.push(k);
          full.push(0);
          open = true;
        }
        if (raw >= saturatedFrom) full.values[full.length - 1] = 1;
      } else if (open) {
        ends.push(k);
        open = false;
      }
    }
    if (open) ends.push((y + 1) * w);
  }
  rowAt[h] = starts.length;
  const root = joined(starts.values, ends.values, rowAt, w);
  return gathered(
    values,
    w,
    { starts: starts.values, ends: ends.values, count: starts.length, full: full.values, root },
    HOT * sky.noise,
  );
}

/** For each run the first run of its group: those of neighbouring rows that touch are joined. */
function joined(starts: Int32Array, ends: Int32Array, rowAt: Int32Array, w: number): Int32Array {
  const parent = Int32Array.from({ length: rowAt.at(-1)! }, (_, i) => i);
  const find = (i: number) => {
    while (parent[i]! !== i) i = parent[i] = parent[parent[i]!]!;
    return i;
  };
  for (let y = 1; y + 1 < rowAt.length; y++) {
    let above = rowAt[y - 1]!;
    for (let i = rowAt[y]!; i < rowAt[y + 1]!; i++) {
      // in the columns of the row below: a corner is touched one pixel further
      while (above < rowAt[y]! && ends[above]! + w < starts[i]!) above++;
      for (let a = above; a < rowAt[y]! && starts[a]! + w <= ends[i]!; a++) {
        const [p, q] = [find(a), find(i)];
        if (p < q) parent[q] = p;
        else parent[p] = q;
      }
    }
  }
  return parent.map((_, i) => find(i));
}

interface Runs {
  starts: Int32Array;
  ends: Int32Array;
  count: number;
  full: Int32Array;
  root: Int32Array;
}
function gathered(values: Float32Array, w: number, runs: Runs, hot: number): Group[] {
  const place = new Map<number, number>();
  const sums: number[][] = [];
  const saturated: boolean[] = [];
  const parts = new Int32Array(runs.count);
  for (const r of runs.root) parts[r]!++;
  for (let i = 0; i < runs.count; i++) {
    const r = runs.root[i]!;
    // a pixel alone is dealt with at once: a bad sensor has millions of them
    const long = runs.ends[i]! - runs.starts[i]!;
    if (long < 2 && parts[r] === 1) {
      if (values[runs.starts[i]!]! > hot) values[runs.starts[i]!] = 0;
      continue;
    }
    let at = place.get(r);
    if (at === undefined) {
      at = sums.length;
      place.set(r, at);
      // pixels, flux, x, y, xx, xy, yy, peak; places are counted from the first pixel, which keeps them small
      sums.push([0, 0, 0, 0, 0, 0, 0, 0, runs.starts[i]! % w, Math.floor(runs.starts[i]! / w)]);
      saturated.push(false);
    }
    const s = sums[at]!;
    const dy = Math.floor(runs.starts[i]! / w) - s[9]!;
    const row = (s[9]! + dy) * w + s[8]!;
    for (let k = runs.starts[i]!; k < runs.ends[i]!; k++) {
      const v = values[k]!;
      const dx = k - row;
      s[0]!++;
      s[1]! += v;
      s[2]! += v * dx;
      s[3]! += v * dy;
      s[4]! += v * dx * dx;
      s[5]! += v * dx * dy;
      s[6]! += v * dy * dy;
      if (v > s[7]!) s[7] = v;
    }
    if (runs.full[i]) saturated[at] = true;
  }
  return sums.map((s, i) => {
    const [pixels, flux, sx, sy, sxx, sxy, syy, peak, x0, y0] = s as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const [mx, my] = [sx / flux, sy / flux];
    const [a, b, c] = [sxx / flux - mx * mx, sxy / flux - mx * my, syy / flux - my * my];
    const [mean, half] = [(a + c) / 2, Math.hypot((a - c) / 2, b)];
    const [long, short] = [Math.sqrt(Math.max(0, mean + half)), Math.sqrt(Math.max(0, mean - half))];
    return { x: x0 + mx, y: y0 + my, pixels, flux, peak, saturated: saturated[i]!, long, short };
  });
}
