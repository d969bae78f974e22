export { SAME_EXPOSURE_SHARE, sameExposure } from './exposure.ts';
export { countsAs, framesThere, goalFor, goalKey, type Gathered, type Goal } from './goal.ts';
export {
  COUNTED_RUN_KINDS,
  COUNTED_RUN_STATE,
  countsAsNight,
  mayBeAccepted,
  RUN_KINDS,
  type RunKind,
} from './counts.ts';
export { byNight, isLogOfNight, isOfNight, endOfNightMs, nightEndsMs, nightOf } from './night.ts';
export {
  CLOUD_REFUSALS,
  FEW_SHARE,
  isLostToCloud,
  LONG_ECCENTRICITY,
  RefusalCode,
  byHand,
  refusalPhrase,
  WIDE_TIMES,
} from './refusal.ts';
export {
  gatheredAside,
  gatheredBefore,
  gatheredIn,
  progressOf,
  servesGoal,
  openShutterThere,
  stillWanted,
  wantedMinutes,
  type Progress,
  type Taken,
} from './progress.ts';
export { pointedAt, pointingOf } from './pointing.ts';
export { isStopped, type Stop } from './stop.ts';
export { upkeepDue, type UpkeepDue, type UpkeepRule } from './upkeep.ts';
