export { conduct, equipmentOf, hasOf, rehearse, resultOfEvents, type Rehearsal } from './rehearse.ts';
export { faultsAndPairs, ordinaryNight, playFaults, type FaultNight } from './faultsPlayed.ts';
export { debrief, DebriefSchema, type Debrief } from './debrief.ts';
export { drive, type Driven } from './drive.ts';
export { HappenedSchema } from './happened.ts';
export { equipmentIn, perform, read, tubeRead, type Equipment } from './perform.ts';
export * from './protocol.ts';
export { EVERYDAY } from './everyday.ts';
export { isLoud, standing } from './attention.ts';
export { Followed, type Traces } from './follow.ts';
export { wakeMs, type Coming } from './ahead.ts';
export { outlook, underWay } from './outlook.ts';
export { play, type Played } from './play.ts';
export { replay, resultOf } from './project.ts';
export { beginRun, stateOf, stateText, type RunState } from './state.ts';
export { step } from './step.ts';
export {
  COMMANDS,
  isByOtherRules,
  isMotion,
  RULES,
  type Act,
  type Answer,
  type Ask,
  type Command,
  type CommandCode,
  type Happened,
  type NoRoom,
  type Readings,
  type Said,
  type Stepped,
  type Thrown,
} from './events.ts';
