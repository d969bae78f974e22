import { z } from 'zod';
import { median } from 'simple-statistics';
import { atLeastZero, define, explained, positive, quantity } from '../calculation/index.ts';
import { studentFactor, weightedFit } from '../statistics/index.ts';
import { makeVerdict, phrase, words, type PlainPhrase } from '../phrases/index.ts';

export const CurvePoint = z.strictObject({
  position: quantity('steps', 'Focuser position'),
  hfd: positive('px', 'Half-flux diameter measured there'),
  weight: atLeastZero('', 'Weight of the point').optional(),
});
export type CurvePoint = z.infer<typeof CurvePoint>;

export const CurveInput = z.strictObject({ points: z.array(CurvePoint).min(5).max(500) }).superRefine((v, ctx) => {
  const places = new Set(v.points.map((p) => p.position)).size;
  if (places < 4)
    ctx.addIssue({ code: 'custom', path: ['points'], message: `needs at least 4 different positions, has ${places}` });
  if (!v.points.some((p) => (p.weight ?? 1) > 0))
    ctx.addIssue({ code: 'custom', path: ['points'], message: 'every weight is 0' });
});

export const CurveOutput = z.strictObject({
  position: z.number(),
  minHfd: z.number(),
  positionError: z.number(),
  rSquared: z.number(),
  usable: z.boolean(),
  reason: z.string(),
  /** Slope of the far arms, pixels per step. */
  slope: z.number(),
  /** Slopes of either arm, where two are clearly better than one. */
  arms: z.strictObject({ left: z.number(), right: z.number() }).optional(),
  /** The residuals hang together: something moved during the run, or the curve is no hyperbola. */
  pattern: z.boolean(),
  kept: z.array(z.boolean()),
  ...explained,
});
export type CurveOutput = z.input<typeof CurveOutput>;

interface Fit {
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
/** Rounds of a fit at most. */
const MAX_ITERATIONS = 60;
/** A point with less than this share of its weight is set aside. */
const SET_ASIDE = 0.05;

const model = (a: number, b: number, c: number, x: number) => Math.sqrt(a * a + b * b * (x - c) ** 2);

/** Both arms with slopes of their own: what the air, a tilt or a slipping focuser does to one side. */
interface TwoArms {
  a: number;
  left: number;
  right: number;
  c: number;
  squares: number;
}
/** Steps of the search for the vertex of two arms, over the range and then ever finer. */
const VERTEX_STEPS = 16;

/** For a fixed vertex hfd² is linear in a², left² and right²; the vertex is searched. Weights are those of hfd. */
function twoArms(x: readonly number[], y: readonly number[], w: readonly number[]): TwoArms | null {
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

/**
 * Residuals of one hyperbola that hang together along the focuser: neighbours on one side of the curve more often than
 * chance. Mean product of neighbours over their variance, in standard errors.
 */
function patternOf(x: readonly number[], residuals: readonly number[], kept: readonly boolean[]): number {
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
const PATTERN_Z = 2.6;

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
 * symmetric 3×3 system, summed and solved in place: this is the inner loop of every fit.
 */
function descend(x: number[], y: number[], w: number[], start: [number, number, number]): [number, number, number] {
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

function robustFit(x: number[], y: number[], prior: number[], c0: number): Fit {
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
function robustVariance(fit: Fit, prior: readonly number[], dof: number): number {
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

/** Derivatives of the model by a, b, c at each place. */
const jacobianOf = (x: readonly number[], a: number, b: number, c: number): number[][] =>
  x.map((xi) => {
    const m = Math.max(model(a, b, c, xi), 1e-9);
    return [a / m, (b * (xi - c) ** 2) / m, (-b * b * (xi - c)) / m];
  });

/**
 * Puts points back that the robust weights set aside without being clearly outliers: with few points the scatter is badly
 * known, and a fit that throws away its worst point quotes too small an error. A point stays out when it lies beyond what
 * one in a thousand would by the scatter of the others. With one put back the rest is plain least squares.
 */
function withDoubtful(fit: Fit, x: number[], y: number[], prior: number[]): Fit {
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

/** Standard error of the vertex of two arms, in scaled units. */
function twoArmsError(x: readonly number[], y: readonly number[], w: number[], t: TwoArms, dof: number): number {
  const jacobian = x.map((v) => {
    const b = v < t.c ? t.left : t.right;
    const m = Math.max(model(t.a, b, t.c, v), 1e-9);
    const d = v - t.c;
    return [t.a / m, v < t.c ? (b * d * d) / m : 0, v < t.c ? 0 : (b * d * d) / m, (-b * b * d) / m];
  });
  const normal = weightedFit(jacobian, [...y], w);
  return normal ? Math.sqrt(Math.max(0, (t.squares / dof) * normal.inverseNormal[3]![3]!)) : 1;
}

/** Best focus from one run: a hyperbola fitted to diameters, gross outliers losing their say. */
export function curve(input: z.infer<typeof CurveInput>): CurveOutput {
  const { points } = input;
  const positions = points.map((p) => p.position);
  const low = Math.min(...positions);
  const high = Math.max(...positions);
  const middle = (low + high) / 2;
  const half = (high - low) / 2;
  const x = positions.map((p) => (p - middle) / half);
  const y = points.map((p) => p.hfd);
  const given = points.map((p) => p.weight ?? 1);
  const meanWeight = given.reduce((s, v) => s + v, 0) / given.filter((v) => v > 0).length;
  const prior = given.map((v) => v / meanWeight);
  const lowest = x[y.indexOf(Math.min(...y))]!;
  const fits = [lowest, -0.6, -0.3, 0, 0.3, 0.6].map((c0) => robustFit(x, y, prior, c0));
  const fit = withDoubtful(
    fits.reduce((best, f) => (f.loss < best.loss * (1 - 1e-9) ? f : best)),
    x,
    y,
    prior,
  );

  const { a, b, c, weights } = fit;
  const kept = weights.map((w, i) => w > SET_ASIDE * prior[i]!);
  const n = kept.filter(Boolean).length;
  const total = weights.reduce((s, w) => s + w, 0);
  const meanY = weights.reduce((s, w, i) => s + w * y[i]!, 0) / total;
  const ssr = weights.reduce((s, w, i) => s + w * fit.residuals[i]! ** 2, 0);
  const sst = weights.reduce((s, w, i) => s + w * (y[i]! - meanY) ** 2, 0);
  const rSquared = sst > 0 ? 1 - ssr / sst : 0;
  const jacobian = jacobianOf(x, a, b, c);
  const normal = weightedFit(jacobian, y, weights);
  const dof = Math.max(1, points.filter((_, i) => prior[i]! > 0).length - 3);
  const plain = weightedFit(jacobian, y, prior);
  const spread = fit.plain ? ssr / Math.max(1, n - 3) : robustVariance(fit, prior, dof);
  const oneArm = plain ? half * Math.sqrt(Math.max(0, spread * plain.inverseNormal[2]![2]!)) : half;
  // 1.96 of what is quoted covers 95 %: few points estimate their scatter badly
  const giveBack = studentFactor(dof) / studentFactor(1e9);
  // two slopes where they are clearly better: one unknown more, so the gain is Student’s t squared
  const arms = n >= 8 ? twoArms(x, y, weights) : null;
  const armsDof = Math.max(1, n - 4);
  const gain = arms && arms.squares > 0 ? (ssr - arms.squares) / (arms.squares / armsDof) : 0;
  const unequal = arms !== null && normal !== null && gain > studentFactor(armsDof, 0.999) ** 2;
  const positionError = unequal
    ? half * twoArmsError(x, y, weights, arms, armsDof) * (studentFactor(armsDof) / studentFactor(1e9))
    : oneArm * giveBack;
  const position = middle + half * (unequal ? arms.c : c);
  const pattern = !unequal && patternOf(x, fit.residuals, kept) > PATTERN_Z;

  const vertex = unequal ? arms.c : c;
  const left = x.filter((v, i) => kept[i] && v < vertex).length;
  const right = x.filter((v, i) => kept[i] && v > vertex).length;
  const share = (100 * positionError) / (high - low);
  const faults: PlainPhrase[] = [];
  if (position < low) faults.push(phrase('focus.fault-below', { limitSteps: low }));
  else if (position > high) faults.push(phrase('focus.fault-above', { limitSteps: high }));
  else if (left < 2 || right < 2) faults.push(phrase('focus.fault-one-side', { left: Math.min(left, right) }));
  if (n < 0.75 * points.length) faults.push(phrase('focus.fault-disagree', { agreeing: n, points: points.length }));
  if (rSquared < 0.8) faults.push(phrase('focus.fault-weak', { rSquared }));
  if (!(share <= 3)) faults.push(phrase('focus.fault-uncertain', { rangePercent: share }));
  const usable = faults.length === 0;
  const outliers = points.length - n;
  return {
    position,
    minHfd: unequal ? arms.a : a,
    positionError,
    rSquared,
    usable,
    reason: usable ? 'clear minimum inside the range' : words(faults, 'metric', '; '),
    slope: b / half,
    ...(unequal ? { arms: { left: arms.left / half, right: arms.right / half } } : {}),
    pattern,
    kept,
    working: [
      {
        label: 'Model',
        formula: 'hfd² = a² + b²(x − c)², fitted on hfd with bisquare weights',
        value: `${points.length} points, ${outliers} set aside`,
        unit: '',
      },
      { label: 'Position c', formula: 'least squares', value: position, unit: 'steps' },
      { label: 'Smallest diameter a', formula: 'least squares', value: a, unit: 'px' },
      {
        label: 'Error of c',
        formula: 's·√(JᵀJ)⁻¹cc, s of the robust fit, times Student’s factor over 1.96',
        value: positionError,
        unit: 'steps',
      },
      ...(unequal
        ? [{ label: 'Two slopes', formula: 'gain of the fourth unknown over its noise', value: gain, unit: '' }]
        : []),
      { label: 'R²', formula: '1 − Σwr²/Σw(y − ȳ)²', value: rSquared, unit: '' },
    ],
    verdict: usable
      ? makeVerdict(
          outliers || unequal || pattern ? 'caution' : 'good',
          phrase(outliers ? 'focus.best-set-aside' : 'focus.best', {
            positionSteps: position,
            errorSteps: positionError,
            widthPx: unequal ? arms.a : a,
            outliers,
          }),
          ...(unequal
            ? [
                phrase('focus.unequal-arms', {
                  ratio: Math.max(arms.left, arms.right) / Math.min(arms.left, arms.right),
                }),
              ]
            : []),
          ...(pattern ? [phrase('focus.pattern-left')] : []),
        )
      : makeVerdict('bad', phrase('focus.unusable', { faults })),
  };
}

export const focusCurve = define({
  name: 'focus.curve',
  summary: 'Best focus position from one focus run, with its error and whether to trust it',
  sources: ['Hyperbola of defocus: textbook optics', 'Bisquare weights: Beaton & Tukey 1974 (from memory)'],
  input: CurveInput,
  output: CurveOutput,
  compute: curve,
});
