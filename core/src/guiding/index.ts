export { budget, guideBudget, BudgetInput, type BudgetOutput } from './budget.ts';
export { flexure, guideFlexure, FlexureInput, type FlexureOutput } from './flexure.ts';
export { limit, guideLimit, LimitInput, calibration, guideCalibration, CalibrationInput } from './limit.ts';
export { readLog, guideLog, LogInput, type LogOutput, type LogSample } from './log.ts';
