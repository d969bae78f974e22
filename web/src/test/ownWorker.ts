import { jest } from '@jest/globals';
import { atHand } from './worker.ts';

/** The worker itself for the screens of a test, in this thread. Before any of its screens is imported. */
export async function ownWorker(): Promise<void> {
  let works: unknown;
  jest.unstable_mockModule('comlink', () => ({
    expose: (w: unknown) => (works = w),
    wrap: () => works,
    proxy: <T>(v: T) => v,
  }));
  await import('../workers/core.worker.ts');
  jest.unstable_mockModule('../workers/index.ts', () => ({ core: () => works, ...atHand }));
}
