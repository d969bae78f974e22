import { z } from 'zod';
import { median } from 'simple-statistics';
import { atLeastZero, define, explained, positive, quantity } from '../calculation/index.ts';
import { weightedFit } from '../statistics/index.ts';
import { judge, phrase, words, type PlainPhrase } from '../phrases/index.ts';

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
}

/** Tukey's bisquare constant: 95 % efficient on normal errors. */
const BISQUARE_C = 4.685;
const MAX_ITERATIONS = 60;

const model = (a: number, b: number, c: number, x: number) => Math.sqrt(a * a + b * b * (x - c) ** 2);

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
  return { a, b, c, weights: w, residuals, loss: loss * scale * scale };
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
  const fit = fits.reduce((best, f) => (f.loss < best.loss * (1 - 1e-9) ? f : best));

  const { a, b, c, weights } = fit;
  const kept = weights.map((w, i) => w > 0.05 * prior[i]!);
  const n = kept.filter(Boolean).length;
  const total = weights.reduce((s, w) => s + w, 0);
  const meanY = weights.reduce((s, w, i) => s + w * y[i]!, 0) / total;
  const ssr = weights.reduce((s, w, i) => s + w * fit.residuals[i]! ** 2, 0);
  const sst = weights.reduce((s, w, i) => s + w * (y[i]! - meanY) ** 2, 0);
  const rSquared = sst > 0 ? 1 - ssr / sst : 0;
  const jacobian = x.map((xi) => {
    const m = Math.max(model(a, b, c, xi), 1e-9);
    return [a / m, (b * (xi - c) ** 2) / m, (-b * b * (xi - c)) / m];
  });
  const normal = weightedFit(jacobian, y, weights);
  const variance = ssr / Math.max(1, n - 3);
  const positionError = normal ? half * Math.sqrt(Math.max(0, variance * normal.inverseNormal[2]![2]!)) : half;
  const position = middle + half * c;

  const left = x.filter((v, i) => kept[i] && v < c).length;
  const right = x.filter((v, i) => kept[i] && v > c).length;
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
    minHfd: a,
    positionError,
    rSquared,
    usable,
    reason: usable ? 'clear minimum inside the range' : words(faults, 'metric', '; '),
    slope: b / half,
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
      { label: 'Error of c', formula: 's·√(JᵀWJ)⁻¹cc, s² = Σwr²/(n − 3)', value: positionError, unit: 'steps' },
      { label: 'R²', formula: '1 − Σwr²/Σw(y − ȳ)²', value: rSquared, unit: '' },
    ],
    verdict: usable
      ? judge(
          outliers ? 'caution' : 'good',
          phrase(outliers ? 'focus.best-set-aside' : 'focus.best', {
            positionSteps: position,
            errorSteps: positionError,
            widthPx: a,
            outliers,
          }),
        )
      : judge('bad', phrase('focus.unusable', { faults })),
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
