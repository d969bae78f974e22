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
  initialState,
  applyEvent,
  movesMount,
  nextStep,
  partsOf,
  sideAt,
  takeStep,
  play,
  rulesOf,
  wheelLeftAt,
  type Conditions,
  type EngineState,
  type Happening,
  type Part,
  type Rules,
  type Step,
} from './engine.ts';
export { timeline, completeRounds, sequenceTimeline } from './timeline.ts';
export { sequenceRisk, risk, playRisk, RiskInput, RiskOutput, type RiskOfOrder } from './risk.ts';
export { learnSpells, LEARN_FROM_NIGHTS, type LearntSpells, type SkyFrame } from './learnSpells.ts';
export { ClearSpells, clearShare, drawSpells } from './clearSpells.ts';
export { PlanSettings, MoonRule, timelineInputOf } from './plan.ts';
export * from './nightPlan.ts';
export { legHours, moonSpells, twilightMs, type LegHours, type LegSky } from './legHours.ts';
export { both, either, joined, lengthMs, outside, type Interval } from './intervals.ts';
export { prepareLeg, unguided, type FollowerFacts, type PreparedLeg } from './legTimeline.ts';
export {
  beginTurn,
  tellOthers,
  turnsOf,
  whoseTurn,
  withOthersFrames,
  type AtWork,
  type LegInNight,
  type Next,
} from './whoseTurn.ts';
export {
  companionOf,
  legInitialState,
  shareCompanions,
  fittingExposure,
  followLead,
  followingOverheads,
  movingSpells,
} from './follower.ts';
export { scheduleNight, nightSpan, type LegSchedule, type NightSchedule, type Piece } from './scheduleNight.ts';
export { planFocus, type KnownOffsets } from './planFocus.ts';
export { planHolds, type PlanBase } from './planHolds.ts';
export { firstGoals, splitFilters } from './firstGoals.ts';
export { goalLayers, neededMinutes } from './goals.ts';
export { assembleNight, legTargetInput, prepareLegs, type NightFacts } from './assembleNight.ts';
export { ahead, orderEvening, type EveningCandidate, type EveningPick } from './evening.ts';
export { brokenLocks, changedFields, movedToNight, nightMover, PlanField, PlanLock, PlanLocks } from './locks.ts';
export {
  PLAN_FORMAT,
  PlanFile,
  planFileOf,
  planOfFile,
  readPlanFile,
  type PlanRead,
  type PlanTarget,
} from './planFile.ts';
export { planSteps, type PlanStep } from './planSteps.ts';
export { planTemplates, type Template, type TemplateCandidate, type TemplateLeg } from './templates.ts';
