import type { Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { liveRunner, type LiveRunner } from './runner.ts';
import { runTail, type RunTail } from './tail.ts';

/** What drives runs, and what tells of them. */
export interface Live {
  runner: LiveRunner;
  tail: RunTail;
}
export function makeLive(
  store: Store,
  runTask: RunTask,
  bridges: Readonly<Record<string, string>>,
  report: (error: unknown, where: string) => void,
): Live {
  const tail = runTail(store, report);
  return { tail, runner: liveRunner(store, runTask, tail, bridges, report) };
}
