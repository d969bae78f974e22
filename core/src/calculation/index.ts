export * from './calculation.ts';
export * from './fields.ts';
export type * from './starSource.ts';
export type * from './solver.ts';
