export {
  calibrationNeeds,
  needs,
  flatServes,
  CalibratedFrames,
  FlatHeld,
  DarkHeld,
  DarkFlatHeld,
  MissingDark,
  MissingFlat,
  NeedsInput,
  NeedsOutput,
} from './needs.ts';
export * from './flats.ts';
export * from './twilight.ts';
export { calibrationHolds, isMasterOf, masterState, OLD_MASTER_DAYS } from './masters.ts';
