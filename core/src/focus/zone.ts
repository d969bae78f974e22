import { z } from 'zod';
import { define, explained, positive, type WorkingStep } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';

export const ZoneInput = z.strictObject({
  focalRatio: positive('', 'Focal ratio N'),
  wavelengthNm: positive('nm', 'Wavelength').default(550),
  stepUm: positive('µm', 'Travel of one focuser step').optional(),
  seeingArcsec: positive('arcsec', 'Full width at half maximum of the seeing').optional(),
  apertureMm: positive('mm', 'Clear aperture').optional(),
  tolerancePercent: positive('%', 'Growth of the star that is accepted').default(10),
});
export type ZoneInput = z.infer<typeof ZoneInput>;

export const ZoneOutput = z.strictObject({
  classicUm: z.number(),
  seeingUm: z.number().optional(),
  classicSteps: z.number().optional(),
  seeingSteps: z.number().optional(),
  ...explained,
});

/** Depth within which nobody can tell focus from focus: the diffraction zone and the one the seeing allows. */
export function zone(input: ZoneInput): z.input<typeof ZoneOutput> {
  const { focalRatio, wavelengthNm, stepUm, seeingArcsec, apertureMm, tolerancePercent } = input;
  const classicUm = 4.88 * (wavelengthNm / 1000) * focalRatio ** 2;
  const seeingUm =
    seeingArcsec !== undefined && apertureMm !== undefined
      ? 0.00225 * seeingArcsec * Math.sqrt(tolerancePercent) * apertureMm * focalRatio ** 2
      : undefined;
  const steps = (um: number | undefined) => (um === undefined || stepUm === undefined ? undefined : um / stepUm);
  const classicSteps = steps(classicUm);
  const seeingSteps = steps(seeingUm);
  const working: WorkingStep[] = [
    { label: 'Diffraction zone', formula: '4.88·λ·N²', value: classicUm, unit: 'µm', source: 'textbook optics' },
  ];
  if (seeingUm !== undefined)
    working.push({
      label: 'Zone the seeing allows',
      formula: '0.00225·θ·√τ·A·N²',
      value: seeingUm,
      unit: 'µm',
      source: 'Goldman & Megdal 2010 (from memory)',
    });
  const um = seeingUm ?? classicUm;
  const inSteps = seeingSteps ?? classicSteps;
  const fine = inSteps === undefined || inSteps >= 4;
  return {
    classicUm,
    ...(seeingUm === undefined ? {} : { seeingUm }),
    ...(classicSteps === undefined ? {} : { classicSteps }),
    ...(seeingSteps === undefined ? {} : { seeingSteps }),
    working,
    verdict:
      inSteps === undefined
        ? makeVerdict('good', phrase('focus.zone', { halfUm: um / 2 }))
        : makeVerdict(
            fine ? 'good' : 'caution',
            phrase(fine ? 'focus.zone-steps' : 'focus.zone-coarse', { halfUm: um / 2, halfSteps: inSteps / 2 }),
          ),
  };
}

export const focusZone = define({
  name: 'focus.zone',
  summary: 'Critical focus zone by diffraction and by seeing, in micrometres and steps',
  sources: ['4.88 λN²: textbook optics', 'Goldman & Megdal 2010 (from memory)'],
  input: ZoneInput,
  output: ZoneOutput,
  compute: zone,
});
