export * from './schemas.ts';
export {
  nextFilter,
  preparation,
  focusLifetimeMs,
  stillWanted,
  type SequenceState,
  type Preparation,
} from './choice.ts';
export { timeline, completeRounds, sequenceTimeline } from './timeline.ts';
export { PlanSettings, timelineInputOf } from './plan.ts';
export { planFocus, type KnownOffsets } from './planFocus.ts';
export { planHolds, type PlanBase } from './planHolds.ts';
export { firstGoals } from './firstGoals.ts';
export { orderEvening, type EveningCandidate, type EveningPick } from './evening.ts';
