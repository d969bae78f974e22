import { median } from 'simple-statistics';
import { weightedFit } from './leastSquares.ts';

/** Residuals beyond this many robust σ lose influence; 95 % efficient on normal errors (Huber 1964). */
export const HUBER_K = 1.345;
/** Median absolute value to σ of a normal distribution. */
export const MAD_TO_SIGMA = 1.4826;

export interface RobustFit {
  coefficients: number[];
  residuals: number[];
  /** Covariance of the coefficients by Huber's asymptotic formula. */
  covariance: number[][];
  /** 1.4826·median|r|·√(n/(n−p)) */
  scale: number;
  iterations: number;
  converged: boolean;
}

/**
 * Robust (Huber) linear regression by iteratively reweighted least squares.
 * Source: P. J. Huber, Robust Statistics (1981), ch. 7 (from memory): covariance
 * κ² · [Σψ²/(n−p)] / [mean ψ′]² · (XᵀX)⁻¹ with κ = 1 + (p/n)·var(ψ′)/mean(ψ′)².
 * @returns null when the design is singular
 */
export function huberFit(rows: number[][], y: number[], prior: number[]): RobustFit | null {
  const n = y.length;
  const p = rows[0]?.length ?? 0;
  const root = prior.map(Math.sqrt);
  let fit = weightedFit(rows, y, prior);
  if (!fit) return null;
  const plain = fit.inverseNormal;
  let scale = 0;
  let iterations = 0;
  let converged = false;
  const scaleOf = (r: number[]) =>
    MAD_TO_SIGMA * median(r.map((v, i) => Math.abs(v) * root[i]!)) * Math.sqrt(n / Math.max(1, n - p));
  const floor = 1e-9 * Math.max(1, ...y.map(Math.abs));
  while (iterations < 200 && !converged) {
    iterations++;
    scale = Math.max(scaleOf(fit.residuals), floor);
    const weights = fit.residuals.map((r, i) => {
      const u = (Math.abs(r) * root[i]!) / scale;
      return prior[i]! * (u <= HUBER_K ? 1 : HUBER_K / u);
    });
    const next = weightedFit(rows, y, weights);
    if (!next) break;
    const step = Math.max(...next.coefficients.map((c, i) => Math.abs(c - fit!.coefficients[i]!)));
    converged = step <= 1e-8 * Math.max(scale, floor);
    fit = next;
  }
  scale = Math.max(scaleOf(fit.residuals), floor);
  const u = fit.residuals.map((r, i) => (r * root[i]!) / scale);
  const inside = u.filter((v) => Math.abs(v) <= HUBER_K).length / n;
  const psi2 = u.reduce((s, v) => s + Math.min(Math.abs(v), HUBER_K) ** 2, 0);
  const m = Math.max(inside, 1 / n);
  const kappa = 1 + (p / n) * ((1 - m) / m);
  const factor = (kappa ** 2 * scale ** 2 * (psi2 / Math.max(1, n - p))) / m ** 2;
  return {
    coefficients: fit.coefficients,
    residuals: fit.residuals,
    covariance: plain.map((row) => row.map((v) => v * factor)),
    scale,
    iterations,
    converged,
  };
}
