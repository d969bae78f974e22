import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { Problem } from '../../problems.ts';
import { FairQueue } from './fairQueue.ts';
import { InvalidInput } from '@keen/core';
import type { Progress, Question, Reply, Tasks } from './worker.ts';

/** How long one calculation may take [ms]. */
export const DEADLINE_MS = { stranger: 2_000, member: 10_000, task: 60_000, job: 600_000 };
/** Share of its deadline that a search may use: the solver looks at the clock between its steps only, and some are long. */
const SEARCH_SHARE = 0.5;
/** Longest a worker may take to come up before its calculation is given up [ms]. */
const START_MS = 20_000;
/** Memory a worker may fill before it is ended [MB]. */
const HEAP_MB = 256;
/** Jobs a server works at, at a time: two, so that one member’s never keep another’s first waiting. */
export const JOB_SLOTS = 2;
/** Questions that may wait, of one person and in all. */
export const LINE = { perPerson: 8, inAll: 200 };

export interface Asker {
  /** Member, or address of a stranger: whose turn it is. */
  key: string;
  deadlineMs: number;
  /** Fires when the asker has gone. */
  gone?: AbortSignal;
  /** It is a job’s: done in the workers kept for those. */
  job?: boolean;
  /** Told from time to time how far a task is. */
  progress?: (now: Progress) => void;
}
/** Does a task in a worker, in its asker’s turn. @throws InvalidInput as the task does */
export type RunTask = <K extends keyof Tasks>(
  task: K,
  input: Parameters<Tasks[K]>[0],
  memberId: string,
) => Promise<Awaited<ReturnType<Tasks[K]>>>;
/** Who waits for a job: told how far it is, and able to end it. */
export type JobAsker = Required<Pick<Asker, 'progress' | 'gone'>>;
/** Does a task in a worker kept for jobs. @throws InvalidInput as the task does */
export type RunJob = <K extends keyof Tasks>(
  task: K,
  input: Parameters<Tasks[K]>[0],
  asker: JobAsker,
) => Promise<Awaited<ReturnType<Tasks[K]>>>;
export interface Workers {
  calculate: Calculate;
  runJob: RunJob;
  runTask: RunTask;
}
export type Calculate = (
  name: string,
  input: unknown,
  asker: Asker,
  picture?: Uint8Array<ArrayBuffer>,
) => Promise<Reply>;

/**
 * Calculations in workers of their own, so that none holds the server: each has a deadline and a bounded heap, after which
 * its worker is ended, and people take turns.
 * @param worker  the file of the workers, where it is not the one beside this
 * @throws Problem too_much_work at the deadline or out of memory; too_many and busy from the line
 */
export function calculationPool(
  dataFolder: string,
  worker = join(import.meta.dirname, import.meta.filename.endsWith('.ts') ? 'worker.ts' : 'worker.js'),
): Workers & { close: () => Promise<void> } {
  const source = worker.endsWith('.ts');
  const threads = Math.max(1, availableParallelism() - 1);
  const made = new Map<'questions' | 'jobs', Piscina<Question, Reply>>();
  /** Jobs have workers of their own: they may last, and nobody’s question shall wait for them. */
  function pool(of: 'questions' | 'jobs'): Piscina<Question, Reply> {
    const there = made.get(of);
    if (there) return there;
    const begun = new Piscina<Question, Reply>({
      filename: worker,
      minThreads: of === 'jobs' ? 0 : 1,
      maxThreads: of === 'jobs' ? JOB_SLOTS : threads,
      idleTimeout: of === 'jobs' ? 15_000 : 60_000,
      resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
      ...(source ? { execArgv: ['--import', 'tsx', '--conditions=@keen/source'] } : {}),
    });
    made.set(of, begun);
    return begun;
  }
  const line = new FairQueue({ atOnce: threads, ...LINE });

  async function work(
    name: string,
    input: unknown,
    asker: Asker,
    picture?: Uint8Array<ArrayBuffer>,
    task?: keyof Tasks,
  ): Promise<Reply> {
    if (asker.gone?.aborted) throw new Problem('too_much_work', 'Nobody waits for this any more.');
    const stop = new AbortController();
    const { port1, port2 } = new MessageChannel();
    let timer = setTimeout(() => stop.abort(), START_MS);
    const end = () => stop.abort();
    asker.gone?.addEventListener('abort', end);
    port1.on('message', (said: 'begun' | Progress) => {
      if (said !== 'begun') return asker.progress?.(said);
      clearTimeout(timer);
      timer = setTimeout(end, asker.deadlineMs);
    });
    try {
      return await pool(asker.job ? 'jobs' : 'questions').run(
        { name, input, dataFolder, mostSeconds: (SEARCH_SHARE * asker.deadlineMs) / 1000, begun: port2, picture, task },
        // a picture is handed over, not copied
        { signal: stop.signal, transferList: picture ? [port2, picture.buffer] : [port2] },
      );
    } catch (e) {
      if (stop.signal.aborted || (e as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Problem(
          'too_much_work',
          `This took longer than ${asker.deadlineMs / 1000} s, or more memory than there is for one question. Ask for less: fewer choices, a shorter span, coarser steps.`,
        );
      throw e;
    } finally {
      clearTimeout(timer);
      asker.gone?.removeEventListener('abort', end);
      port1.close();
    }
  }
  const runTask = (async (task: keyof Tasks, input: unknown, memberId: string) => {
    const asker = { key: memberId, deadlineMs: DEADLINE_MS.task };
    return answerOf(await line.run(memberId, () => work(task, input, asker, undefined, task)));
  }) as RunTask;
  const runJob = (async (task: keyof Tasks, input: unknown, { progress, gone }: JobAsker) => {
    const asker = { key: '', deadlineMs: DEADLINE_MS.job, job: true, progress, gone };
    return answerOf(await work(task, input, asker, undefined, task));
  }) as RunJob;
  return {
    runTask,
    runJob,
    calculate: (name, input, asker, picture) => line.run(asker.key, () => work(name, input, asker, picture)),
    close: async () => {
      await Promise.all([...made.values()].map((p) => p.destroy()));
    },
  };
}

/** @throws InvalidInput as the task did */
function answerOf(got: Reply): unknown {
  const answer: unknown = JSON.parse(got.json);
  if (got.status === 200) return answer;
  throw new InvalidInput((answer as { error: { issues: { path: string; message: string }[] } }).error.issues);
}
