export { afterFlip, type AfterFlip } from './afterFlip.ts';
export { budget, guideBudget, BudgetInput, type BudgetOutput } from './budget.ts';
export { flexure, guideFlexure, FlexureInput, type FlexureOutput } from './flexure.ts';
export {
  limit,
  guideLimit,
  LimitInput,
  calibration,
  longerWayPx,
  guideCalibration,
  CalibrationInput,
  signalOf,
  exposureFor,
  saturationMag,
  GUIDE_EXPOSURES_S,
  type GuideOptics,
} from './limit.ts';
export {
  candidatesAt,
  nearestLit,
  onlyUsable,
  blendMm,
  BLEND,
  type Candidate,
  type GuideCamera,
} from './candidates.ts';
export { GOOD_GUIDING_ARCSEC, readLog, guideLog, LogInput, LogSummary, summaryOfLog, type LogOutput } from './log.ts';
export type { LogSample } from './logSample.ts';
export {
  guideStars,
  guideStarsOf,
  starsAround,
  summaryOf,
  StarsInput,
  BRIGHTEST_MAG,
  type StarsOutput,
} from './stars.ts';
export { anglesOf, inWindow, reachMm, turnWindow, type GuideWindow, type Ring } from './window.ts';
export {
  guideViewOf,
  ASSUMED,
  type GuideView,
  type GuideScopeView,
  type OffAxisView,
  type SkyConditions,
} from './ofRig.ts';
export {
  frame,
  framingVerdict,
  hasGuideStar,
  nearestAngle,
  ringOf,
  starsIn,
  windowPa,
  type Framed,
  type FramingVerdict,
  type GuideCriteria,
  type RingStep,
  type TurnMode,
} from './framing.ts';
export { calibrationPlace, answerOf, type Answer, type CalibrationPlace } from './place.ts';
export { spectrumOf, type Spectrum } from './spectrum.ts';
export { RULES, allowedArcsec, type RuleId } from './rules.ts';
