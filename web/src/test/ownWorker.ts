import { wrap } from './doubles/comlink.ts';
import { workWith } from './doubles/worker.ts';

let begun = 0;
/**
 * The worker itself for the screens of a test, in this thread, but for what is given. One of its own: what a worker has fetched
 * once it keeps. @returns it
 */
export async function ownWorker<W extends object>(instead: object = {}): Promise<W> {
  const file = `../workers/core.worker.ts?${++begun}`;
  await import(file);
  const works = wrap();
  workWith(() => ({ ...works, ...instead }));
  return works as W;
}
