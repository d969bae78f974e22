/** The hyperbola of defocus, hfd² = a² + b²(x − c)², its derivatives, and its fit to weighted points. */

/** Rounds of a fit at most. */
const MAX_ITERATIONS = 60;

/** Diameter at x. */
export const model = (a: number, b: number, c: number, x: number) => Math.sqrt(a * a + b * b * (x - c) ** 2);

/** Σ w (y − model)² */
function weightedSquares(x: number[], y: number[], w: number[], a: number, b: number, c: number): number {
  let sum = 0;
  for (let i = 0; i < x.length; i++) {
    const r = y[i]! - model(a, b, c, x[i]!);
    sum += w[i]! * r * r;
  }
  return sum;
}

/**
 * Damped Gauss–Newton (Marquardt) for a, b, c with fixed weights, x scaled to about ±1. The normal equations are a
 * symmetric 3×3 system, summed and solved in place: this is the inner loop of every fit,
 * some hundred times a curve. Ours for that reason: a library's finds the same where it begins near enough (held by a
 * test), goes astray where it does not or where weights differ, and takes eight times as long.
 */
export function descend(
  x: number[],
  y: number[],
  w: number[],
  start: [number, number, number],
): [number, number, number] {
  let [a, b, c] = start;
  let now = weightedSquares(x, y, w, a, b, c);
  let damping = 1e-3;
  for (let i = 0; i < MAX_ITERATIONS; i++) {
    let [aa, ab, ac, bb, bc, cc, ga, gb, gc] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    for (let k = 0; k < x.length; k++) {
      const d = x[k]! - c;
      const m = Math.max(model(a, b, c, x[k]!), 1e-9);
      const [ja, jb, jc, wk] = [a / m, (b * d * d) / m, (-b * b * d) / m, w[k]!];
      const r = wk * (y[k]! - m);
      aa += wk * ja * ja;
      ab += wk * ja * jb;
      ac += wk * ja * jc;
      bb += wk * jb * jb;
      bc += wk * jb * jc;
      cc += wk * jc * jc;
      ga += r * ja;
      gb += r * jb;
      gc += r * jc;
    }
    const [p, s, u] = [aa * (1 + damping) + 1e-15, bb * (1 + damping) + 1e-15, cc * (1 + damping) + 1e-15];
    const c0 = s * u - bc * bc;
    const c1 = bc * ac - ab * u;
    const c2 = ab * bc - s * ac;
    const det = p * c0 + ab * c1 + ac * c2;
    if (!(Math.abs(det) > 0)) break;
    const a2 = a + (ga * c0 + gb * c1 + gc * c2) / det;
    const b2 = b + (ga * c1 + gb * (p * u - ac * ac) + gc * (ac * ab - p * bc)) / det;
    const c3 = c + (ga * c2 + gb * (ac * ab - p * bc) + gc * (p * s - ab * ab)) / det;
    const then = weightedSquares(x, y, w, a2, b2, c3);
    if (then <= now) {
      const done = now - then <= 1e-12 * (now + 1e-300);
      [a, b, c] = [a2, b2, c3];
      now = then;
      damping = Math.max(damping / 10, 1e-12);
      if (done) break;
    } else {
      damping *= 10;
      if (damping > 1e8) break;
    }
  }
  return [Math.abs(a), Math.abs(b), c];
}

/** Derivatives of the model by a, b, c at each place. */
export const jacobianOf = (x: readonly number[], a: number, b: number, c: number): number[][] =>
  x.map((xi) => {
    const m = Math.max(model(a, b, c, xi), 1e-9);
    return [a / m, (b * (xi - c) ** 2) / m, (-b * b * (xi - c)) / m];
  });
