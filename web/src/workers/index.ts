import { wrap, type Remote } from 'comlink';
import type { CalculationName, InputOf, OutputOf } from '@keen/core';
import { outcomeOf, type Outcome } from '../common/outcome.ts';
import type { InWorker } from './core.worker.ts';

let remote: Remote<InWorker> | null = null;
/** The worker, started when first needed. */
export function core(): Remote<InWorker> {
  remote ??= wrap<InWorker>(new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

/** A calculation of the registry, worked out beside the interface. Its input is plain data: see `plainCopy`. */
export const calculate = async <N extends CalculationName>(
  name: N,
  input: InputOf<N>,
): Promise<Outcome<OutputOf<N>>> => {
  try {
    return (await core().calculate(name, input)) as Outcome<OutputOf<N>>;
  } catch (e) {
    return outcomeOf(() => {
      throw e;
    });
  }
};

/**
 * Plain data for the worker: reactive wrappers cannot be posted. Read through the wrapper, so that a computed value that
 * copies a draft follows every change in it.
 */
export const plainCopy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
