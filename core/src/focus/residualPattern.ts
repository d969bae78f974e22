/**
 * Residuals of one hyperbola that hang together along the focuser: neighbours on one side of the curve more often than
 * chance. Mean product of neighbours over their variance, in standard errors.
 */
export function patternOf(x: readonly number[], residuals: readonly number[], kept: readonly boolean[]): number {
  const order = x
    .map((_, i) => i)
    .filter((i) => kept[i])
    .sort((p, q) => x[p]! - x[q]!);
  const r = order.map((i) => residuals[i]!);
  const square = r.reduce((s, v) => s + v * v, 0) / r.length;
  if (!(square > 0) || r.length < 8) return 0;
  let product = 0;
  for (let i = 1; i < r.length; i++) product += r[i]! * r[i - 1]!;
  // three unknowns were fitted: that alone drives neighbours apart by about 3/n
  return (product / ((r.length - 1) * square) + 3 / r.length) * Math.sqrt(r.length);
}
/** Beyond this many standard errors the residuals are a pattern, not noise. */
export const PATTERN_Z = 2.6;
