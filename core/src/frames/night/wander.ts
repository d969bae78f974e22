import { phrase, type Phrase } from '../../phrases/index.ts';
import { mean } from '../../statistics/index.ts';

/** A measured frame with its stars, the brightest first, as they are measured. */
export interface StarredFrame {
  startedMs: number;
  exposureS: number;
  stars: readonly { x: number; y: number }[];
}
/** Stars compared between two frames, the brightest. */
const COMPARED = 60;
/** Widest shift between two frames looked for [px]; farther is another field. */
const WIDEST_PX = 120;
/** Cells of the vote, and how near two stars are one [px]. */
const CELL_PX = 3;
const NEAR_PX = 2;
/** Stars that have to agree. */
const AGREE = 5;

/**
 * How one frame’s stars lie against another’s: every pair of bright stars votes for a shift, and the middle of the stars
 * that agree is taken. Turned fields do not agree. Null where too few do [px].
 */
export function shiftBetween(a: StarredFrame, b: StarredFrame): { x: number; y: number; stars: number } | null {
  const [from, to] = [a.stars.slice(0, COMPARED), b.stars.slice(0, COMPARED)];
  const votes = new Map<number, number>();
  let best = { key: 0, n: 0 };
  const span = Math.ceil((2 * WIDEST_PX) / CELL_PX) + 3;
  for (const p of from)
    for (const q of to) {
      const [dx, dy] = [q.x - p.x, q.y - p.y];
      if (Math.abs(dx) > WIDEST_PX || Math.abs(dy) > WIDEST_PX) continue;
      // a shift on the border of two cells counts in both
      for (const ox of [0, 0.5])
        for (const oy of [0, 0.5]) {
          const cell = Math.floor((dx + WIDEST_PX) / CELL_PX + ox) * span + Math.floor((dy + WIDEST_PX) / CELL_PX + oy);
          const key = 4 * cell + 2 * (ox * 2) + oy * 2;
          const n = (votes.get(key) ?? 0) + 1;
          votes.set(key, n);
          if (n > best.n) best = { key, n };
        }
    }
  if (best.n < AGREE) return null;
  const [cell, offset] = [Math.floor(best.key / 4), best.key % 4];
  const centre = (i: number, o: number) => (i - o / 2 + 0.5) * CELL_PX - WIDEST_PX;
  let [x, y] = [centre(Math.floor(cell / span), offset >> 1), centre(cell % span, offset & 1)];
  let agreed: { dx: number; dy: number }[] = [];
  for (let pass = 0; pass < 3; pass++) {
    agreed = from.flatMap((p) => {
      const near = to
        .map((q) => ({ dx: q.x - p.x, dy: q.y - p.y }))
        .filter((d) => Math.hypot(d.dx - x, d.dy - y) < NEAR_PX);
      return near.length === 1 ? near : [];
    });
    if (agreed.length < AGREE) return null;
    [x, y] = [mean(agreed.map((d) => d.dx)), mean(agreed.map((d) => d.dy))];
  }
  return { x, y, stars: agreed.length };
}

export interface Wander {
  /** Drift of the stars over undithered frames, and its standard error along either axis [px/min]. */
  xPerMin: number;
  yPerMin: number;
  errorPerMin: number;
  /** Pairs of frames that tell it, of those compared. */
  pairs: number;
  compared: number;
  /** It stands out of the noise. */
  clear: boolean;
  phrase: Phrase;
}
/** Pairs that have to agree, and how closely [px]: dithers lie farther apart. */
const PAIRS = 4;
const SAME_PX = 0.6;
/** √ of the 95 % point of χ² with two degrees of freedom. */
const CHANCE = Math.sqrt(5.991);

/**
 * How stars wander from frame to frame under guiding, where nothing was dithered: what moves between guider and camera.
 * Frames that follow one another are compared; dithers throw them in all directions, an undithered drift always the same
 * way. Null where frames tell too little, or a dither lies between any two.
 */
export function wanderOf(frames: readonly StarredFrame[], scaleArcsecPerPx: number): Wander | null {
  const inOrder = [...frames].sort((a, b) => a.startedMs - b.startedMs);
  const steps = inOrder.slice(1).flatMap((b, i) => {
    const a = inOrder[i]!;
    const minutes = (b.startedMs + 500 * b.exposureS - a.startedMs - 500 * a.exposureS) / 60_000;
    const shift = minutes > 0 && minutes < 60 ? shiftBetween(a, b) : null;
    return shift ? [{ ...shift, minutes }] : [];
  });
  if (steps.length < PAIRS) return null;
  // the densest place among the shifts
  const near = (s: (typeof steps)[number]) => steps.filter((o) => Math.hypot(o.x - s.x, o.y - s.y) <= SAME_PX);
  const same = steps.map(near).reduce((best, one) => (one.length > best.length ? one : best));
  if (same.length < PAIRS || same.length < 0.3 * steps.length) return null;
  const [vx, vy] = [same.map((s) => s.x / s.minutes), same.map((s) => s.y / s.minutes)];
  const [xPerMin, yPerMin] = [mean(vx), mean(vy)];
  const spread = Math.sqrt(
    (vx.reduce((s, v) => s + (v - xPerMin) ** 2, 0) + vy.reduce((s, v) => s + (v - yPerMin) ** 2, 0)) /
      (2 * (same.length - 1)),
  );
  const errorPerMin = spread / Math.sqrt(same.length);
  const rate = Math.hypot(xPerMin, yPerMin);
  const clear = rate > 2 * CHANCE * errorPerMin && rate > 1e-6;
  const values = { pairs: same.length, rateArcsec: rate * scaleArcsecPerPx * 60, longestMin: clear ? 1 / rate : 0 };
  return {
    xPerMin,
    yPerMin,
    errorPerMin,
    pairs: same.length,
    compared: steps.length,
    clear,
    phrase: clear ? phrase('wander.drifts', values) : phrase('wander.still', values),
  };
}
