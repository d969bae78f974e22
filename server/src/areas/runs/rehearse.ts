import { filtersOf, type RigSetup } from '@keen/core/rig';
import { type PlanSettings } from '@keen/core/sequence';
import type { AppliedOffsets, Fault, RunResult } from '@keen/core/observatory';
import type { RunRecord } from '@keen/contract';
import type { Transaction } from 'sequelize';
import { type OffsetSetRow, type RunRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import type { RunTask } from '../calculations/pool.ts';
import { duskSettingsService } from '../dusk/settings.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { nightRecords, siteOf } from '../plans/night.ts';
import { besideOf, demandPlan } from './plannedRun.ts';
import type { RehearsalTask } from './playNight.ts';
import { recordOf } from './records.ts';

/** Filters a plan uses that the wheel does not hold. */
const absent = (s: PlanSettings, setup: RigSetup, path: string) =>
  s.filters.filter((f) => !filtersOf(setup).includes(f.name)).map(({ name }) => ({ name, path }));

/** Offsets as a run moves by them. */
const applied = (o: OffsetSetRow | null): AppliedOffsets | null =>
  o && {
    steps: Object.fromEntries(Object.entries(o.offsets).map(([f, { steps }]) => [f, steps])),
    temperatureStepsPerC: o.temperatureStepsPerC ?? 0,
  };

/** What a rehearsal of a plan is played with, as the plan and its rig stand now. */
export interface PreparedRehearsal {
  task: RehearsalTask;
  /** The run it becomes, but for what came of it. */
  run: Omit<RunRow, 'id' | 'result' | 'at'>;
}

/** A plan of one’s own that can be rehearsed, or why not. */
export async function demandRehearsable(store: Store, who: Actor, planId: string) {
  const now = await demandPlan(store, who, planId);
  const { plan, projects, rig, setup } = now;
  demandOwner(who, plan.ownerId, 'this plan');
  if (plan.status !== 'planned') throw new Problem('already_done', 'This plan has been run; make a new one.');
  const beside = await besideOf(store, who, plan, projects);
  const missing = plan.legs.flatMap((leg, i) => [
    ...absent(leg.settings, setup, `legs.${i}.settings.filters`),
    ...(leg.follower && beside
      ? absent(leg.follower.settings, beside.setup, `legs.${i}.follower.settings.filters`)
      : []),
  ]);
  if (missing.length)
    throw new Problem(
      'invalid_input',
      `${rig.name} no longer holds ${[...new Set(missing.map((f) => f.name))].join(', ')}`,
      { issues: missing.map(({ path, name }) => ({ path, message: `${name} is not in the wheel` })) },
    );
  return { ...now, beside };
}

export async function prepareRehearsal(
  store: Store,
  who: Actor,
  planId: string,
  seed: number,
  faults: Fault[] = [],
): Promise<PreparedRehearsal> {
  const now = await demandRehearsable(store, who, planId);
  const { plan, projects, rig, beside, state } = now;
  const offsets = await offsetsHolding(store, now);
  const { opening, closing, watches } = plan;
  const legs = plan.legs.map(({ start: _s, end: _e, flipAt: _f, ...leg }) => leg);
  const site = await siteOf(store, rig.siteId);
  const night = { opening, legs, closing, watches };
  const records = await nightRecords(store, {
    plan: night,
    date: plan.night,
    site,
    projects,
    build: now.revision.setup,
    system: now.system.key,
  });
  return {
    task: {
      plan: night,
      records,
      seed,
      faults,
      offsets: applied(offsets),
      cooling: (await duskSettingsService(store).read(who, rig.id)).settings.cooling,
      beside: beside && { system: beside.system.key, offsets: applied(await offsetsHolding(store, beside)) },
    },
    run: {
      kind: 'rehearsed',
      planId,
      rigId: rig.id,
      system: now.system.key,
      night: plan.night,
      name: '',
      trainStateId: state.id,
      aspects: now.aspects,
      offsetSetId: offsets?.id ?? null,
      planVersion: plan.version,
      seed,
      state: 'rehearsed',
      offsetsUsed: offsets ? 1 : 0,
      byId: who.id,
      acceptedPlan: null,
      besideId: null,
    },
  };
}

/** Keeps what was played. @returns the run’s id */
export async function keepRehearsal(
  store: Store,
  { run }: PreparedRehearsal,
  result: RunResult,
  t: Transaction,
): Promise<RunRow> {
  const row: RunRow = { id: store.id(), ...run, result: JSON.stringify(result), at: store.now() };
  await store.runs.create(row, { transaction: t });
  return row;
}

/** The same at once, for the demo’s own past. */
export async function rehearseNow(
  store: Store,
  runTask: RunTask,
  who: Actor,
  planId: string,
  seed: number,
): Promise<RunRecord> {
  const prepared = await prepareRehearsal(store, who, planId, seed);
  const result = await runTask('rehearse', prepared.task, who.id);
  // it counts for nothing, so nobody is told
  const row = await store.change(who, ['rig', prepared.run.rigId], (t) => keepRehearsal(store, prepared, result, t), {
    quiet: true,
  });
  return recordOf(store, who, row);
}
