import { z } from 'zod';
import { define, explained, positive, type SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase } from '../phrases/index.ts';
import { countedMm } from '../rig/index.ts';
import { pathLengthMm, pathShiftMm, PathPart, SLACK_MM, toleranceMm } from './schemas.ts';

export const BackfocusInput = z.strictObject({
  requiredMm: positive('mm', 'Distance the corrector asks for'),
  toleranceMm: toleranceMm(1),
  parts: z.array(PathPart).max(60),
});
export type BackfocusInput = z.infer<typeof BackfocusInput>;

export const BackfocusOutput = z.strictObject({
  mechanicalMm: z.number(),
  glassShiftMm: z.number(),
  targetMm: z.number(),
  residualMm: z.number(),
  state: z.enum(['short', 'within', 'long']),
  residualRangeMm: z.strictObject({ min: z.number(), max: z.number() }),
  ...explained,
});
export type BackfocusOutput = z.input<typeof BackfocusOutput>;

/** What stands between corrector and sensor, against what should. Positive residual: too long. */
export function backfocus(input: BackfocusInput): BackfocusOutput {
  const mechanicalMm = pathLengthMm(input.parts);
  const shift = pathShiftMm(input.parts);
  const targetMm = input.requiredMm + shift;
  const residualMm = mechanicalMm - targetMm;
  const extreme = (pick: (...v: number[]) => number) =>
    input.parts.reduce((s, p) => s + (p.measuredMm === undefined ? countedMm(p) : pick(p.lengthMm, p.measuredMm)), 0) -
    targetMm;
  const range = { min: extreme(Math.min), max: extreme(Math.max) };
  const inside = (r: number) => Math.abs(r) <= input.toleranceMm + SLACK_MM;
  const state = inside(residualMm) ? 'within' : residualMm < 0 ? 'short' : 'long';
  return {
    mechanicalMm,
    glassShiftMm: shift,
    targetMm,
    residualMm,
    state,
    residualRangeMm: range,
    working: [
      { label: 'Stack', formula: 'Σ lengths', value: mechanicalMm, unit: 'mm' },
      {
        label: 'Glass moves the focus back',
        formula: 'Σ t(1 − 1/n)',
        value: shift,
        unit: 'mm',
        source: 'textbook optics, paraxial',
      },
      { label: 'Wanted', formula: 'required + glass', value: targetMm, unit: 'mm' },
      { label: 'Residual', formula: 'stack − wanted', value: residualMm, unit: 'mm' },
      {
        label: 'Residual by documented or measured lengths',
        formula: 'least … greatest',
        value: `${range.min.toFixed(2)} … ${range.max.toFixed(2)}`,
        unit: 'mm',
      },
    ],
    verdict: verdictOf(input, residualMm, state, inside(range.min) && inside(range.max)),
  };
}

function verdictOf(
  input: BackfocusInput,
  residual: number,
  state: BackfocusOutput['state'],
  sure: boolean,
): SpokenVerdict {
  const values = { offMm: Math.abs(residual), toleranceMm: input.toleranceMm };
  if (state !== 'within') return makeVerdict('bad', phrase(state === 'short' ? 'train.short' : 'train.long', values));
  if (!sure) return makeVerdict('caution', phrase('train.unsure', values));
  const where = Math.abs(residual) < 0.005 ? 'train.exact' : residual < 0 ? 'train.before' : 'train.beyond';
  return makeVerdict('good', phrase(where, values));
}

export const trainBackfocus = define({
  name: 'train.backfocus',
  summary: 'Back focus of a stack against the distance the corrector asks for, glass included',
  sources: ['Plane-plate shift t(1 − 1/n): textbook optics'],
  input: BackfocusInput,
  output: BackfocusOutput,
  compute: backfocus,
});
