export type * from './devices.ts';
export { standIns, temperatureAt, drawCloud, type HiddenWorld } from './standIns.ts';
export {
  conduct,
  RunPlan,
  RunEvent,
  RunFrame,
  RunFocus,
  RunResult,
  AppliedOffsets,
  HFD_LIMIT,
  STAR_SHARE_LIMIT,
  ECCENTRICITY_LIMIT,
} from './conductor.ts';
export { hiddenWorldOf, zoneStepsOf } from './world.ts';
export {
  simulateGuiding,
  GUIDE_FAULTS,
  type GuideFault,
  type SimulatedGuiding,
  type SimulatedSample,
} from './simulatedGuiding.ts';
