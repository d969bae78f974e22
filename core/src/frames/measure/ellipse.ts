import type { Aperture } from './sizes.ts';

/** The ellipse at half the peak of a star. */
export interface StarShape {
  fwhmPx: number;
  eccentricity: number;
  /** Of the long axis, from +x anticlockwise, 0 to 180 [deg]. */
  angleDeg: number;
}

const PARAMETERS = 7;
const MOST_STEPS = 30;
/** A step that betters the sum of squares by less than this share is the last. */
const CONVERGED = 1e-4;
/** Left over of the squared light, where steps ran out. */
const WELL = 1e-3;
const LN_BETA = { min: Math.log(1.05), max: Math.log(60) };

/**
 * Least squares fit of an elliptical Moffat profile with free exponent, A·(1 + (2^(1/β) − 1)·dᵀMd)^−β, by Levenberg’s and
 * Marquardt’s method. dᵀMd = 1 is the ellipse at half the peak, whatever β: width and wings are then told apart. Profile: Moffat (1969), Astronomy & Astrophysics 3, 455; method: Marquardt (1963),
 * SIAM Journal 11, 431 (both from memory).
 * @param hfdPx to begin with
 * @returns null where it does not converge or where the shape is none of a star within the radius
 */
export function starShape(star: Aperture, radiusPx: number, hfdPx: number): StarShape | null {
  // β = 3, and a width somewhat below the half flux diameter
  const c = 1 / (0.4 * hfdPx) ** 2;
  let p = [star.meanBetween(0, Math.max(0.5, 0.15 * hfdPx)), 0, 0, c, 0, c, Math.log(3)];
  const n = PARAMETERS;
  let best = normal(star, radiusPx, p);
  let damping = 1e-2;
  let converged = false;
  for (let step = 0; step < MOST_STEPS && !converged; step++) {
    const damped = best.matrix.map((v, i) => (i % (n + 1) === 0 ? v * (1 + damping) + 1e-30 : v));
    const by = solved(damped, best.right);
    const next = by && p.map((v, i) => v + by[i]!);
    if (next) next[6] = Math.min(LN_BETA.max, Math.max(LN_BETA.min, next[6]!));
    const sensible = next && next[3]! > 0 && next[5]! > 0 && next[3]! * next[5]! > next[4]! ** 2 && next[0]! > 0;
    const tried = sensible ? normal(star, radiusPx, next) : null;
    if (next && tried && tried.squares < best.squares) {
      converged = best.squares - tried.squares < CONVERGED * best.squares;
      [p, best, damping] = [next, tried, damping / 8];
    } else {
      damping *= 8;
      converged = damping > 1e8;
    }
  }
  // a picture without noise is bettered to the last digit: what is left then is as good as nothing
  if (!converged && best.squares > WELL * best.light) return null;
  if (!(p[0]! > 0)) return null;
  const [, dx, dy, cxx, cxy, cyy] = p as [number, number, number, number, number, number];
  const [mean, off] = [(cxx + cyy) / 2, Math.hypot((cxx - cyy) / 2, cxy)];
  const [long, short] = [2 / Math.sqrt(mean - off), 2 / Math.sqrt(mean + off)];
  if (!(long < 2 * radiusPx) || !(short > 0.3) || Math.hypot(dx, dy) > radiusPx / 2) return null;
  // M is large along the short axis: the long one lies across its strongest direction
  const angle = ((Math.atan2(2 * cxy, cxx - cyy) / 2) * 180) / Math.PI + 90;
  return {
    fwhmPx: Math.sqrt(long * short),
    eccentricity: Math.sqrt(Math.max(0, 1 - (short / long) ** 2)),
    angleDeg: ((angle % 180) + 180) % 180,
  };
}

/** Normal equations of the fit at a set of parameters, and the sum of squares there. */
function normal(star: Aperture, radiusPx: number, p: readonly number[]) {
  const [a, x0, y0, cxx, cxy, cyy, lnBeta] = p as [number, number, number, number, number, number, number];
  const beta = Math.exp(lnBeta);
  const root = 2 ** (1 / beta);
  const half = root - 1;
  // how half changes with ln β
  const halfBy = (-root * Math.LN2) / beta;
  const n = PARAMETERS;
  const matrix = new Float64Array(n * n);
  const right = new Float64Array(n);
  const d = new Float64Array(n);
  let [squares, light] = [0, 0];
  star.forEach(radiusPx, (px, py, v) => {
    const [dx, dy] = [px - x0, py - y0];
    const q = cxx * dx * dx + 2 * cxy * dx * dy + cyy * dy * dy;
    const u = 1 + half * q;
    const ln = Math.log(u);
    const shape = Math.exp(-beta * ln);
    const model = a * shape;
    const byU = (-beta * model) / u;
    const byQ = byU * half;
    d[0] = shape;
    d[1] = -2 * byQ * (cxx * dx + cxy * dy);
    d[2] = -2 * byQ * (cxy * dx + cyy * dy);
    d[3] = byQ * dx * dx;
    d[4] = 2 * byQ * dx * dy;
    d[5] = byQ * dy * dy;
    d[6] = -beta * ln * model + byU * halfBy * q;
    const off = v - model;
    squares += off * off;
    light += v * v;
    for (let i = 0; i < n; i++) {
      right[i]! += d[i]! * off;
      for (let j = 0; j <= i; j++) matrix[i * n + j]! += d[i]! * d[j]!;
    }
  });
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) matrix[j * n + i] = matrix[i * n + j]!;
  return { matrix, right, squares, light };
}

/** Solves a small symmetric system by Cholesky’s decomposition, in rows scaled by their diagonal; null where it is not positive. */
function solved(matrix: Float64Array, right: Float64Array): Float64Array | null {
  const n = right.length;
  const scale = right.map((_, i) => 1 / Math.sqrt(matrix[i * n + i]!));
  const l = matrix.map((v, k) => v * scale[Math.floor(k / n)]! * scale[k % n]!);
  const x = right.map((v, i) => v * scale[i]!);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let s = l[i * n + j]!;
      for (let k = 0; k < j; k++) s -= l[i * n + k]! * l[j * n + k]!;
      if (i === j) {
        if (!(s > 0)) return null;
        l[i * n + i] = Math.sqrt(s);
      } else l[i * n + j] = s / l[j * n + j]!;
    }
    for (let k = 0; k < i; k++) x[i]! -= l[i * n + k]! * x[k]!;
    x[i]! /= l[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= l[k * n + i]! * x[k]!;
    x[i]! /= l[i * n + i]!;
  }
  return x.map((v, i) => v * scale[i]!);
}
