import { z } from 'zod';
import { atLeastZero, define, explained, InvalidInput, noRepeats, positive } from '../calculation/index.ts';
import { scaleArcsecPerPx, SIDEREAL_ARCSEC_PER_S } from '../quantities/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

/** A dither below this in a camera's own pixels leaves its fixed pattern in place; common practice, no source. */
const LEAST_PX = 1;

const optics = { focalLengthMm: positive('mm', 'Focal length'), pixelUm: positive('µm', 'Pixel size') };
export const DitherPlanInput = z.strictObject({
  cameras: z
    .array(z.strictObject({ name: z.string().min(1).max(120), ...optics }))
    .min(1)
    .max(12)
    .superRefine(noRepeats((c) => c.name, 'the camera')),
  guide: z.strictObject(optics),
  ditherPx: positive('px', 'Size in pixels of the reference camera'),
  reference: z.string().min(1).meta({ description: 'finest, coarsest, or a camera’s name' }),
  guideRate: positive('', 'Guide rate, fraction of sidereal').default(0.5),
  settlePx: positive('px', 'Settled when the guide star is within this').optional(),
  settleTimeS: atLeastZero('s', 'How long it must stay there').default(10),
});
export const DitherPlanOutput = z.strictObject({
  amplitudeArcsec: z.number(),
  perCamera: z.array(z.strictObject({ name: z.string(), px: z.number() })),
  guidePx: z.number(),
  moveS: z.number(),
  totalS: z.number(),
  ...explained,
});

/** How long a move of that size takes, at a guide rate in shares of the sidereal one [s]. */
export const moveTimeS = (sizeArcsec: number, guideRate: number): number =>
  sizeArcsec / (SIDEREAL_ARCSEC_PER_S * guideRate);

/** One dither as each camera on the mount sees it, and what it takes. */
export function ditherPlan(i: z.infer<typeof DitherPlanInput>): z.input<typeof DitherPlanOutput> {
  const scales = i.cameras.map((c) => scaleArcsecPerPx(c.pixelUm, c.focalLengthMm));
  const named = i.cameras.findIndex((c) => c.name === i.reference);
  if (named < 0 && i.reference !== 'finest' && i.reference !== 'coarsest')
    throw InvalidInput.at('reference', `must be finest, coarsest or one of ${i.cameras.map((c) => c.name).join(', ')}`);
  const scale = named >= 0 ? scales[named]! : i.reference === 'finest' ? Math.min(...scales) : Math.max(...scales);
  const amplitudeArcsec = i.ditherPx * scale;
  const perCamera = i.cameras.map((c, k) => ({ name: c.name, px: amplitudeArcsec / scales[k]! }));
  const moveS = moveTimeS(amplitudeArcsec, i.guideRate);
  const weak = perCamera.filter((c) => c.px < LEAST_PX);
  return {
    amplitudeArcsec,
    perCamera,
    guidePx: amplitudeArcsec / scaleArcsecPerPx(i.guide.pixelUm, i.guide.focalLengthMm),
    moveS,
    totalS: moveS + i.settleTimeS,
    working: [
      { label: 'Size on the sky', formula: 'pixels·scale of the reference', value: amplitudeArcsec, unit: '″' },
      { label: 'Move', formula: 'size/(15.041·rate)', value: moveS, unit: 's' },
      ...perCamera.map((c) => ({ label: `In ${c.name}`, formula: 'size/scale', value: c.px, unit: 'px' })),
    ],
    verdict: weak.length
      ? makeVerdict(
          'caution',
          phrase('dither.weak', { cameras: weak.map((c) => phrase('dither.only-in', { name: c.name, sizePx: c.px })) }),
        )
      : makeVerdict(
          'good',
          phrase('dither.good', {
            sizeArcsec: amplitudeArcsec,
            totalS: Math.round(moveS + i.settleTimeS),
            cameras: perCamera.map((c) => phrase('dither.in', { name: c.name, sizePx: c.px })),
          }),
        ),
  };
}

export const ditherPlanning = define({
  name: 'dither.plan',
  summary: 'Size and duration of a dither for one or several cameras on a mount',
  sources: ['Image scale: textbook', 'Least useful dither: common practice, no source'],
  input: DitherPlanInput,
  output: DitherPlanOutput,
  compute: ditherPlan,
});
