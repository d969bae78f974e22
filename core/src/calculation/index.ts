export * from './calculation.ts';
export * from './fields.ts';
