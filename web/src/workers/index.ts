import { wrap, type Remote } from 'comlink';
import { toRaw } from 'vue';
import type { CoreWorks } from './core.worker.ts';
export type { Computed } from './core.worker.ts';

let remote: Remote<CoreWorks> | null = null;
/** The worker, started when first needed. */
export function core(): Remote<CoreWorks> {
  remote ??= wrap<CoreWorks>(new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

/** Plain data for the worker: reactive wrappers cannot be posted. */
export const plainCopy = <T>(value: T): T => JSON.parse(JSON.stringify(toRaw(value))) as T;
