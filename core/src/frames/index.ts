export { assignFrame, type Assigned, type Candidate } from './assign.ts';
export {
  frameGroups,
  matchFrames,
  openQuestions,
  storable,
  type FrameGroup,
  type Incoming,
  type Matched,
  type Matching,
} from './matchNight.ts';
export { foldedFilter, matchFilter } from './filterName.ts';
export { focuserDrift, type FocuserDrift, type FocuserReading } from './focuserDrift.ts';
export { readTypedFrames, type TypedFrames } from './typed.ts';
export {
  lookAtPicture,
  type LookedAt,
  measurePicture,
  measureValues,
  framesMeasure,
  MeasureInput,
  MeasureOutput,
  MeasuredCell,
  ListedStar,
} from './measure/measure.ts';
export {
  diagnose,
  framesDiagnose,
  FrameFinding,
  FrameFindingCode,
  DiagnoseInput,
  JudgedPicture,
} from './measure/diagnose.ts';
export { lightOf, renderCounts, type DrawnStar, type Edge, type Scene } from './render/render.ts';
export {
  practiceFile,
  practiceFrame,
  practiceRadiusDeg,
  practiceScene,
  type DrawnSize,
  type PracticeFrame,
} from './render/practice.ts';
export { fieldStars, inventedStars, type DrawnField } from './render/field.ts';
export * from './frameMeasures.ts';
export { fieldOf, settleEdges, type EdgeSeen } from './edgeCause.ts';
export { nightFindings, shownInMost, toMend, type ShownFinding } from './nightFindings.ts';
export * from './report.ts';
export { skyGradient, type SkyGradient } from './gradient.ts';
export { dustSpots, type DustSpot } from './measure/dust.ts';
export { edgeDips } from './measure/edges.ts';
export { heightOf, toneOf, type SmallPicture } from './measure/smallPictures.ts';
export * from './night/guided.ts';
export * from './night/nightHours.ts';
export * from './night/wander.ts';
