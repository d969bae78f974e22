import { wrap, type Remote } from 'comlink';
import type { FitsValue, FrameKind } from '@keen/core/exchange';
import type { DrawnSize, PracticeFrame, Scene } from '@keen/core/frames';
import type { DrawnLook, InLooking, LookedFile, PracticeLook } from './look.worker.ts';

/** A picture and what is made of it take some hundred megabytes while it is measured. */
const MOST_WORKERS = 3;
const workersHere = () => Math.max(1, Math.min(MOST_WORKERS, (navigator.hardwareConcurrency || 2) - 1));

/**
 * Does jobs in workers of their own, in any order, telling each as it is done; ends when told to stop, the jobs under way
 * being finished. The workers end with the work.
 */
async function inWorkers<J, R>(
  jobs: readonly J[],
  run: (r: Remote<InLooking>, job: J) => Promise<R>,
  each: (got: R) => boolean,
): Promise<void> {
  let next = 0;
  let going = true;
  const work = async () => {
    const worker = new Worker(new URL('./look.worker.ts', import.meta.url), { type: 'module' });
    const remote = wrap<InLooking>(worker);
    try {
      while (going && next < jobs.length) going = each(await run(remote, jobs[next++]!)) && going;
    } finally {
      worker.terminate();
    }
  };
  await Promise.all(Array.from({ length: Math.min(workersHere(), jobs.length) }, work));
}

/** Measures files; those whose header says that they are of another kind than is wanted are told and not looked at. */
export const lookAtFiles = (
  files: readonly File[],
  wanted: FrameKind | null,
  each: (looked: LookedFile) => boolean,
): Promise<void> => inWorkers(files, (r, file) => r.look(file, wanted) as Promise<LookedFile>, each);
/** Draws and measures what the camera of a practice rig would have seen. */
export const lookAtPractice = (
  frames: readonly PracticeFrame[],
  each: (looked: PracticeLook) => boolean,
): Promise<void> => inWorkers(frames, (r, f) => r.practice(f) as Promise<PracticeLook>, each);
/** Draws and measures one picture. */
export async function lookAtScene(scene: Scene): Promise<DrawnLook> {
  const found: DrawnLook[] = [];
  await inWorkers(
    [scene],
    (r, s) => r.drawn(s) as Promise<DrawnLook>,
    (got) => found.push(got) > 0,
  );
  return found[0]!;
}
/** What the camera of a practice rig would have seen, as a file; the middle of it where no size is given. */
export async function practiceFits(
  frame: PracticeFrame,
  cards: readonly (readonly [string, FitsValue])[],
  size?: DrawnSize,
): Promise<Uint8Array> {
  const found: Uint8Array[] = [];
  await inWorkers(
    [frame],
    (r, f) => r.fits(f, cards, size) as Promise<Uint8Array>,
    (got) => found.push(got) > 0,
  );
  return found[0]!;
}
