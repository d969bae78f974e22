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
