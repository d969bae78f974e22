import { calculations, type CalculationName } from '@keen/core';
import { outcomeOf } from '../common/outcome.ts';

/** Stands in a test for what the worker gives every screen: the calculations themselves, answered at once. */
export const atHand = {
  calculate: async (name: CalculationName, input: unknown) => outcomeOf(() => calculations.get(name)!.run(input)),
  plainCopy: <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T,
};
