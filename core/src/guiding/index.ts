export { budget, guideBudget, BudgetInput, type BudgetOutput } from './budget.ts';
export { flexure, guideFlexure, FlexureInput, type FlexureOutput } from './flexure.ts';
