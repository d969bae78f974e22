export type * from './devices.ts';
export { DeviceFault, DEVICES, MORE_DEVICES } from './devices.ts';
export { drawFaults, FAULTS, faultsOf, withFaults, type Fault, type PlannedFault, type Truth } from './faults.ts';
export { standIns, type StandIns } from './standIns.ts';
export { turningS } from './standInRotator.ts';
export { STAND_IN_STARS } from './opticalTrain.ts';
export { VirtualClock, type Pace } from './virtualClock.ts';
export {
  alike,
  beforeLimitDeg,
  sideOf,
  turnedWith,
  axesOf,
  horizontalOf,
  onTheWay,
  parkedAxes,
  pointingOf,
  equatorialOf,
  type Pointing,
} from './mountAxes.ts';
export { Forecast, ForecastHour, simulatedForecaster, type Forecaster } from './forecast.ts';
export { runPlanOf } from './runPlan.ts';
export { RunLeg, RunPlan, RunEvent, RunFrame, RunFocus, RunResult, AppliedOffsets } from './run.ts';
export { judgeFrame, type Standards } from './frameJudge.ts';
export { SkyWatch } from './skyWatch.ts';
export { runSummary } from './runSummary.ts';
export { drawCloud, simulatedTruthOf, temperatureAt, zoneStepsOf, type SimulatedTruth } from './simulatedTruth.ts';
export {
  simulateGuiding,
  GUIDE_FAULTS,
  type GuideFault,
  type SimulatedGuiding,
  type SimulatedSample,
} from './simulatedGuiding.ts';
