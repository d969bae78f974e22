import { LuDecomposition, Matrix } from 'ml-matrix';

export interface LinearFit {
  coefficients: number[];
  residuals: number[];
  /** (XᵀWX)⁻¹ */
  inverseNormal: number[][];
}

/**
 * Weighted linear least squares by the normal equations, for small well-scaled designs (centre the columns first).
 * @param rows one row of regressors per observation
 * @returns null when the columns cannot be told apart (reciprocal condition in the 1-norm below 1e-10)
 */
export function weightedFit(rows: number[][], y: number[], weights: number[]): LinearFit | null {
  const p = rows[0]?.length ?? 0;
  if (p === 0) return null;
  const normal = Array.from({ length: p }, () => new Array<number>(p).fill(0));
  const right = new Array<number>(p).fill(0);
  rows.forEach((row, i) => {
    const w = weights[i]!;
    for (let a = 0; a < p; a++) {
      right[a]! += w * row[a]! * y[i]!;
      for (let b = 0; b < p; b++) normal[a]![b]! += w * row[a]! * row[b]!;
    }
  });
  const lu = new LuDecomposition(new Matrix(normal));
  if (lu.isSingular()) return null;
  const inverseNormal = lu.solve(Matrix.eye(p)).to2DArray();
  if (!(norm1(normal) * norm1(inverseNormal) < 1e10)) return null;
  const coefficients = inverseNormal.map((row) => row.reduce((sum, v, a) => sum + v * right[a]!, 0));
  const residuals = rows.map((row, i) => y[i]! - row.reduce((sum, v, a) => sum + v * coefficients[a]!, 0));
  return { coefficients, residuals, inverseNormal };
}

/** Largest sum of sizes down a column. */
const norm1 = (m: readonly (readonly number[])[]) =>
  Math.max(...m.map((_, c) => m.reduce((sum, row) => sum + Math.abs(row[c]!), 0)));
