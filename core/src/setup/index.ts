export { defaultItems, FACTS, SetupItem, SetupItems, type Fact } from './items.ts';
export { cooling, coolingFrom, CoolingInput, COOLER, type Cooling } from './cooling.ts';
export { alignment, AlignmentInput, SHARED_FIELD, type Alignment } from './alignment.ts';
export { paced, STEP_MINUTES, OWN_STEP_MINUTES, type Paced, type PacedStep } from './pace.ts';
