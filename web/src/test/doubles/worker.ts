import { calculations, type CalculationName } from '@keen/core';
import { outcomeOf, type Outcome } from '../../common/outcome.ts';
import { forThisFile } from './forThisFile.ts';

/** Stands in every test of a screen where the application has its worker: the calculations themselves, answered at once. */

/** What was asked in this file of tests, and answered: the same question has the same answer, and some take seconds. */
const known = new Map<string, string>();
export const calculate = async (name: CalculationName, input: unknown): Promise<Outcome<unknown>> => {
  const question = JSON.stringify([name, input]);
  if (!known.has(question)) known.set(question, JSON.stringify(outcomeOf(() => calculations.get(name)!.run(input))));
  return JSON.parse(known.get(question)!) as Outcome<unknown>;
};
export const plainCopy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

const nothing = (): object => ({});
let work = nothing;
/** What else the worker does in this file of tests; nothing, where nothing is said. */
export const workWith = (does: () => object): void =>
  forThisFile(
    () => (work = does),
    () => (work = nothing),
  );
export const core = (): object => work();
