import { z } from 'zod';
import { atLeastZero, define, explained, InvalidInput, positive } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { scaleArcsecPerPx, seenDeg } from '../quantities/index.ts';
import { SLACK_MM } from './schemas.ts';

/** Pixels per FWHM below which stars are coarse, above which light is spread in vain; common practice, no source. */
export const SAMPLING = { under: 1.5, over: 3.3 } as const;

export const FieldInput = z.strictObject({
  focalLengthMm: positive('mm', 'Focal length'),
  apertureMm: positive('mm', 'Clear aperture').optional(),
  pixelUm: positive('µm', 'Pixel size'),
  widthPx: z.int().positive(),
  heightPx: z.int().positive(),
  binning: z.int().positive().default(1),
  seeingArcsec: positive('″', 'Seeing, FWHM').optional(),
});
export const FieldOutput = z.strictObject({
  scaleArcsecPerPx: z.number(),
  fieldDeg: z.strictObject({ width: z.number(), height: z.number() }),
  samplingPxPerFwhm: z.number().optional(),
  sampling: z.enum(['under', 'good', 'over']).optional(),
  focalRatio: z.number().optional(),
  ...explained,
});

/** Scale, field and sampling of a camera behind a telescope. */
export function field(i: z.infer<typeof FieldInput>): z.input<typeof FieldOutput> {
  const scale = scaleArcsecPerPx(i.pixelUm, i.focalLengthMm, i.binning);
  const size = { width: (i.widthPx * i.pixelUm) / 1000, height: (i.heightPx * i.pixelUm) / 1000 };
  const view = { width: seenDeg(size.width, i.focalLengthMm), height: seenDeg(size.height, i.focalLengthMm) };
  const px = i.seeingArcsec === undefined ? undefined : i.seeingArcsec / scale;
  const sampling = px === undefined ? undefined : px < SAMPLING.under ? 'under' : px <= SAMPLING.over ? 'good' : 'over';
  return {
    scaleArcsecPerPx: scale,
    fieldDeg: view,
    ...(px === undefined ? {} : { samplingPxPerFwhm: px, sampling: sampling! }),
    ...(i.apertureMm === undefined ? {} : { focalRatio: i.focalLengthMm / i.apertureMm }),
    working: [
      { label: 'Scale', formula: '206.264806·pixel·bin/f', value: scale, unit: '″/px', source: 'textbook' },
      {
        label: 'Field',
        formula: '2·atan(size/2f)',
        value: `${(view.width * 60).toFixed(1)} × ${(view.height * 60).toFixed(1)}`,
        unit: '′',
      },
      ...(px === undefined
        ? []
        : [
            {
              label: 'Sampling',
              formula: 'seeing/scale',
              value: px,
              unit: 'px per FWHM',
              source: 'common practice, no source',
            },
          ]),
    ],
    verdict: makeVerdict(
      sampling === 'under' ? 'caution' : 'good',
      phrase(sampling ? `optics.field-${sampling}` : 'optics.field', {
        pixelArcsec: scale,
        widthDeg: view.width,
        heightDeg: view.height,
      }),
    ),
  };
}
export const opticsField = define({
  name: 'optics.field',
  summary: 'Scale, field and sampling of a camera behind a telescope',
  sources: ['Textbook optics', 'Sampling limits: common practice, no source'],
  input: FieldInput,
  output: FieldOutput,
  compute: field,
});

export const ReducerInput = z.strictObject({
  designFactor: positive('', 'Factor at the design spacing; above 1 an extender'),
  designSpacingMm: positive('mm', 'Lens to sensor at which the design factor holds'),
  spacingMm: atLeastZero('mm', 'Lens to sensor as built; at the sensor itself nothing is reduced'),
  focalLengthMm: positive('mm', 'Focal length without it'),
});
export const ReducerOutput = z.strictObject({
  factor: z.number(),
  focalLengthMm: z.number(),
  reducerFocalLengthMm: z.number(),
  /** How much farther in the focus lies than without the lens; negative: farther out. */
  focusMovesInMm: z.number(),
  ...explained,
});

/** What a reducer or extender really does at the spacing it has, as a thin lens. */
export function reducer(i: z.infer<typeof ReducerInput>): z.input<typeof ReducerOutput> {
  if (i.designFactor === 1)
    throw InvalidInput.at('designFactor', 'a factor of 1 changes nothing; give the factor of the lens');
  const f = i.designSpacingMm / (1 - i.designFactor);
  const factor = 1 - i.spacingMm / f;
  if (factor <= 0)
    throw InvalidInput.at(
      'spacingMm',
      `must be below the lens’s own focal length of ${f.toFixed(1)} mm, or no image is formed`,
    );
  const effective = factor * i.focalLengthMm;
  const inward = i.spacingMm / factor - i.spacingMm;
  const change = factor / i.designFactor - 1;
  return {
    factor,
    focalLengthMm: effective,
    reducerFocalLengthMm: f,
    focusMovesInMm: inward,
    working: [
      {
        label: 'Focal length of the lens',
        formula: 'spacing₀/(1 − factor₀)',
        value: f,
        unit: 'mm',
        source: 'thin lens, textbook',
      },
      { label: 'Factor', formula: '1 − spacing/f', value: factor, unit: '×' },
      { label: 'Focal length now', formula: 'factor·f', value: effective, unit: 'mm' },
      { label: 'Focus moves in by', formula: 'spacing/factor − spacing', value: inward, unit: 'mm' },
    ],
    verdict: makeVerdict(
      Math.abs(change) > 0.03 ? 'caution' : 'good',
      phrase(
        Math.abs(change) <= 0.005 ? 'optics.reducer' : change > 0 ? 'optics.reducer-weaker' : 'optics.reducer-stronger',
        { factor, focalLengthMm: effective, changePercent: 100 * Math.abs(change) },
      ),
      ...(Math.abs(change) > 0.03 ? [phrase('optics.corners')] : []),
    ),
  };
}
export const opticsReducer = define({
  name: 'optics.reducer',
  summary: 'True factor and focal length of a reducer or extender at its spacing',
  sources: ['Thin lens: textbook optics'],
  input: ReducerInput,
  output: ReducerOutput,
  compute: reducer,
});

export const FocusTravelInput = z
  .strictObject({
    focalPlaneBehindFocuserMm: positive('mm', 'Focus behind the focuser’s face, drawtube racked in'),
    travelMm: atLeastZero('mm', 'Travel of the drawtube'),
    marginMm: atLeastZero('mm', 'Kept free at either end').default(2),
    stackMm: atLeastZero('mm', 'Everything between drawtube and sensor, rings not counted'),
    rings: z.array(positive('mm', 'Extension ring')).max(14).default([]),
    objectDistanceM: positive('m', 'Distance of a near object').optional(),
    focalLengthMm: positive('mm', 'Focal length').optional(),
  })
  .superRefine((v, ctx) => {
    if (v.travelMm < 2 * v.marginMm)
      ctx.addIssue({
        code: 'custom',
        path: ['travelMm'],
        message: `must be at least twice the margin, ${2 * v.marginMm} mm`,
      });
    if (v.objectDistanceM === undefined) return;
    if (v.focalLengthMm === undefined)
      ctx.addIssue({ code: 'custom', path: ['focalLengthMm'], message: 'is required with a near object' });
    else if (v.objectDistanceM * 1000 <= v.focalLengthMm)
      ctx.addIssue({
        code: 'custom',
        path: ['objectDistanceM'],
        message: 'must be farther away than the focal length',
      });
  });
export const FocusTravelOutput = z.strictObject({
  feasible: z.boolean(),
  choices: z.array(z.strictObject({ rings: z.array(z.number()), drawtubeMm: z.number() })),
  nearFocusShiftMm: z.number(),
  shortfallMm: z.number(),
  ...explained,
});

/** How much farther out an object at a distance comes to focus than the stars [mm]: f²/(D − f). */
export const nearFocusShift = (objectDistanceM: number, focalLengthMm: number): number =>
  focalLengthMm ** 2 / (objectDistanceM * 1000 - focalLengthMm);

/** Subsets of the rings, longest first inside each, equal ones once; fewest rings first. */
function ringChoices(rings: readonly number[]): number[][] {
  const sorted = [...rings].sort((a, b) => b - a);
  const found = new Map<string, number[]>([['', []]]);
  for (let bits = 1; bits < 1 << sorted.length; bits++) {
    const chosen = sorted.filter((_, i) => bits & (1 << i));
    found.set(chosen.join('+'), chosen);
  }
  return [...found.values()].sort((a, b) => a.length - b.length);
}
const sum = (v: readonly number[]) => v.reduce((s, x) => s + x, 0);
const longerFirst = (a: number[], b: number[]) => {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return b[i]! - a[i]!;
  return 0;
};

/** Which extension rings bring the drawtube to focus with room to either side. */
export function focusTravel(i: z.infer<typeof FocusTravelInput>): z.input<typeof FocusTravelOutput> {
  const shift = i.objectDistanceM === undefined ? 0 : nearFocusShift(i.objectDistanceM, i.focalLengthMm!);
  const [low, high] = [i.marginMm, i.travelMm - i.marginMm];
  const all = ringChoices(i.rings).map((rings) => ({
    rings,
    drawtubeMm: i.focalPlaneBehindFocuserMm - i.stackMm - sum(rings) + shift,
  }));
  const choices = all
    .filter((c) => c.drawtubeMm >= low - SLACK_MM && c.drawtubeMm <= high + SLACK_MM)
    .sort((a, b) => {
      if (a.rings.length !== b.rings.length) return a.rings.length - b.rings.length;
      return Math.abs(a.drawtubeMm - b.drawtubeMm) > 1e-9 ? a.drawtubeMm - b.drawtubeMm : longerFirst(a.rings, b.rings);
    });
  const miss = (x: number) => (x < low ? low - x : high - x);
  const shortfallMm = choices.length
    ? 0
    : all.map((c) => miss(c.drawtubeMm)).reduce((m, v) => (Math.abs(v) < Math.abs(m) - 1e-9 ? v : m));
  const first = choices[0];
  return {
    feasible: choices.length > 0,
    choices,
    nearFocusShiftMm: shift,
    shortfallMm,
    working: [
      {
        label: 'Drawtube',
        formula: 'focal plane − stack − rings + near shift',
        value: i.focalPlaneBehindFocuserMm - i.stackMm + shift,
        unit: 'mm without rings',
      },
      ...(shift
        ? [
            {
              label: 'Near object focuses farther out by',
              formula: 'f²/(D − f)',
              value: shift,
              unit: 'mm',
              source: 'textbook optics',
            },
          ]
        : []),
      { label: 'Allowed', formula: 'margin … travel − margin', value: `${low} … ${high}`, unit: 'mm' },
    ],
    verdict: first
      ? makeVerdict(
          'good',
          first.rings.length
            ? phrase('train.in-focus-rings', {
                drawtubeMm: first.drawtubeMm,
                rings: first.rings.map((ringMm) => ({ code: 'train.ring', values: { ringMm } })),
              })
            : phrase('train.in-focus', { drawtubeMm: first.drawtubeMm }),
        )
      : makeVerdict(
          'bad',
          phrase(shortfallMm > 0 ? 'train.in-missing' : 'train.out-missing', { offMm: Math.abs(shortfallMm) }),
        ),
  };
}
export const opticsFocusTravel = define({
  name: 'optics.focusTravel',
  summary: 'Whether the focuser reaches, with which extension rings, also for a near object',
  sources: ['Near-object shift f²/(D − f): textbook optics'],
  input: FocusTravelInput,
  output: FocusTravelOutput,
  compute: focusTravel,
});
