import { z } from 'zod';
import { define, explained, instant, positive, quantity } from '../calculation/index.ts';
import { mean, studentFactor } from '../statistics/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

export const FlexureInput = z
  .strictObject({
    frames: z
      .array(
        z.strictObject({
          time: instant('Middle of the frame'),
          xPx: quantity('px', 'Star'),
          yPx: quantity('px', 'Star'),
        }),
      )
      .min(3)
      .max(5000),
    scaleArcsecPerPx: positive('″/px', 'Scale of the main camera'),
    allowedTrailPx: positive('px', 'Trail that is still accepted').default(1),
  })
  .superRefine((v, ctx) => {
    const times = new Set(v.frames.map((f) => Date.parse(f.time)));
    if (times.size < 2)
      ctx.addIssue({ code: 'custom', path: ['frames'], message: 'are all of one moment; a drift needs time' });
  });
export type FlexureInput = z.infer<typeof FlexureInput>;

export const FlexureOutput = z.strictObject({
  rateArcsecPerMin: z.number(),
  /** 1σ of the rate along either axis; null when three frames leave nothing to estimate it by. */
  rateErrorArcsecPerMin: z.number().nullable(),
  /** The drift stands out of the noise: still runs are said to drift once in twenty. */
  clear: z.boolean(),
  directionDeg: z.number(),
  longestExposureS: z.number().nullable(),
  residualRmsPx: z.number(),
  ...explained,
});
export type FlexureOutput = z.input<typeof FlexureOutput>;

/** √ of the 95 % point of χ² with two degrees of freedom. */
const CHANCE = Math.sqrt(5.991);
/** Below this a drift is none [px/min]. */
const STILL = 1e-9;

/** How a star wanders over a guided run without dithering: what moves between guider and main camera. */
export function flexure(i: FlexureInput): FlexureOutput {
  const t0 = Date.parse(i.frames[0]!.time);
  const t = i.frames.map((f) => (Date.parse(f.time) - t0) / 60_000);
  const [x, y] = [i.frames.map((f) => f.xPx), i.frames.map((f) => f.yPx)];
  const [mt, mx, my] = [mean(t), mean(x), mean(y)];
  const tt = t.reduce((s, v) => s + (v - mt) ** 2, 0);
  const slope = (v: number[], m: number) => v.reduce((s, q, k) => s + (q - m) * (t[k]! - mt), 0) / tt;
  const [sx, sy] = [slope(x, mx), slope(y, my)];
  const pxPerMin = Math.hypot(sx, sy);
  const squares = t.reduce((s, v, k) => s + (x[k]! - mx - sx * (v - mt)) ** 2 + (y[k]! - my - sy * (v - mt)) ** 2, 0);
  const residualRmsPx = Math.sqrt(squares / t.length);
  const direction = (Math.atan2(sy, sx) * 180) / Math.PI;
  const longestExposureS = pxPerMin < STILL ? null : (60 * i.allowedTrailPx) / pxPerMin;
  const rateArcsecPerMin = pxPerMin * i.scaleArcsecPerPx;
  const span = Math.max(...t) - Math.min(...t);
  // both slopes have one error; a length of two of them reaches √5.99 of it by chance once in twenty
  const dof = 2 * (t.length - 2);
  const slopeErrorPx = dof > 0 ? Math.sqrt(squares / dof / tt) : Infinity;
  const clear = pxPerMin > slopeErrorPx * CHANCE * (studentFactor(Math.max(1, dof)) / studentFactor(1e9));
  return {
    rateArcsecPerMin,
    rateErrorArcsecPerMin: Number.isFinite(slopeErrorPx) ? slopeErrorPx * i.scaleArcsecPerPx : null,
    clear,
    directionDeg: (direction + 360) % 360,
    longestExposureS,
    residualRmsPx,
    working: [
      { label: 'Drift in x', formula: 'least-squares slope', value: sx, unit: 'px/min' },
      { label: 'Drift in y', formula: 'least-squares slope', value: sy, unit: 'px/min' },
      { label: 'Rate', formula: '|slope|·scale', value: rateArcsecPerMin, unit: '″/min' },
      { label: 'Scatter about the line', formula: '√(Σr²/N)', value: residualRmsPx, unit: 'px' },
    ],
    verdict:
      longestExposureS === null || !clear
        ? makeVerdict('good', phrase('guide.flexure-none', { scatterPx: residualRmsPx, spanMin: span }))
        : makeVerdict(
            longestExposureS < 300 ? 'bad' : longestExposureS < 900 ? 'caution' : 'good',
            phrase('guide.flexure', {
              perMinuteArcsec: rateArcsecPerMin,
              trailPx: i.allowedTrailPx,
              longestS: Math.floor(longestExposureS),
            }),
          ),
  };
}

export const guideFlexure = define({
  name: 'guide.flexure',
  summary: 'Flexure between guider and main camera, from a star’s places over a guided run',
  sources: ['Least squares: textbook'],
  input: FlexureInput,
  output: FlexureOutput,
  compute: flexure,
});
