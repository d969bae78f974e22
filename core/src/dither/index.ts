export { ditherPlan, ditherPlanning, DitherPlanInput, moveTimeS } from './plan.ts';
export { sync, ditherSync, SyncInput } from './sync.ts';
export {
  pattern,
  coverageOf,
  meanMove,
  positionsByFilter,
  ENOUGH_POSITIONS,
  PATTERNS,
  type Coverage,
  type PatternKind,
  type Place,
} from './pattern.ts';
export { cycleOf, spoiledShare, type Cycle, type Segment } from './cycle.ts';
