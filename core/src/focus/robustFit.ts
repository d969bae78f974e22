import { median } from 'simple-statistics';
import { studentFactor, weightedFit } from '../statistics/index.ts';
import { descend, jacobianOf, model } from './hyperbola.ts';

/** A hyperbola fitted to points of which some may be wrong. */
export interface Fit {
  a: number;
  b: number;
  c: number;
  weights: number[];
  residuals: number[];
  loss: number;
  /** Robust σ of one point of weight one. */
  scale: number;
  /** Points were put back: weights are those given, and errors those of least squares. */
  plain?: boolean;
}

/** Tukey's bisquare constant: 95 % efficient on normal errors. */
const BISQUARE_C = 4.685;
/** A point with less than this share of its weight is set aside. */
export const SET_ASIDE = 0.05;

/** The fit from one first guess of the vertex: gross outliers lose their say. */
export function robustFit(x: number[], y: number[], prior: number[], c0: number): Fit {
  const low = Math.min(...y);
  const reach = Math.max(...x.map((v) => Math.abs(v - c0)));
  let [a, b, c] = [low, Math.max(...y) / Math.max(reach, 1e-6), c0];
  let w = prior;
  let residuals: number[] = [];
  let scale = 1;
  for (let i = 0; i < 40; i++) {
    const next = descend(x, y, w, [Math.max(a, 0.05 * low), b, c]);
    const step = Math.abs(next[0] - a) + Math.abs(next[1] - b) + Math.abs(next[2] - c);
    [a, b, c] = next;
    residuals = x.map((xi, k) => y[k]! - model(a, b, c, xi));
    const n = prior.filter((p) => p > 0).length;
    scale = Math.max(
      1.4826 * median(residuals.filter((_, k) => prior[k]! > 0).map(Math.abs)) * Math.sqrt(n / Math.max(1, n - 3)),
      1e-6 * low,
    );
    w = residuals.map((r, k) => {
      const u = (r * Math.sqrt(prior[k]!)) / (BISQUARE_C * scale);
      return Math.abs(u) >= 1 ? 0 : prior[k]! * (1 - u * u) ** 2;
    });
    if (w.filter((v) => v > 0).length < 4) w = prior;
    if (i > 1 && step < 1e-7) break;
  }
  const loss = residuals.reduce((s, r, k) => {
    const u = (r * Math.sqrt(prior[k]!)) / (BISQUARE_C * scale);
    return s + (Math.abs(u) >= 1 ? 1 : 1 - (1 - u * u) ** 3);
  }, 0);
  return { a, b, c, weights: w, residuals, loss: loss * scale * scale, scale };
}

/**
 * Variance of one point that goes with plain least squares weights: Σψ²/(n − p) over (mean ψ′)², with the correction for
 * few points. Source: Huber, Robust Statistics (1981), ch. 7 (from memory), with the bisquare's ψ.
 */
export function robustVariance(fit: Fit, prior: readonly number[], dof: number): number {
  const used = prior.flatMap((p, i) => (p > 0 ? [i] : []));
  const n = used.length;
  let [psi2, slope, slope2] = [0, 0, 0];
  for (const i of used) {
    const u = (fit.residuals[i]! * Math.sqrt(prior[i]!)) / (BISQUARE_C * fit.scale);
    if (Math.abs(u) >= 1) continue;
    psi2 += prior[i]! * (fit.residuals[i]! * (1 - u * u) ** 2) ** 2;
    const d = (1 - u * u) * (1 - 5 * u * u);
    slope += d / n;
    slope2 += (d * d) / n;
  }
  const kappa = 1 + (3 / n) * ((slope2 - slope ** 2) / slope ** 2);
  return (kappa ** 2 * (psi2 / dof)) / slope ** 2;
}

/**
 * Puts points back that the robust weights set aside without being clearly outliers: with few points the scatter is badly
 * known, and a fit that throws away its worst point quotes too small an error. A point stays out when it lies beyond what
 * one in a thousand would by the scatter of the others. With one put back the rest is plain least squares.
 */
export function withDoubtful(fit: Fit, x: number[], y: number[], prior: number[]): Fit {
  const out = fit.weights.map((w, i) => prior[i]! > 0 && w <= SET_ASIDE * prior[i]!);
  const inside = prior.map((p, i) => (out[i] ? 0 : p));
  const dof = inside.filter((w) => w > 0).length - 3;
  if (!out.includes(true) || dof < 1) return fit;
  const [a, b, c] = descend(x, y, inside, [fit.a, fit.b, fit.c]);
  const off = x.map((v, i) => (y[i]! - model(a, b, c, v)) * Math.sqrt(prior[i]!));
  const scatter = Math.sqrt(off.reduce((s, r, i) => s + (inside[i]! > 0 ? r * r : 0), 0) / dof);
  // where the others foretell a point badly (at the ends), it may lie farther off
  const rows = jacobianOf(x, a, b, c);
  const normal = weightedFit(rows, y, inside);
  const foretold = (i: number) => {
    const j = rows[i]!;
    const v = normal
      ? j.reduce((s, p, r) => s + j.reduce((q, o, k) => q + p * normal.inverseNormal[r]![k]! * o, 0), 0)
      : 0;
    return Math.sqrt(1 + prior[i]! * v);
  };
  const beyond = studentFactor(dof, 0.999) * scatter;
  const weights = prior.map((p, i) => (out[i] && Math.abs(off[i]!) > beyond * foretold(i) ? 0 : p));
  if (!weights.some((w, i) => w > 0 && out[i])) return fit;
  const [a2, b2, c2] = descend(x, y, weights, [a, b, c]);
  const residuals = x.map((v, i) => y[i]! - model(a2, b2, c2, v));
  const n = weights.filter((w) => w > 0).length;
  const squares = residuals.reduce((s, r, i) => s + weights[i]! * r * r, 0);
  return {
    a: a2,
    b: b2,
    c: c2,
    weights,
    residuals,
    loss: squares,
    scale: Math.sqrt(squares / Math.max(1, n - 3)),
    plain: true,
  };
}
