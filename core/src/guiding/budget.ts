import { z } from 'zod';
import {
  atLeastZero,
  define,
  explained,
  PlainPhraseSchema,
  positive,
  type SpokenVerdict,
} from '../calculation/index.ts';
import { scaleArcsecPerPx, FWHM_PER_SIGMA } from '../quantities/index.ts';
import { makeVerdict, phrase, words, type PlainPhrase } from '../phrases/index.ts';

const optics = z.strictObject({ focalLengthMm: positive('mm', 'Focal length'), pixelUm: positive('µm', 'Pixel size') });
export const BudgetInput = z.strictObject({
  imaging: optics,
  guide: optics,
  offAxis: z.boolean(),
  centroidPx: positive('px', 'How well the guide star’s centre is found').default(0.2),
  flexureArcsecPerMin: atLeastZero('″/min', 'Drift between guide scope and main tube').default(0),
  exposureS: positive('s', 'Exposure of the main camera'),
  allowedTrailPx: positive('px', 'Trail that is still accepted').default(1),
  seeingArcsec: positive('″', 'Seeing, FWHM'),
  rmsArcsec: atLeastZero('″', 'Guiding rms of one axis').optional(),
});
export type BudgetInput = z.infer<typeof BudgetInput>;

const Advice = z.enum(['off-axis', 'guide-scope', 'either']);
export const BudgetOutput = z.strictObject({
  imagingScale: z.number(),
  guideScale: z.number(),
  focalRatio: z.number(),
  centroidErrorArcsec: z.number(),
  centroidErrorImagingPx: z.number(),
  trailArcsec: z.number(),
  trailPx: z.number(),
  longestExposureS: z.number().nullable(),
  starFwhmArcsec: z.number().optional(),
  schools: z.array(
    z.strictObject({
      id: z.enum(['focal-length-limit', 'sub-pixel', 'budget']),
      advice: Advice,
      because: z.string(),
      phrases: PlainPhraseSchema,
    }),
  ),
  ...explained,
});
export type BudgetOutput = z.input<typeof BudgetOutput>;
type Advice = z.infer<typeof Advice>;

/** Limits of the schools [mm]; common practice, no source. */
const LIMIT = { scope: 800, either: 1000, subPixel: 2000 } as const;
/** Centroid error in the main camera up to which a guide scope serves the second school [px]; common practice, no source. */
const SUB_PIXEL = 0.5;

/** Error budget of guiding with a second tube or off axis, and what each school would do. */
export function budget(i: BudgetInput): BudgetOutput {
  const imagingScale = scaleArcsecPerPx(i.imaging.pixelUm, i.imaging.focalLengthMm);
  const guideScale = scaleArcsecPerPx(i.guide.pixelUm, i.guide.focalLengthMm);
  const centroidErrorArcsec = i.centroidPx * guideScale;
  const centroidErrorImagingPx = centroidErrorArcsec / imagingScale;
  const scopeTrail = (i.flexureArcsecPerMin * i.exposureS) / 60;
  const trailArcsec = i.offAxis ? 0 : scopeTrail;
  const trailPx = trailArcsec / imagingScale;
  const longestExposureS =
    i.offAxis || i.flexureArcsecPerMin === 0 ? null : (60 * i.allowedTrailPx * imagingScale) / i.flexureArcsecPerMin;
  const f = i.imaging.focalLengthMm;
  const whole = Math.hypot(centroidErrorImagingPx, scopeTrail / imagingScale);
  const school = <Id extends string>(id: Id, advice: Advice, phrases: PlainPhrase) => ({
    id,
    advice,
    because: words(phrases),
    phrases,
  });
  const byLength: Advice = f < LIMIT.scope ? 'guide-scope' : f <= LIMIT.either ? 'either' : 'off-axis';
  const bySubPixel: Advice = centroidErrorImagingPx <= SUB_PIXEL && f <= LIMIT.subPixel ? 'guide-scope' : 'off-axis';
  const byBudget: Advice =
    whole <= i.allowedTrailPx / 2 ? 'guide-scope' : whole <= i.allowedTrailPx ? 'either' : 'off-axis';
  const starFwhmArcsec =
    i.rmsArcsec === undefined ? undefined : Math.hypot(i.seeingArcsec, FWHM_PER_SIGMA * i.rmsArcsec);
  return {
    imagingScale,
    guideScale,
    focalRatio: f / i.guide.focalLengthMm,
    centroidErrorArcsec,
    centroidErrorImagingPx,
    trailArcsec,
    trailPx,
    longestExposureS,
    ...(starFwhmArcsec === undefined ? {} : { starFwhmArcsec }),
    schools: [
      school(
        'focal-length-limit',
        byLength,
        f < LIMIT.scope
          ? phrase('guide.school-length-below', { focalLengthMm: f, limitMm: LIMIT.scope })
          : f <= LIMIT.either
            ? phrase('guide.school-length-between', { focalLengthMm: f, limitMm: LIMIT.scope, upperMm: LIMIT.either })
            : phrase('guide.school-length-above', { focalLengthMm: f, limitMm: LIMIT.either }),
      ),
      school(
        'sub-pixel',
        bySubPixel,
        phrase(f > LIMIT.subPixel ? 'guide.school-centring-beyond' : 'guide.school-centring', {
          centringPx: centroidErrorImagingPx,
          focalLengthMm: f,
          limitMm: LIMIT.subPixel,
        }),
      ),
      school(
        'budget',
        byBudget,
        phrase('guide.school-budget', { wholePx: whole, exposureS: i.exposureS, allowedPx: i.allowedTrailPx }),
      ),
    ],
    working: [
      { label: 'Main camera', formula: '206.264806·pixel/f', value: imagingScale, unit: '″/px' },
      { label: 'Guide camera', formula: '206.264806·pixel/f', value: guideScale, unit: '″/px' },
      {
        label: 'Centring error',
        formula: 'centroid·guide scale/main scale',
        value: centroidErrorImagingPx,
        unit: 'px',
      },
      { label: 'Flexure trail', formula: 'flexure·exposure/60', value: trailArcsec, unit: '″' },
      ...(starFwhmArcsec === undefined
        ? []
        : [
            {
              label: 'Star width',
              formula: '√(seeing² + (2.355·rms)²)',
              value: starFwhmArcsec,
              unit: '″',
              source: 'textbook',
            },
          ]),
    ],
    verdict: verdictOf(i, trailPx, longestExposureS, centroidErrorImagingPx),
  };
}

function verdictOf(i: BudgetInput, trailPx: number, longest: number | null, centroid: number): SpokenVerdict {
  if (trailPx > i.allowedTrailPx)
    return makeVerdict(
      'bad',
      phrase('guide.budget-flexure', { trailPx, exposureS: i.exposureS, longestS: Math.floor(longest!) }),
    );
  if (centroid > i.allowedTrailPx)
    return makeVerdict('caution', phrase('guide.budget-centring', { centringPx: centroid }));
  return makeVerdict(
    'good',
    i.offAxis
      ? phrase('guide.budget-off-axis', { centringPx: centroid })
      : phrase('guide.budget-good', { centringPx: centroid, trailPx, exposureS: i.exposureS }),
  );
}

export const guideBudget = define({
  name: 'guide.budget',
  summary: 'Guide scope or off-axis guider: the error budget, and what three schools would choose',
  sources: [
    'Image scale and quadrature sums: textbook',
    'Focal-length and sub-pixel limits: common practice, no source',
  ],
  input: BudgetInput,
  output: BudgetOutput,
  compute: budget,
});
