import type { BoardQuestion, JobKind, JobResult, RiskQuestion } from '@keen/contract';
import type { Fault } from '@keen/core/observatory';
import type { Transaction } from 'sequelize';
import type { JobAsker, RunJob } from '../areas/calculations/pool.ts';
import { checkPlan } from '../areas/plans/check.ts';
import { nightRecords, siteOf } from '../areas/plans/night.ts';
import { keepRehearsal, prepareRehearsal } from '../areas/runs/rehearse.ts';
import { prepareBoard } from '../areas/season/board.ts';
import type { Guard } from '../sharedChange.ts';
import type { Actor, Store } from '../store.ts';
import type { Told } from '../streams/announce.ts';

/** What was worked out, and how it is kept: within the turn that ends the job. */
export interface Worked {
  guard: Guard;
  tells: readonly Told[];
  keep: (t: Transaction) => Promise<JobResult>;
}
/** Does the work of a job: reads what it needs, has it worked out by a worker, and says how it is kept. */
export type JobWork = (store: Store, runJob: RunJob, who: Actor, input: never, asker: JobAsker) => Promise<Worked>;

async function rehearsal(
  store: Store,
  runJob: RunJob,
  who: Actor,
  // one asked for by an earlier version names no faults
  { planId, seed, faults = [] }: { planId: string; seed: number; faults?: Fault[] },
  asker: JobAsker,
): Promise<Worked> {
  const prepared = await prepareRehearsal(store, who, planId, seed, faults);
  const result = await runJob('rehearse', prepared.task, asker);
  return {
    guard: ['rig', prepared.run.rigId],
    // its plan says now that it was rehearsed
    tells: [{ what: 'plans', rigId: prepared.run.rigId, night: prepared.run.night }],
    keep: async (t) => ({ kind: 'rehearsal', runId: (await keepRehearsal(store, prepared, result, t)).id }),
  };
}

async function risk(
  store: Store,
  runJob: RunJob,
  who: Actor,
  { plan, planId: _saved, ...of }: RiskQuestion,
  asker: JobAsker,
): Promise<Worked> {
  const { fields, projects, current } = await checkPlan(store, who, plan);
  const { opening, legs, closing, watches } = fields;
  const records = await nightRecords(store, {
    plan: fields,
    date: fields.night,
    site: await siteOf(store, current.rig.siteId),
    projects,
    build: current.revision.setup,
    system: current.system.key,
  });
  const found = await runJob('risk', { plan: { opening, legs, closing, watches }, records, ...of }, asker);
  return { guard: ['member', who.id], tells: [], keep: async () => ({ kind: 'risk', risk: found }) };
}

async function board(
  store: Store,
  runJob: RunJob,
  who: Actor,
  question: BoardQuestion,
  asker: JobAsker,
): Promise<Worked> {
  const found = await runJob('board', await prepareBoard(store, who, question), asker);
  return { guard: ['member', who.id], tells: [], keep: async () => ({ kind: 'board', board: found }) };
}

export const JOB_WORK: Record<JobKind, JobWork> = { rehearsal, risk, board };
