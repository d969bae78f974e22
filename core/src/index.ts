export { calculations, jsonSchema, type CalculationName, type InputOf, type OutputOf } from './calculations.ts';
export * from './calculation/index.ts';
