import { randomUUID } from 'node:crypto';
import { JOB_SLOTS, type RunJob } from '../areas/calculations/pool.ts';
import type { Progress } from '../areas/calculations/worker.ts';
import type { Metrics } from '../metrics.ts';
import { documentOf, known, Problem, type ProblemCode } from '../problems.ts';
import type { Store } from '../store.ts';
import { JOB_WORK } from './kinds.ts';
import { jobQueue, MOST_ATTEMPTS, type Claimed } from './queue.ts';

/** How often it is looked for jobs that were asked for at another server, or left by one that ended [ms]. */
const LOOK_MS = 700;
/** How often a job says that somebody is at it, and how often at most it says how far it is [ms]. */
const BEAT_MS = 1000;
const TELL_MS = 350;
const SWEEP_MS = 3_600_000;

/** What passes by itself. */
const PASSING: ReadonlySet<ProblemCode> = new Set(['database_down', 'busy', 'unsure'] as const);

/** The job was cancelled, or is another server’s by now. */
class Left extends Error {}

/**
 * Works at jobs, a few at a time and no member’s more than all but one of them. Each is held by a lease that is renewed while
 * it is worked at; what a server leaves behind that ended is begun again by whoever looks next.
 */
export function jobRunner(
  store: Store,
  runJob: RunJob,
  metrics: Pick<Metrics, 'jobEnded' | 'jobsRunning'>,
  report: (error: unknown, where: string) => void,
) {
  const queue = jobQueue(store);
  const server = randomUUID();
  const atWork = new Map<string, { memberId: string; gone: AbortController; ended: Promise<void> }>();
  let [stopping, looking, again, swept] = [false, false, false, 0];

  function busyMembers(): string[] {
    const of = [...atWork.values()].map((a) => a.memberId);
    return [...new Set(of)].filter((m) => of.filter((o) => o === m).length >= JOB_SLOTS - 1);
  }
  async function look(): Promise<void> {
    if (looking) return void (again = true);
    looking = true;
    try {
      do {
        again = false;
        while (!stopping && atWork.size < JOB_SLOTS) {
          const next = await queue.claim(server, busyMembers());
          if (!next) break;
          begin(next);
        }
      } while (again && !stopping);
      if (Date.now() - swept > SWEEP_MS) {
        swept = Date.now();
        await queue.sweep();
      }
    } catch (e) {
      report(e, 'looking for jobs');
    } finally {
      looking = false;
    }
  }
  function begin(claimed: Claimed): void {
    const gone = new AbortController();
    const ended = work(claimed, gone)
      .catch((e: unknown) => report(e, 'a job'))
      .finally(() => {
        atWork.delete(claimed.row.id);
        metrics.jobsRunning(atWork.size);
        if (!stopping) void look();
      });
    atWork.set(claimed.row.id, { memberId: claimed.row.memberId, gone, ended });
    metrics.jobsRunning(atWork.size);
  }

  async function work(claimed: Claimed, gone: AbortController): Promise<void> {
    let at = claimed;
    let left = false;
    let latest: Progress | null = null;
    let told = 0;
    // one after the other: each knows the version the one before it wrote
    let line: Promise<void> = Promise.resolve();
    const tell = () => {
      told = Date.now();
      line = line.then(async () => {
        if (left || gone.signal.aborted) return;
        const next = await queue.tell(at, latest?.share ?? at.row.share, latest?.stage ?? null).catch(() => at);
        if (next) at = next;
        else {
          left = true;
          gone.abort();
        }
      });
    };
    const beat = setInterval(tell, BEAT_MS).unref();
    const progress = (now: Progress) => {
      latest = now;
      if (Date.now() - told >= TELL_MS) tell();
    };
    try {
      if (at.row.attempts > MOST_ATTEMPTS) throw new Problem('gave_up');
      const { kind, input } = at.row;
      const { guard, tells, keep } = await JOB_WORK[kind](store, runJob, at.who, input as never, {
        progress,
        gone: gone.signal,
      });
      clearInterval(beat);
      await line;
      if (left || gone.signal.aborted) throw new Left();
      const done = async (t: Parameters<typeof keep>[0]) => {
        const result = JSON.stringify(await keep(t));
        const set = { state: 'done' as const, share: 1, stage: null, result, endedAt: store.now() };
        // of two that worked at it one may keep what it found
        if (!(await queue.write(at.row, { ...set, leaseOwner: null, leaseUntil: null }, t))) throw new Left();
      };
      await store.change(at.who, guard, done, { quiet: true, tells });
      metrics.jobEnded(kind, 'done');
    } catch (e) {
      clearInterval(beat);
      await line;
      await end(at, e, gone.signal.aborted || e instanceof Left);
    }
  }
  async function end(at: Claimed, e: unknown, interrupted: boolean): Promise<void> {
    const problem = known(e);
    if (problem.code === 'internal' && !interrupted) report(e, 'a job');
    const row = await queue.read(at.row.id);
    if (!row || row.version !== at.row.version) return;
    if (row.cancelRequested) await queue.end(at, { state: 'cancelled' });
    else if (stopping) await queue.giveBack(at, false);
    // nothing is wrong with the job: the database was away
    else if (PASSING.has(problem.code)) await queue.giveBack(at, true);
    else if (!interrupted) await queue.end(at, { state: 'failed', problem: documentOf(problem) });
    const back = stopping || PASSING.has(problem.code);
    metrics.jobEnded(row.kind, row.cancelRequested ? 'cancelled' : back ? 'given back' : 'failed');
  }

  let timer: NodeJS.Timeout | null = null;
  return {
    /** Somebody asked for a job here, or it is time to begin looking. */
    look: () => {
      timer ??= setInterval(() => void look(), LOOK_MS).unref();
      void look();
    },
    /** A job was cancelled here: whoever works at it here ends now, and not at its next word. */
    cancelled: (id: string) => atWork.get(id)?.gone.abort(),
    /** Begins nothing more, and gives back what is at work. */
    stop: async () => {
      stopping = true;
      if (timer) clearInterval(timer);
      for (const a of atWork.values()) a.gone.abort();
      await Promise.all([...atWork.values()].map((a) => a.ended));
    },
  };
}
export type JobRunner = ReturnType<typeof jobRunner>;
