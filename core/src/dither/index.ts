export { ditherPlan, ditherPlanning, DitherPlanInput } from './plan.ts';
export { sync, ditherSync, SyncInput } from './sync.ts';
