import { weightedFit } from '../statistics/index.ts';
import { model } from './hyperbola.ts';

/** Both arms with slopes of their own: what the air, a tilt or a slipping focuser does to one side. */
export interface TwoArms {
  a: number;
  left: number;
  right: number;
  c: number;
  squares: number;
}
/** Steps of the search for the vertex of two arms, over the range and then ever finer. */
const VERTEX_STEPS = 16;

/** For a fixed vertex hfd² is linear in a², left² and right²; the vertex is searched. Weights are those of hfd. */
export function twoArms(x: readonly number[], y: readonly number[], w: readonly number[]): TwoArms | null {
  const at = (c: number): TwoArms | null => {
    // hfd² = y² has twice y times the error of hfd
    const weights = w.map((v, i) => v / (4 * y[i]! ** 2));
    const rows = x.map((v) => [1, v < c ? (v - c) ** 2 : 0, v >= c ? (v - c) ** 2 : 0]);
    const fit = weightedFit(
      rows,
      y.map((v) => v * v),
      weights,
    );
    if (!fit || fit.coefficients.some((v) => !(v > 0))) return null;
    const [a, left, right] = fit.coefficients.map(Math.sqrt) as [number, number, number];
    const squares = x.reduce((s, v, i) => s + w[i]! * (y[i]! - model(a, v < c ? left : right, c, v)) ** 2, 0);
    return { a, left, right, c, squares };
  };
  let best: TwoArms | null = null;
  for (let [low, high] = [-1, 1], round = 0; round < 4; round++) {
    for (let k = 0; k <= VERTEX_STEPS; k++) {
      const got = at(low + ((high - low) * k) / VERTEX_STEPS);
      if (got && (!best || got.squares < best.squares)) best = got;
    }
    if (!best) return null;
    const width = (2 * (high - low)) / VERTEX_STEPS;
    [low, high] = [best.c - width, best.c + width];
  }
  return best;
}

/** Standard error of the vertex of two arms, in scaled units. */
export function twoArmsError(x: readonly number[], y: readonly number[], w: number[], t: TwoArms, dof: number): number {
  const jacobian = x.map((v) => {
    const b = v < t.c ? t.left : t.right;
    const m = Math.max(model(t.a, b, t.c, v), 1e-9);
    const d = v - t.c;
    return [t.a / m, v < t.c ? (b * d * d) / m : 0, v < t.c ? 0 : (b * d * d) / m, (-b * b * d) / m];
  });
  const normal = weightedFit(jacobian, [...y], w);
  return normal ? Math.sqrt(Math.max(0, (t.squares / dof) * normal.inverseNormal[3]![3]!)) : 1;
}
