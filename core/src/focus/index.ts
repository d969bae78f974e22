export { focusPolicy, policy, PolicyInput, PolicyOutput } from './policy.ts';
export { focusZone, zone, ZoneInput, ZoneOutput } from './zone.ts';
export { focusCurve, curve, curveAt, CurvePoint, CurveInput, type CurveOutput } from './curve.ts';
export { focusOffsets, offsets } from './offsets.ts';
export { FocusRunPoint, DriftModel, OffsetsInput, type OffsetsOutput } from './offsetSchemas.ts';
export {
  bestHome,
  guideShifts,
  HARMLESS_BLUR_PX,
  nightAgainst,
  type GuideShift,
  type HeldAgainst,
  type NightAgreement,
  type NightRun,
  nightSlope,
} from './nights.ts';
