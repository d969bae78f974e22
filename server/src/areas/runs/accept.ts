import { recordOf } from './records.ts';
import { demandRun, besideOf } from './plannedRun.ts';
import type { RunRecord } from '@keen/contract';
import { type RunResult } from '@keen/core/observatory';
import { mayBeAccepted } from '@keen/core/record';
import { type RigSetup } from '@keen/core/rig';
import { type Transaction } from 'sequelize';
import { type PlanLegRow, type PlanRow, type ProjectRow, type RunRow, heldUnder } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import { markFrames } from '../nights/frameSums.ts';
import { pointing } from '../plans/facts.ts';
import { assignPanels } from '../projects/panels.ts';

/** Whose frames they are, and where the mount pointed. */
interface Taking {
  plan: PlanRow;
  projects: ReadonlyMap<string, ProjectRow>;
  /** The leading system, which points. */
  setup: RigSetup;
  projectOf: (leg: PlanLegRow) => string;
}

/** Keeps what one camera took in a run: its frames, for their projects, and its focus runs. */
async function keepTaken(
  store: Store,
  who: Actor,
  run: RunRow,
  result: Omit<RunResult, 'follower' | 'faults'>,
  of: Taking,
  t: Transaction,
) {
  await store.frames.bulkCreate(
    result.frames.map((f, seq) => {
      // nights from before there were legs have one
      const leg = of.plan.legs[f.leg ?? 0]!;
      const { raDeg, decDeg } = pointing(of.projects.get(leg.projectId)!, leg.panel, of.setup);
      return {
        id: store.id(),
        runId: run.id,
        seq,
        kind: 'light' as const,
        projectId: of.projectOf(leg),
        panel: null,
        filter: f.filter,
        exposureS: f.exposureS,
        startedAt: new Date(f.start),
        file: '',
        header: { raDeg, decDeg, focuserPosition: f.focusPosition, focuserC: f.temperatureC },
        measures: { hfdPx: f.hfdPx, stars: f.stars, eccentricity: f.eccentricity, background: f.background },
        look: null,
        accepted: f.accepted ? 1 : 0,
        judged: 0,
        reason: f.reason.slice(0, 200),
        refusal: f.refusal,
        countedHash: null,
        fileHash: null,
      };
    }),
    { transaction: t },
  );
  await markFrames(store, [run.id], t);
  await store.focusRuns.bulkCreate(
    result.focusRuns.map((f) => ({
      id: store.id(),
      ...heldUnder(run, 'focus'),
      trainStateId: run.trainStateId,
      filter: f.filter,
      position: f.position,
      hfd: f.hfd,
      error: f.error,
      temperatureC: f.temperatureC,
      time: new Date(f.time),
      points: f.points,
      usable: f.usable ? 1 : 0,
      reason: f.usable ? '' : 'not usable',
      source: 'run' as const,
      runId: run.id,
      excluded: 0,
      byId: who.id,
      createdAt: store.now(),
    })),
    { transaction: t },
  );
}

/** Counts a run’s accepted frames for its project and keeps its focus runs, in one transaction. */
export async function acceptRun(store: Store, who: Actor, id: string): Promise<RunRecord> {
  const { rigId, night } = (await demandRun(store, who, id)).run;
  return store.change(
    who,
    ['rig', rigId],
    async (t) => {
      const { run, plan, projects, setup } = await demandRun(store, who, id, t);
      if (!mayBeAccepted(run.kind, setup.practice))
        throw new Problem(
          'not_allowed',
          'A rehearsal on stand-ins never counts for a real rig. Bring the night’s own frames in under Morning; rigs marked for practice count their rehearsals.',
        );
      demandOwner(who, plan.ownerId, 'this plan');
      if (plan.status === 'cancelled')
        throw new Problem('already_done', 'This plan was cancelled; its runs count for nothing.');
      const taken = await store.runs.findOne({ where: { acceptedPlan: plan.id }, transaction: t });
      if (taken || run.state === 'accepted')
        throw new Problem('already_done', 'A run of this plan has been accepted already; its frames are counted.');
      if (run.planVersion !== null && run.planVersion !== plan.version)
        throw new Problem('stale', 'The plan was changed after this rehearsal: rehearse it again, then accept that.');
      const result = JSON.parse(run.result!) as RunResult;
      const taking = { plan, projects, setup };
      await keepTaken(store, who, run, result, { ...taking, projectOf: (leg) => leg.projectId }, t);
      for (const p of projects.values()) if (p.system === run.system) await assignPanels(store, p, setup, t, id);
      const beside = result.follower ? await besideOf(store, who, plan, projects, t) : null;
      if (result.follower && beside) {
        // a night of its own, of the other system
        const { result: _r, ...like } = run;
        const night: RunRow = {
          ...like,
          id: store.id(),
          kind: 'live',
          state: 'accepted',
          planId: null,
          system: beside.system.key,
          trainStateId: beside.state.id,
          aspects: beside.aspects,
          offsetSetId: null,
          acceptedPlan: null,
          name: [...new Set(plan.legs.map((l) => projects.get(l.projectId)!.object))].join(', ').slice(0, 120),
          result: null,
          besideId: id,
        };
        await store.runs.create(night, { transaction: t });
        await keepTaken(
          store,
          who,
          night,
          result.follower,
          { ...taking, projectOf: (leg) => leg.follower!.projectId },
          t,
        );
        for (const p of projects.values())
          if (p.system === night.system) await assignPanels(store, p, beside.setup, t, night.id);
      }
      await store.runs.update(
        { kind: 'live', state: 'accepted', acceptedPlan: plan.id },
        { where: { id }, transaction: t },
      );
      await store.plans.update(
        { status: 'done', version: plan.version + 1 },
        { where: { id: plan.id }, transaction: t },
      );
      const frames = Object.values(result.accepted).reduce((s, n) => s + n, 0);
      const subject = [...projects.values()].map((p) => p.name).join(', ');
      await store.audit(who, subject, `night of ${plan.night} accepted: ${frames} frames counted`, t);
      return recordOf(store, who, { ...run, kind: 'live', state: 'accepted', acceptedPlan: plan.id }, t);
    },
    {
      tells: [
        { what: 'plans', rigId, night },
        { what: 'projects' },
        { what: 'nights', rigId, night },
        { what: 'focus', rigId },
      ],
    },
  );
}
