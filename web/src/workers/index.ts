import { wrap, type Remote } from 'comlink';
import type { CoreWorks } from './core.worker.ts';
export type { Computed } from './core.worker.ts';

let remote: Remote<CoreWorks> | null = null;
/** The worker, started when first needed. */
export function core(): Remote<CoreWorks> {
  remote ??= wrap<CoreWorks>(new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

/**
 * Plain data for the worker: reactive wrappers cannot be posted. Read through the wrapper, so that a computed value that
 * copies a draft follows every change in it.
 */
export const plainCopy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;
