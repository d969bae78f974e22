import { z } from 'zod';
import { balanceAssess, balanceInfer, balanceSolve, balanceTorque } from './balance/index.ts';
import type { Calculation } from './calculation/index.ts';
import { exposureIntegration, exposureMoon, exposureSky, exposureSub } from './exposure/index.ts';
import { focusCurve, focusOffsets, focusPolicy, focusZone } from './focus/index.ts';
import { sequenceRisk, sequenceTimeline } from './sequence/index.ts';
import { skyBrightness, skyNight, skyPole, skyTarget, skyYear } from './sky/index.ts';
import {
  opticsField,
  opticsFocusTravel,
  opticsReducer,
  trainAdapters,
  trainBackfocus,
  trainConfigurations,
  trainGuidePath,
  trainPrism,
  trainSpacers,
} from './train/index.ts';
import { guideBudget, guideCalibration, guideFlexure, guideLimit, guideLog, guideStars } from './guiding/index.ts';
import { ditherPlanning, ditherSync } from './dither/index.ts';
import { framesDiagnose, framesMeasure } from './frames/index.ts';
import { calibrationNeeds } from './calibration/index.ts';
import { seasonAllocate, seasonForecast } from './season/index.ts';

const ALL = [
  balanceAssess,
  balanceTorque,
  balanceSolve,
  balanceInfer,
  trainBackfocus,
  trainSpacers,
  trainAdapters,
  trainGuidePath,
  trainPrism,
  trainConfigurations,
  opticsField,
  opticsReducer,
  opticsFocusTravel,
  guideBudget,
  guideFlexure,
  guideStars,
  guideLimit,
  guideCalibration,
  guideLog,
  ditherPlanning,
  ditherSync,
  skyPole,
  focusCurve,
  focusOffsets,
  focusZone,
  focusPolicy,
  exposureSky,
  exposureSub,
  exposureIntegration,
  exposureMoon,
  skyBrightness,
  skyNight,
  skyTarget,
  skyYear,
  sequenceTimeline,
  sequenceRisk,
  framesMeasure,
  framesDiagnose,
  calibrationNeeds,
  seasonAllocate,
  seasonForecast,
] as const satisfies readonly Calculation[];

type Known = (typeof ALL)[number];
export type CalculationName = Known['name'];
type Called<N extends CalculationName> = Extract<Known, { name: N }>;
/** What a calculation takes, by its name. */
export type InputOf<N extends CalculationName> = z.input<Called<N>['input']>;
/** What it gives. */
export type OutputOf<N extends CalculationName> = z.output<Called<N>['output']>;

/** Every calculation by its name: the one list that shell, HTTP and interface serve from. */
export const calculations: ReadonlyMap<string, Calculation> = new Map(
  ALL.map((c): [string, Calculation] => [c.name, c]),
);

/** JSON Schema (2020-12) of what a calculation takes or gives. */
export const jsonSchema = (schema: z.ZodType, io: 'input' | 'output') =>
  z.toJSONSchema(schema, { io, unrepresentable: 'any' });
