/** Normal quantiles of the two-sided levels used here. */
const Z = { 0.95: 1.959964, 0.999: 3.290527 } as const;
export type Level = keyof typeof Z;
/** Student's factors of one and two degrees of freedom, in closed form: tan(πp/2) and p·√(2/(1 − p²)). */
const FEW: Record<number, (p: number) => number> = {
  1: (p) => Math.tan((Math.PI * p) / 2),
  2: (p) => p * Math.sqrt(2 / (1 - p * p)),
};

/**
 * How many standard errors a two-sided interval takes when the scatter was estimated with so many degrees of freedom.
 * Source: Abramowitz & Stegun 26.7.5 (from memory), an expansion in 1/ν; within 1 % of the tables from ν = 3 on at 95 %.
 * @param dof  degrees of freedom, at least 1
 */
export function studentFactor(dof: number, level: Level = 0.95): number {
  const exact = FEW[Math.max(1, Math.round(dof))];
  if (exact) return exact(level);
  const z = Z[level];
  return (
    z +
    (z ** 3 + z) / (4 * dof) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * dof ** 2) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * dof ** 3)
  );
}
