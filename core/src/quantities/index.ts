export { parseQuantity, STORED_UNIT, type Dimension, type Parsed } from './parse.ts';
export * from './format.ts';
