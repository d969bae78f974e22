export * from './schemas.ts';
export { assess, balanceAssess, AssessOutput, tubeSide, shaftSide } from './assess.ts';
export { balanceTorque, torqueAt, PierSide } from './torque.ts';
export { balanceInfer, infer, Reading, InferInput } from './infer.ts';
export { balanceSolve, solve, SolveStep, type SolveOutput } from './solve.ts';
export { FEASIBLE_NM } from './search.ts';
export { assessInputOf, solveInputOf, variantSetup } from './ofRig.ts';
export { commonMarks, attitudeTorqueNm, type CommonMarks, type RigState } from './states.ts';
export { overhangCaution } from './ofRig.ts';
