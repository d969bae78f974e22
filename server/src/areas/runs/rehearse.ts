import { demandPlan, besideOf } from './plannedRun.ts';
import { recordOf } from './records.ts';
import type { RunRecord } from '@keen/contract';
import { simulatedTruthOf, runPlanOf, zoneStepsOf, type AppliedOffsets } from '@keen/core/observatory';
import type { RunTask } from '../calculations/pool.ts';
import { filtersOf, type RigSetup } from '@keen/core/rig';
import { followingOverheads, NightPlan, type PlanSettings, assembleNight, focusRunsAsked } from '@keen/core/sequence';
import { parseInput } from '@keen/core/calculation';
import { type OffsetSetRow, type RunRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import { nightFacts, pointing, siteOf, skySite } from '../plans/night.ts';
import { offsetsHolding } from '../focus/holding.ts';

/** Reach of a focus run to either side, in critical zones; common practice, no source. */
const FOCUS_REACH_ZONES = 5;

/** Focus runs one rehearsal plays: every change of a night of 90 s frames. */
const MOST_FOCUS_RUNS = 500;

/** Filters a plan uses that the wheel does not hold. */
const absent = (s: PlanSettings, setup: RigSetup, path: string) =>
  s.filters.filter((f) => !filtersOf(setup).includes(f.name)).map(({ name }) => ({ name, path }));

/** Offsets as a run moves by them. */
const applied = (o: OffsetSetRow | null): AppliedOffsets | null =>
  o && {
    steps: Object.fromEntries(Object.entries(o.offsets).map(([f, { steps }]) => [f, steps])),
    temperatureStepsPerC: o.temperatureStepsPerC ?? 0,
  };

/** Plays a plan on the stand-ins; what comes out is stored, nothing is counted yet. */
export async function rehearse(
  store: Store,
  runTask: RunTask,
  who: Actor,
  planId: string,
  seed: number,
): Promise<RunRecord> {
  const now = await demandPlan(store, who, planId);
  const { plan, projects, rig, setup, state } = now;
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
      {
        issues: missing.map(({ path, name }) => ({ path, message: `${name} is not in the wheel` })),
      },
    );
  const offsets = await offsetsHolding(store, now);
  const { opening, closing, watches } = plan;
  const legs = plan.legs.map(({ start: _s, end: _e, flipAt: _f, ...leg }) => leg);
  const night = parseInput(NightPlan, { opening, legs, closing, watches });
  const site = await siteOf(store, rig.siteId);
  const facts = await nightFacts(store, {
    plan: night,
    date: plan.night,
    site,
    projects,
    build: now.revision.setup,
    system: now.system.key,
  });
  const { prepared, schedule } = assembleNight(night, facts)!;
  if (!schedule) throw new Problem('invalid_input', 'No leg of this plan has any hours in its night any more.');
  const focusRuns = schedule.legs.reduce(
    (sum, l, i) => sum + focusRunsAsked(l.schedule, night.legs[i]!.settings.focus.policy),
    0,
  );
  if (focusRuns > MOST_FOCUS_RUNS)
    throw new Problem(
      'too_much_work',
      `The plan asks for ${focusRuns} focus runs, a rehearsal plays ${MOST_FOCUS_RUNS} at most: longer exposures, offsets, or another order.`,
    );
  const lowest = night.legs.map((l) => projects.get(l.projectId)!.minimumAltitudeDeg);
  const targets = night.legs.map((l) => pointing(projects.get(l.projectId)!, l.panel, setup));
  const world = (of: RigSetup) => ({
    ...simulatedTruthOf(of, seed, schedule.startMs, schedule.endMs),
    longitudeDeg: site.longitudeDeg,
  });
  const reach = (of: RigSetup) => FOCUS_REACH_ZONES * zoneStepsOf(of);
  const around = { prepared, targets };
  const result = await runTask(
    'rehearse',
    {
      plan: runPlanOf(night, schedule, {
        ...around,
        night: facts.night,
        sky: { site: skySite(site), minimumAltitudeDeg: lowest },
        offsets: applied(offsets),
        focusReachSteps: reach(setup),
      }),
      world: world(setup),
      overheads: setup.overheads,
      beside: beside && {
        of: {
          ...around,
          offsets: applied(await offsetsHolding(store, beside)),
          focusReachSteps: reach(beside.setup),
          watches,
        },
        world: world(beside.setup),
        overheads: followingOverheads(beside.setup.overheads),
      },
    },
    who.id,
  );
  const row: RunRow = {
    id: store.id(),
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
    result: JSON.stringify(result),
    byId: who.id,
    at: store.now(),
    acceptedPlan: null,
    besideId: null,
  };
  // told by nobody: it counts for nothing
  await store.change(who, ['rig', rig.id], (t) => store.runs.create(row, { transaction: t }), { quiet: true });
  return recordOf(store, who, row);
}
