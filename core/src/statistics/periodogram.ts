/** The strongest rhythm of an unevenly sampled series. */
export interface Rhythm {
  period: number;
  /** Peak power over the variance. */
  z: number;
  /** Chance that noise alone shows such a peak somewhere in the band. */
  falseAlarm: number;
  semiAmplitude: number;
}

/** Points of the grid for each resolution element. */
const OVERSAMPLING = 6;
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
  const step = 1 / (OVERSAMPLING * span);
  const n = Math.max(2, Math.ceil((high - low) / step));
  let best = 0;
  let most = -1;
  // the angle grows by a fixed amount from one frequency to the next: rotations instead of sines
  const t0 = t[0]!;
  const c = new Float64Array(gt.length);
  const s = new Float64Array(gt.length);
  const dc = new Float64Array(gt.length);
  const ds = new Float64Array(gt.length);
  const df = (high - low) / n;
  for (let k = 0; k < gt.length; k++) {
    const a = 2 * Math.PI * low * (gt[k]! - t0);
    const b = 2 * Math.PI * df * (gt[k]! - t0);
    [c[k], s[k], dc[k], ds[k]] = [Math.cos(a), Math.sin(a), Math.cos(b), Math.sin(b)];
  }
  for (let i = 0; i <= n; i++) {
    const p = powerFrom(c, s, gv);
    if (p > most) [most, best] = [p, low + i * df];
    for (let k = 0; k < gt.length; k++) {
      const x = c[k]! * dc[k]! - s[k]! * ds[k]!;
      s[k] = s[k]! * dc[k]! + c[k]! * ds[k]!;
      c[k] = x;
    }
  }
  const at = (f: number) => {
    for (let k = 0; k < gt.length; k++) {
      const a = 2 * Math.PI * f * (gt[k]! - t0);
      [c[k], s[k]] = [Math.cos(a), Math.sin(a)];
    }
    return powerFrom(c, s, gv);
  };
  for (let h = df / 2; h > df / 256; h /= 2)
    for (const f of [best - h, best + h])
      if (f >= low && f <= high) {
        const p = at(f);
        if (p > most) [most, best] = [p, f];
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
  const c = new Float64Array(gt.length);
  const s = new Float64Array(gt.length);
  return periods.map((period) => {
    for (let k = 0; k < gt.length; k++) {
      const a = (2 * Math.PI * (gt[k]! - gt[0]!)) / period;
      [c[k], s[k]] = [Math.cos(a), Math.sin(a)];
    }
    return Math.sqrt((4 * powerFrom(c, s, gv)) / gt.length);
  });
}

/** Power at one frequency from the cosines and sines of its angles: the quadratures are made orthogonal first. */
function powerFrom(c: Float64Array, s: Float64Array, v: Float64Array): number {
  let [cc, ss, cs, vc, vs] = [0, 0, 0, 0, 0];
  for (let k = 0; k < v.length; k++) {
    const [a, b, x] = [c[k]!, s[k]!, v[k]!];
    cc += a * a;
    ss += b * b;
    cs += a * b;
    vc += x * a;
    vs += x * b;
  }
  const tau = 0.5 * Math.atan2(2 * cs, cc - ss);
  const [ct, st] = [Math.cos(tau), Math.sin(tau)];
  const c2 = cc * ct * ct + 2 * cs * ct * st + ss * st * st;
  const s2 = cc * st * st - 2 * cs * ct * st + ss * ct * ct;
  const [a, b] = [vc * ct + vs * st, vs * ct - vc * st];
  return 0.5 * ((c2 > 1e-12 ? (a * a) / c2 : 0) + (s2 > 1e-12 ? (b * b) / s2 : 0));
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
