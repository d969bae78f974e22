export * from './schemas.ts';
export {
  nextFilter,
  preparation,
  focusLifetimeMs,
  stillWanted,
  type SequenceState,
  type Preparation,
} from './choice.ts';
export {
  beginning,
  happened,
  nextStep,
  partsOf,
  play,
  rulesOf,
  type Conditions,
  type EngineState,
  type Happening,
  type Part,
  type Rules,
  type Step,
} from './engine.ts';
export { timeline, completeRounds, sequenceTimeline } from './timeline.ts';
export { sequenceRisk, risk, playRisk, RiskInput, RiskOutput, type RiskOfOrder } from './risk.ts';
export { ClearSpells, clearShare, drawSpells } from './clearSpells.ts';
export { PlanSettings, timelineInputOf } from './plan.ts';
export { planFocus, type KnownOffsets } from './planFocus.ts';
export { planHolds, type PlanBase } from './planHolds.ts';
export { firstGoals } from './firstGoals.ts';
export { orderEvening, type EveningCandidate, type EveningPick } from './evening.ts';
