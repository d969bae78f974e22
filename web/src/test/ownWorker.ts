import { jest } from '@jest/globals';
import { workWith } from './worker.ts';

/** The worker itself for the screens of a test, in this thread, but for what is given. Before any of its screens is imported. @returns it */
export async function ownWorker<W extends object>(instead: object = {}): Promise<W> {
  let works: object = {};
  jest.unstable_mockModule('comlink', () => ({
    expose: (w: object) => (works = w),
    wrap: () => works,
    proxy: <T>(v: T) => v,
  }));
  await import('../workers/core.worker.ts');
  workWith(() => ({ ...works, ...instead }));
  return works as W;
}
