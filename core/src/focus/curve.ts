import { z } from 'zod';
import { atLeastZero, define, explained, positive, quantity } from '../calculation/index.ts';
import { studentFactor, weightedFit } from '../statistics/index.ts';
import { makeVerdict, phrase, words, type PlainPhrase } from '../phrases/index.ts';
import { jacobianOf, model } from './hyperbola.ts';
import { PATTERN_Z, patternOf } from './residualPattern.ts';
import { robustFit, robustVariance, SET_ASIDE, withDoubtful } from './robustFit.ts';
import { twoArms, twoArmsError } from './twoArms.ts';

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

/** Diameter that a fitted curve has at a position [px]; each arm by its own slope, where there are two. */
export const curveAt = (fit: Pick<CurveOutput, 'position' | 'minHfd' | 'slope' | 'arms'>, position: number): number =>
  model(
    fit.minHfd,
    fit.arms ? (position < fit.position ? fit.arms.left : fit.arms.right) : fit.slope,
    fit.position,
    position,
  );

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
