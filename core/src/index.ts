export { calculations, jsonSchema } from './calculations.ts';
export * from './calculation/index.ts';
