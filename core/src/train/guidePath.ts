import { z } from 'zod';
import { atLeastZero, define, explained, type SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { Glass, glassShiftMm, pathLengthMm, pathShiftMm, PathPart, SLACK_MM } from './schemas.ts';

const mm = (d: string) => atLeastZero('mm', d);
export const GuidePathInput = z.strictObject({
  afterPrism: z.array(PathPart).max(60),
  guide: z
    .strictObject({
      holderMm: mm('Prism centre to the guide focuser'),
      spacersMm: mm('Spacers on the guide side').default(0),
      focuserMinMm: mm('Helical focuser, shortest').default(0),
      focuserMaxMm: mm('Helical focuser, longest').default(0),
      cameraDepthMm: mm('Guide camera, face to sensor'),
      glass: Glass.optional(),
    })
    .superRefine((g, ctx) => {
      if (g.focuserMaxMm < g.focuserMinMm)
        ctx.addIssue({ code: 'custom', path: ['focuserMaxMm'], message: 'must be at least focuserMinMm' });
    }),
});
export type GuidePathInput = z.infer<typeof GuidePathInput>;

export const GuidePathOutput = z.strictObject({
  mainPathMm: z.number(),
  opticalPathMm: z.number(),
  guideTargetMm: z.number(),
  guideRangeMm: z.strictObject({ min: z.number(), max: z.number() }),
  reachable: z.boolean(),
  focuserMm: z.number().optional(),
  shortfallMm: z.number(),
  ...explained,
});
export type GuidePathOutput = z.input<typeof GuidePathOutput>;

/** Distance from the prism to either sensor, and where the guide focuser must stand for both to be sharp at once. */
export function guidePath({ afterPrism, guide: g }: GuidePathInput): GuidePathOutput {
  const mainPathMm = pathLengthMm(afterPrism);
  const opticalPathMm = mainPathMm - pathShiftMm(afterPrism);
  const guideTargetMm = opticalPathMm + glassShiftMm(g.glass);
  const fixed = g.holderMm + g.spacersMm + g.cameraDepthMm;
  const range = { min: fixed + g.focuserMinMm, max: fixed + g.focuserMaxMm };
  const reachable = guideTargetMm >= range.min - SLACK_MM && guideTargetMm <= range.max + SLACK_MM;
  const shortfallMm = reachable ? 0 : guideTargetMm > range.max ? guideTargetMm - range.max : guideTargetMm - range.min;
  const focuserMm = Math.min(g.focuserMaxMm, Math.max(g.focuserMinMm, guideTargetMm - fixed));
  return {
    mainPathMm,
    opticalPathMm,
    guideTargetMm,
    guideRangeMm: range,
    reachable,
    ...(reachable ? { focuserMm } : {}),
    shortfallMm,
    working: [
      { label: 'Prism to main sensor', formula: 'Σ lengths', value: mainPathMm, unit: 'mm' },
      {
        label: 'The same in air',
        formula: '− Σ t(1 − 1/n) of the filters',
        value: opticalPathMm,
        unit: 'mm',
        source: 'textbook optics',
      },
      { label: 'Guide sensor belongs at', formula: '+ glass on the guide side', value: guideTargetMm, unit: 'mm' },
      {
        label: 'Guide side reaches',
        formula: 'holder + spacers + focuser + camera',
        value: `${range.min.toFixed(2)} … ${range.max.toFixed(2)}`,
        unit: 'mm',
      },
    ],
    verdict: verdictOf(reachable, shortfallMm, focuserMm, g.focuserMinMm, g.focuserMaxMm),
  };
}

/** A setting this near an end leaves no room for another filter or a cold night; common practice, no source. */
const TIGHT_MM = 0.5;

function verdictOf(reachable: boolean, shortfall: number, setting: number, min: number, max: number): SpokenVerdict {
  if (!reachable)
    return makeVerdict(
      'bad',
      phrase(shortfall > 0 ? 'train.guide-near' : 'train.guide-far', { offMm: Math.abs(shortfall) }),
    );
  const tight = max - min > 2 * TIGHT_MM && (setting - min < TIGHT_MM || max - setting < TIGHT_MM);
  return makeVerdict(
    tight ? 'caution' : 'good',
    phrase(tight ? 'train.guide-tight' : 'train.guide-focus', { settingMm: setting }),
  );
}

export const trainGuidePath = define({
  name: 'train.guidePath',
  summary: 'Whether an off-axis guide camera can focus together with the main camera, and at which setting',
  sources: ['Equal optical paths from the prism: geometry', 'Plane-plate shift: textbook optics'],
  input: GuidePathInput,
  output: GuidePathOutput,
  compute: guidePath,
});
