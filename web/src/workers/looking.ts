import { wrap, type Remote } from 'comlink';
import type { InLooking, LookedFile } from './look.worker.ts';

/** A picture and what is made of it take some hundred megabytes while it is measured. */
const MOST_WORKERS = 3;
const workersHere = () => Math.max(1, Math.min(MOST_WORKERS, (navigator.hardwareConcurrency || 2) - 1));

/**
 * Looks at files in workers of their own, in any order, telling each as it is done; ends when told to stop, the files
 * under way being finished. The workers end with the work.
 */
export async function lookAtFiles(
  files: readonly File[],
  each: (looked: LookedFile, place: number) => boolean,
): Promise<void> {
  // prettier-ignore
  let next = 0;
  let going = true;
  const work = async () => {
    const worker = new Worker(new URL('./look.worker.ts', import.meta.url), { type: 'module' });
    const remote: Remote<InLooking> = wrap<InLooking>(worker);
    try {
      while (going && next < files.length) {
        const place = next++;
        const looked = await remote.look(files[place]!);
        going = each(looked as LookedFile, place) && going;
      }
    } finally {
      worker.terminate();
    }
  };
  await Promise.all(Array.from({ length: Math.min(workersHere(), files.length) }, work));
}
