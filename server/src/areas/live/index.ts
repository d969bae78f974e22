import type { Config } from '../../config.ts';
import type { Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { frameKeeper, type FrameKeeper } from './frameKeeper.ts';
import { liveRunner, type LiveRunner } from './runner.ts';
import { runTail, type RunTail } from './tail.ts';

/** What drives runs, and what tells of them. */
export interface Live {
  runner: LiveRunner;
  tail: RunTail;
  keeper: FrameKeeper;
}
export function makeLive(
  store: Store,
  runTask: RunTask,
  { bridges, frames }: Pick<Config, 'bridges' | 'frames'>,
  report: (error: unknown, where: string) => void,
): Live {
  const tail = runTail(store, report);
  const keeper = frameKeeper(store, runTask, frames, report);
  return { tail, keeper, runner: liveRunner(store, runTask, { tail, keeper, bridges }, report) };
}
