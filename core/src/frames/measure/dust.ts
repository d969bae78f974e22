import { Matrix, solve } from 'ml-matrix';

/** A round dark spot away from the edges: dust on glass before the sensor, out of focus. Pixels of the picture as it lies. */
export interface DustSpot {
  x: number;
  y: number;
  diameterPx: number;
  /** Light it takes at its darkest, as a share of the sky around it. */
  depth: number;
}
/** Tiles across the picture, and values of each that are looked at. */
const ACROSS = 120;
const LOOKED_AT = 49;
/** A tile is dark by so many times its own noise, and by so much of the sky at least. */
const DARK = { sigmas: 4, share: 0.004 };
/** Tiles a spot consists of at least, how far from round its box may be, and how large it may be against the picture. */
const SPOT = { tiles: 5, round: 0.6, filled: 0.35, largest: 0.3 };
/** The sky beside a spot keeps to the smooth one within this part of the spot’s depth, on all four sides. */
const BESIDE = 0.4;
/** Spots listed at most, the deepest first. */
const MOST = 30;

/**
 * Dust in a picture: what is darker than a smooth sky, round, and has sky on all sides. A prism’s shadow reaches the edge, a
 * gradient and a lens’s fall of light are smooth, a nebula is bright: none of them is dust.
 * The noise is that of the tiles themselves, stars and all.
 * @returns the deepest first
 */
export function dustSpots(values: Float32Array, w: number, h: number): DustSpot[] {
  const tile = Math.max(4, Math.ceil(w / ACROSS));
  const [gw, gh] = [Math.floor(w / tile), Math.floor(h / tile)];
  if (gw < 12 || gh < 12) return [];
  const level = tileLevels(values, w, tile, gw, gh);
  const smooth = smoothSky(level, gw, gh);
  const off = Float32Array.from(level, (v, i) => Math.abs(v - smooth[i]!)).sort();
  const tileNoise = 1.4826 * off[off.length >> 1]!;
  const dip = Float32Array.from(level, (v, i) => (smooth[i]! > 0 ? 1 - v / smooth[i]! : 0));
  const dark = (i: number) => dip[i]! > Math.max(DARK.share, (DARK.sigmas * tileNoise) / smooth[i]!);
  const seen = new Uint8Array(gw * gh);
  const spots: DustSpot[] = [];
  for (let i = 0; i < gw * gh; i++) {
    if (seen[i] || !dark(i)) continue;
    const spot = spotOf(groupFrom(i, gw, gh, seen, dark), dip, gw, gh);
    if (spot)
      spots.push({
        x: (spot.x + 0.5) * tile,
        y: (spot.y + 0.5) * tile,
        diameterPx: spot.diameter * tile,
        depth: spot.depth,
      });
  }
  return spots.sort((a, b) => b.depth - a.depth).slice(0, MOST);
}

/** The middle value of each tile, from values spread over it. */
function tileLevels(values: Float32Array, w: number, tile: number, gw: number, gh: number) {
  const level = new Float32Array(gw * gh);
  const side = Math.min(tile, Math.floor(Math.sqrt(LOOKED_AT)));
  const step = tile / side;
  const scratch = new Float32Array(side * side);
  for (let ty = 0; ty < gh; ty++)
    for (let tx = 0; tx < gw; tx++) {
      let n = 0;
      for (let y = 0; y < side; y++)
        for (let x = 0; x < side; x++) {
          const v = values[(ty * tile + Math.floor(y * step)) * w + tx * tile + Math.floor(x * step)]!;
          if (v === v) scratch[n++] = v;
        }
      const sorted = scratch.subarray(0, n).sort();
      level[ty * gw + tx] = n ? sorted[n >> 1]! : 0;
    }
  return level;
}

/** Terms of a sky that is smooth: slopes, bends, and the fourth power of the distance for a lens. */
const terms = (x: number, y: number) => [1, x, y, x * x, x * y, y * y, (x * x + y * y) ** 2];
/** A smooth surface through the tiles, those that stray left out twice over. */
function smoothSky(level: Float32Array, gw: number, gh: number): Float32Array {
  const at = (i: number) => terms((2 * (i % gw)) / (gw - 1) - 1, (2 * Math.floor(i / gw)) / (gh - 1) - 1);
  const size = terms(0, 0).length;
  let out = level;
  let kept = Uint8Array.from(level, () => 1);
  for (let pass = 0; pass < 3; pass++) {
    const [a, b] = [Matrix.zeros(size, size), Matrix.zeros(size, 1)];
    for (let i = 0; i < level.length; i++) {
      if (!kept[i]) continue;
      const t = at(i);
      for (let p = 0; p < size; p++) {
        b.set(p, 0, b.get(p, 0) + t[p]! * level[i]!);
        for (let q = 0; q < size; q++) a.set(p, q, a.get(p, q) + t[p]! * t[q]!);
      }
    }
    const c = solve(a, b).to1DArray();
    out = Float32Array.from(level, (_, i) => at(i).reduce((s, t, p) => s + t * c[p]!, 0));
    const off = Float32Array.from(level, (v, i) => Math.abs(v - out[i]!)).sort();
    const limit = 3 * 1.4826 * off[off.length >> 1]!;
    kept = Uint8Array.from(level, (v, i) => Number(Math.abs(v - out[i]!) <= limit));
  }
  return out;
}

/** Dark tiles that touch, diagonally too. */
function groupFrom(start: number, gw: number, gh: number, seen: Uint8Array, dark: (i: number) => boolean): number[] {
  const group = [start];
  seen[start] = 1;
  // those found on the way are looked at too
  for (const here of group) {
    const [x, y] = [here % gw, Math.floor(here / gw)];
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        const [nx, ny] = [x + dx, y + dy];
        if (nx < 0 || ny < 0 || nx >= gw || ny >= gh) continue;
        const i = ny * gw + nx;
        if (seen[i] || !dark(i)) continue;
        seen[i] = 1;
        group.push(i);
      }
  }
  return group;
}

/** A group as a spot, where it is round, small and surrounded by sky; in tiles. */
function spotOf(
  group: readonly number[],
  dip: Float32Array,
  gw: number,
  gh: number,
): { x: number; y: number; diameter: number; depth: number } | null {
  if (group.length < SPOT.tiles) return null;
  const [xs, ys] = [group.map((i) => i % gw), group.map((i) => Math.floor(i / gw))];
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  if (left === 0 || low === 0 || right === gw - 1 || high === gh - 1) return null;
  const [bw, bh] = [right - left + 1, high - low + 1];
  if (Math.min(bw, bh) / Math.max(bw, bh) < SPOT.round || Math.max(bw, bh) > SPOT.largest * gw) return null;
  // a ring with a hole fills less of its box than a disk does
  if (group.length / (bw * bh) < SPOT.filled) return null;
  const depths = group.map((i) => dip[i]!).sort((a, b) => b - a);
  const depth = depths[Math.floor(depths.length / 10)]!;
  // the middle one of each side: a star beside a spot is no slope
  const beside = (x0: number, x1: number, y0: number, y1: number) => {
    const all: number[] = [];
    for (let y = Math.max(0, y0); y <= Math.min(gh - 1, y1); y++)
      for (let x = Math.max(0, x0); x <= Math.min(gw - 1, x1); x++) all.push(dip[y * gw + x]!);
    all.sort((a, b) => a - b);
    return all[all.length >> 1] ?? 0;
  };
  const far = Math.max(2, Math.round(Math.max(bw, bh) / 3));
  const sides = [
    beside(left - far, left - 1, low, high),
    beside(right + 1, right + far, low, high),
    beside(left, right, low - far, low - 1),
    beside(left, right, high + 1, high + far),
  ];
  if (sides.some((s) => Math.abs(s) > BESIDE * depth)) return null;
  return { x: (left + right) / 2, y: (low + high) / 2, diameter: (bw + bh) / 2, depth };
}
