export { Glass, PathPart, Thread, mates, glassShiftMm, pathLengthMm, pathShiftMm, SLACK_MM } from './schemas.ts';
export { backfocus, trainBackfocus, BackfocusInput, type BackfocusOutput } from './backfocus.ts';
export { spacers, trainSpacers, SpacersInput, toUm, type SpacersOutput, type Stack } from './spacers.ts';
export { adapters, trainAdapters, AdaptersInput, type AdaptersOutput } from './adapters.ts';
export { guidePath, trainGuidePath, GuidePathInput, type GuidePathOutput } from './guidePath.ts';
export { offAxisSigns, type OffAxisSign } from './offAxisSigns.ts';
export { prism, trainPrism, PrismInput, isClearAt, shadowMap, coneAt, placeOf, type PrismOutput } from './prism.ts';
export { prismMoveFor } from './prismMove.ts';
export { blockedFraction } from './shadow.ts';
export {
  field,
  reducer,
  focusTravel,
  nearFocusShift,
  opticsField,
  opticsReducer,
  opticsFocusTravel,
  FieldInput,
  ReducerInput,
  FocusTravelInput,
  SAMPLING,
} from './optics.ts';
export {
  configurations,
  trainConfigurations,
  ConfigurationsInput,
  type ConfigurationsOutput,
} from './configurations.ts';
export {
  pathPart,
  trainDistance,
  type TrainDistance,
  cutForSearch,
  guidePathInputOf,
  filterShiftMm,
  prismInputOf,
  mosaicOf,
  sensorOf,
  guiderAt,
  tiltsUnseen,
  spacerStock,
  configurationsInputOf,
} from './ofRig.ts';
export { stackMm, stretchOf, placeForPiece, soundsLike, type Stretch } from './stretch.ts';
