import { Matrix, inverse, EigenvalueDecomposition } from 'ml-matrix';

export interface LinearFit {
  coefficients: number[];
  residuals: number[];
  /** (XᵀWX)⁻¹ */
  inverseNormal: number[][];
}

/**
 * Weighted linear least squares by the normal equations, for small well-scaled designs (centre the columns first).
 * @param rows one row of regressors per observation
 * @returns null when the columns cannot be told apart (reciprocal condition below 1e-10)
 */
export function weightedFit(rows: number[][], y: number[], weights: number[]): LinearFit | null {
  const p = rows[0]?.length ?? 0;
  if (p === 0) return null;
  const normal = Matrix.zeros(p, p);
  const right = new Array<number>(p).fill(0);
  rows.forEach((row, i) => {
    const w = weights[i]!;
    for (let a = 0; a < p; a++) {
      right[a]! += w * row[a]! * y[i]!;
      for (let b = 0; b < p; b++) normal.set(a, b, normal.get(a, b) + w * row[a]! * row[b]!);
    }
  });
  const values = new EigenvalueDecomposition(normal, { assumeSymmetric: true }).realEigenvalues;
  if (!(Math.min(...values) > 1e-10 * Math.max(...values))) return null;
  const inv = inverse(normal);
  const coefficients = inv.mmul(Matrix.columnVector(right)).getColumn(0);
  const residuals = rows.map((row, i) => y[i]! - row.reduce((sum, v, a) => sum + v * coefficients[a]!, 0));
  return { coefficients, residuals, inverseNormal: inv.to2DArray() };
}
