export * from './schemas.ts';
export {
  focusHolds,
  focusWornOut,
  nextFilter,
  preparation,
  stillWanted,
  type FocusHolds,
  type SequenceState,
  type Preparation,
} from './choice.ts';
export {
  fitsBefore,
  frameMs,
  movesMount,
  partsOf,
  PREPARE,
  rulesOf,
  type Part,
  type Prepare,
  type Rules,
} from './rules.ts';
export {
  applyEvent,
  initialState,
  sideAt,
  wheelLeftAt,
  type Companion,
  type EngineEvent,
  type EngineState,
} from './engineState.ts';
export { type Conditions, type Step } from './step.ts';
export { nextStep } from './nextStep.ts';
export { companionAt, companionOf } from './companion.ts';
export { play, takeStep } from './play.ts';
export { timeline, completeRounds, sequenceTimeline } from './timeline.ts';
export { playNightRisk, type NightRiskInput } from './nightRisk.ts';
export { playLegs, type IdleWhy, type NightListener } from './playLegs.ts';
export { afterOpening, legInNight, openingLeaves } from './legInNight.ts';
export { MOST_NIGHTS, sequenceRisk, risk, playRisk, RiskInput, RiskOutput, type RiskOfOrder } from './risk.ts';
export { learnSpells, LEARN_FROM_NIGHTS, type LearntSpells, type SkyFrame } from './learnSpells.ts';
export { ClearSpells, clearShare, drawSpells } from './clearSpells.ts';
export { PlanSettings, MoonRule, timelineInputOf } from './plan.ts';
export * from './nightPlan.ts';
export { legHours, moonSpells, twilightMs, type LegHours, type LegSky } from './legHours.ts';
export { both, either, joined, lengthMs, outside, type Interval } from './intervals.ts';
export { prepareLeg, unguided, type FollowerFacts, type PreparedLeg } from './legTimeline.ts';
export {
  asFound,
  beginTurn,
  turnsOf,
  whoseTurn,
  withLeg,
  withOthersFrames,
  type AtWork,
  type LegInNight,
  type Next,
} from './whoseTurn.ts';
export {
  legInitialState,
  fittingExposure,
  followLead,
  followingOverheads,
  movingSpells,
  steady,
  type Steadiness,
  waitedShare,
} from './follower.ts';
export { scheduleNight, nightSpan, type LegSchedule, type NightSchedule, type Piece } from './scheduleNight.ts';
export { focusRunsAsked, planFocus, type KnownOffsets } from './planFocus.ts';
export { planHolds, type PlanBase } from './planHolds.ts';
export { firstGoals, onlyNarrow, splitFilters } from './firstGoals.ts';
export {
  firstLegs,
  firstSettings,
  freeId,
  freeSpan,
  legName,
  refocusEveryC,
  TURN_MIN,
  unplannedGoals,
  type AdoptedOffsets,
  type PlannedProject,
} from './firstPlan.ts';
export { legsForHours, MOST_BACKUPS, type ProjectHours } from './hoursPlan.ts';
export { goalLayers, neededMinutes } from './goals.ts';
export { assembleNight, legTargetInput, prepareLegs, type NightFacts } from './assembleNight.ts';
export { ahead, orderEvening, type EveningCandidate, type EveningPick, SHORTEST_STAY_MS } from './evening.ts';
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
