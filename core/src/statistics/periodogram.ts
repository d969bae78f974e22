import { gridSums } from './spectrumGrid.ts';

/** The strongest rhythm of an unevenly sampled series. */
export interface Rhythm {
  period: number;
  /** Peak power over the variance. */
  z: number;
  /** Chance that noise alone shows such a peak somewhere in the band. */
  falseAlarm: number;
  semiAmplitude: number;
}

/** Points of the first grid for each resolution element: between two, a peak loses at most a fifth of its power. */
const OVERSAMPLING = 2;
/** Peaks of the first grid this near the highest are refined, so many at most. */
const WORTH_REFINING = 0.7;
const MOST_REFINED = 16;
/** Longer series are averaged in neighbouring groups down to about this many points: periods stay ≥ 8 cadences. */
const MOST_POINTS = 2400;

/**
 * Lomb–Scargle periodogram of a series of mean zero: its highest peak between two periods, refined between grid points.
 * Sources: Scargle 1982, ApJ 263, 835; false-alarm probability 1 − (1 − e^−z)^M with M = band × span after
 * Press & Rybicki 1989, ApJ 338, 277.
 * @param t times, rising
 * @returns null when the band is empty or the series has no variance
 */
export function lombScargle(
  t: readonly number[],
  v: readonly number[],
  shortest: number,
  longest: number,
): Rhythm | null {
  if (t.length < 4 || !(longest > shortest)) return null;
  const span = t.at(-1)! - t[0]!;
  const m = v.reduce((s, x) => s + x, 0) / v.length;
  const variance = v.reduce((s, x) => s + (x - m) ** 2, 0) / v.length;
  if (!(variance > 0)) return null;
  const group = Math.max(1, Math.floor(t.length / MOST_POINTS));
  const [gt, gv] = group > 1 ? grouped(t, v, group, m) : [Float64Array.from(t), Float64Array.from(v, (x) => x - m)];
  const [low, high] = [1 / longest, 1 / shortest];
  const at = (f: number) => powerAt(gt, gv, f);
  const df = 1 / (OVERSAMPLING * span);
  const [first, last] = [Math.ceil(low / df), Math.floor(high / df)];
  const sums = gridSums(gt, gv, df, last);
  const grid = Float64Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
    const k = first + i;
    return sums ? powerOf(gt.length, sums.cc[k]!, sums.cs[k]!, sums.vc[k]!, sums.vs[k]!) : at(k * df);
  });
  let [best, most] = [low, at(low)];
  if (at(high) > most) [best, most] = [high, at(high)];
  for (const i of peaksOf(grid)) {
    let f = (first + i) * df;
    let p = at(f);
    for (let h = df / 2; h > df / 512; h /= 2)
      for (const g of [f - h, f + h])
        if (g >= low && g <= high) {
          const q = at(g);
          if (q > p) [f, p] = [g, q];
        }
    if (p > most) [best, most] = [f, p];
  }
  // averaging in groups lowers power with the number of points; power is scaled back to the full series
  const power = (most * t.length) / gt.length;
  const z = power / variance;
  const trials = (high - low) * span;
  const falseAlarm = -Math.expm1(trials * Math.log1p(-Math.exp(-z)));
  return { period: 1 / best, z, falseAlarm, semiAmplitude: Math.sqrt((4 * power) / t.length) };
}

/** Semi-amplitude at each of many periods, for drawing; the series may be uneven. */
export function semiAmplitudes(t: readonly number[], v: readonly number[], periods: readonly number[]): number[] {
  if (t.length < 4) return periods.map(() => 0);
  const m = v.reduce((s, x) => s + x, 0) / v.length;
  const group = Math.max(1, Math.floor(t.length / MOST_POINTS));
  const [gt, gv] = group > 1 ? grouped(t, v, group, m) : [Float64Array.from(t), Float64Array.from(v, (x) => x - m)];
  return periods.map((period) => Math.sqrt((4 * powerAt(gt, gv, 1 / period)) / gt.length));
}

/** Local maxima worth a closer look, the highest first. */
function peaksOf(powers: Float64Array): number[] {
  let most = 0;
  for (const p of powers) most = Math.max(most, p);
  const peaks: number[] = [];
  for (let i = 0; i < powers.length; i++)
    if (powers[i]! >= WORTH_REFINING * most && powers[i]! >= (powers[i - 1] ?? 0) && powers[i]! >= (powers[i + 1] ?? 0))
      peaks.push(i);
  return peaks.sort((a, b) => powers[b]! - powers[a]!).slice(0, MOST_REFINED);
}

function powerAt(t: Float64Array, v: Float64Array, f: number): number {
  let [cc, cs, vc, vs] = [0, 0, 0, 0];
  for (let k = 0; k < t.length; k++) {
    const angle = 2 * Math.PI * f * (t[k]! - t[0]!);
    const a = Math.cos(angle);
    const b = Math.sin(angle);
    cc += a * a;
    cs += a * b;
    vc += v[k]! * a;
    vs += v[k]! * b;
  }
  return powerOf(t.length, cc, cs, vc, vs);
}

/** Power from the sums of cos², cos·sin, v·cos, v·sin: the two quadratures are made orthogonal first. */
function powerOf(n: number, cc: number, cs: number, vc: number, vs: number): number {
  const ss = n - cc;
  const tau = 0.5 * Math.atan2(2 * cs, cc - ss);
  const [ct, st] = [Math.cos(tau), Math.sin(tau)];
  const c2 = cc * ct * ct + 2 * cs * ct * st + ss * st * st;
  const s2 = cc * st * st - 2 * cs * ct * st + ss * ct * ct;
  const [a, b] = [vc * ct + vs * st, vs * ct - vc * st];
  return 0.5 * ((c2 > 1e-9 * n ? (a * a) / c2 : 0) + (s2 > 1e-9 * n ? (b * b) / s2 : 0));
}

function grouped(t: readonly number[], v: readonly number[], size: number, mean: number): [Float64Array, Float64Array] {
  const n = Math.ceil(t.length / size);
  const [gt, gv] = [new Float64Array(n), new Float64Array(n)];
  for (let g = 0; g < n; g++) {
    const [from, to] = [g * size, Math.min(t.length, (g + 1) * size)];
    for (let i = from; i < to; i++) {
      gt[g]! += t[i]! / (to - from);
      gv[g]! += (v[i]! - mean) / (to - from);
    }
  }
  return [gt, gv];
}
