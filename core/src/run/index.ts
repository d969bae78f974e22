export { conduct, rehearse, type Rehearsal } from './rehearse.ts';
export { faultsAndPairs, ordinaryNight, playFaults, type FaultNight } from './faultsPlayed.ts';
export { play, type Played } from './play.ts';
export { replay, resultOf } from './project.ts';
export { beginRun, stateOf, stateText, type RunState } from './state.ts';
export { step, wakeMs } from './step.ts';
export type { Act, Answer, Ask, Happened, Readings, Said, Stepped } from './events.ts';
