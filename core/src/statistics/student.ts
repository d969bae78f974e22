/**
 * Student's t. Our own, because the libraries at hand are worse: one brings 227 packages for this function, another is a
 * fifth off at 99.9 % with many degrees of freedom. It stands tested against that other one where both are exact.
 */
/** Normal quantiles of the two-sided levels used here. */
const Z = { 0.95: 1.959963984540054, 0.999: 3.2905267314919255 } as const;
export type Level = keyof typeof Z;
/** From here on the expansion is exact to eight digits. */
const MANY = 200;

/** Share of Student's distribution between −t and t. Source: Abramowitz & Stegun 26.7.3 and 26.7.4 (from memory), finite sums. */
function between(t: number, dof: number): number {
  const angle = Math.atan(t / Math.sqrt(dof));
  const [sin, cosSquared] = [Math.sin(angle), Math.cos(angle) ** 2];
  const odd = dof % 2 === 1;
  if (dof === 1) return (2 * angle) / Math.PI;
  let term = odd ? Math.cos(angle) : 1;
  let sum = term;
  for (let k = odd ? 3 : 2; k < dof; k += 2) {
    term *= ((k - 1) / k) * cosSquared;
    sum += term;
  }
  return odd ? (2 / Math.PI) * (angle + sin * sum) : sin * sum;
}

/** Abramowitz & Stegun 26.7.5 (from memory), in 1/dof. */
const expansion = (dof: number, z: number): number =>
  z +
  (z ** 3 + z) / (4 * dof) +
  (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * dof ** 2) +
  (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * dof ** 3);

/**
 * How many standard errors a two-sided interval takes when the scatter was estimated with so many degrees of freedom.
 * @param dof  degrees of freedom, at least 1; a fraction is rounded
 */
export function studentFactor(dof: number, level: Level = 0.95): number {
  const whole = Math.max(1, Math.round(dof));
  if (whole >= MANY) return expansion(whole, Z[level]);
  let [low, high] = [0, 1000];
  // each halving gives a binary digit; a thousand lies beyond every factor of these levels
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (between(middle, whole) < level) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
