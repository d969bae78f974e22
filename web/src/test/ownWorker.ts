import { wrap } from './doubles/comlink.ts';
import { workWith } from './doubles/worker.ts';

/** The worker itself for the screens of a test, in this thread, but for what is given. @returns it */
export async function ownWorker<W extends object>(instead: object = {}): Promise<W> {
  await import('../workers/core.worker.ts');
  const works = wrap();
  workWith(() => ({ ...works, ...instead }));
  return works as W;
}
