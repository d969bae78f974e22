import { z } from 'zod';
import { define, explained, positive } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { instrument, surfaceElectrons, surfaceMag } from './light.ts';

export const IntegrationInput = z.strictObject({
  targetMagArcsec2: surfaceMag('Brightness of the object’s surface'),
  skyMagArcsec2: surfaceMag('Brightness of the sky as it is seen'),
  ...instrument,
  readNoiseE: z.number().min(0).max(1e4).meta({ unit: 'e⁻', description: 'Read noise' }),
  subS: positive('s', 'Exposure of one frame'),
  snr: z.number().gt(0).max(1e6).meta({ description: 'Signal to noise wanted' }),
  binArea: z.number().min(1).max(1e4).meta({ unit: 'px', description: 'Pixels that are added up' }).default(1),
});
export type IntegrationInput = z.infer<typeof IntegrationInput>;
export const IntegrationOutput = z.strictObject({
  snrPerSub: z.number(),
  subs: z.number(),
  hours: z.number(),
  ...explained,
});

/** Frames and hours until a surface stands so far above its noise. */
export function integration(i: IntegrationInput): z.input<typeof IntegrationOutput> {
  const target = surfaceElectrons(i, i.targetMagArcsec2);
  const sky = surfaceElectrons(i, i.skyMagArcsec2);
  const { subS: t, binArea: a } = i;
  const snrPerSub = (a * target * t) / Math.sqrt(a * ((target + sky) * t + i.readNoiseE ** 2));
  const subs = Math.max(1, Math.ceil((i.snr / snrPerSub) ** 2));
  const hours = (subs * t) / 3600;
  return {
    snrPerSub,
    subs,
    hours,
    working: [
      { label: 'Object in a pixel', formula: 'as exposure.sky', value: target, unit: 'e⁻/s' },
      { label: 'Sky in a pixel', formula: 'as exposure.sky', value: sky, unit: 'e⁻/s' },
      {
        label: 'Signal to noise of one frame',
        formula: 'a·T·t/√(a·((T + S)·t + RN²))',
        value: snrPerSub,
        unit: '',
        source: 'textbook',
      },
      { label: 'Frames', formula: '⌈(wanted/one frame)²⌉', value: subs, unit: '' },
    ],
    verdict: makeVerdict(
      hours > LONG_HOURS ? 'caution' : 'good',
      phrase('exposure.integration', { subs, openHours: hours, snr: i.snr }),
    ),
  };
}
/** More than a season gives one object; common practice, no source. */
const LONG_HOURS = 60;

export const exposureIntegration = define({
  name: 'exposure.integration',
  summary: 'Frames and hours until an object’s surface reaches a signal to noise',
  sources: ['Signal to noise of added frames: textbook'],
  input: IntegrationInput,
  output: IntegrationOutput,
  compute: integration,
});
