import type { Page, RunRecord } from '@keen/contract';
import { simulatedTruthOf, runPlanOf, zoneStepsOf, type AppliedOffsets, type RunResult } from '@keen/core/observatory';
import type { RunTask } from '../calculations/pool.ts';
import { filtersOf, type RigSetup } from '@keen/core/rig';
import { followingOverheads, NightPlan, type PlanSettings, assembleNight, focusRunsAsked } from '@keen/core/sequence';
import { parseInput } from '@keen/core/calculation';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import {
  plain,
  type OffsetSetRow,
  type PlanLegRow,
  type PlanRow,
  type ProjectRow,
  type RunRow,
  heldUnder,
} from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, iso, pageOf, type Actor, type Store } from '../../store.ts';
import { nightFacts, pointing, projectsIn, siteOf, skySite } from '../plans/night.ts';
import { assignPanels } from '../projects/panels.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { currentSystem } from '../rigs/current.ts';

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

/** Whose frames they are, and where the mount pointed. */
interface Taking {
  plan: PlanRow;
  projects: ReadonlyMap<string, ProjectRow>;
  /** The leading system, which points. */
  setup: RigSetup;
  projectOf: (leg: PlanLegRow) => string;
}

export function runsService(store: Store, runTask: RunTask) {
  async function demandPlan(who: Actor, id: string, t?: Transaction) {
    const within = t ? { transaction: t } : {};
    const found = await store.plans.findByPk(id, within);
    if (!found) throw new Problem('not_found', 'There is no such plan.');
    const plan = plain(found);
    const ids = projectsIn(plan.legs);
    const projects = (await store.projects.findAll({ where: { id: ids }, ...within })).map(plain);
    const projectOf = new Map(projects.map((p) => [p.id, p]));
    const { system } = projectOf.get(plan.legs[0]!.projectId)!;
    const now = await currentSystem(store, who.clubId, plan.rigId, system, t);
    return { plan, projects: projectOf, ...now };
  }

  /** The system of the camera that follows in a plan; null where none does. */
  async function besideOf(who: Actor, plan: PlanRow, projects: ReadonlyMap<string, ProjectRow>, t?: Transaction) {
    const id = plan.legs.find((l) => l.follower)?.follower!.projectId;
    return id ? currentSystem(store, who.clubId, plan.rigId, projects.get(id)!.system, t) : null;
  }

  type Head = Omit<RunRecord, 'result'>;
  /** Runs with plan, project and train state, in three queries however many there are. */
  async function headsOf(rows: RunRow[], names: Map<string, string>, t?: Transaction): Promise<Head[]> {
    const within = t ? { transaction: t } : {};
    const byId = <R extends { id: string }>(list: R[]) => new Map(list.map((r) => [r.id, r]));
    const plans = byId(
      (await store.plans.findAll({ where: { id: rows.map((r) => r.planId!) }, ...within })).map(plain),
    );
    const projectIds = [...plans.values()].flatMap((p) => p.legs.map((l) => l.projectId));
    const projects = byId((await store.projects.findAll({ where: { id: projectIds }, ...within })).map(plain));
    const stateIds = [...new Set(rows.map((r) => r.trainStateId))];
    const states = byId((await store.trainStates.findAll({ where: { id: stateIds }, ...within })).map(plain));
    return rows.map((r) => {
      const plan = plans.get(r.planId!)!;
      return {
        id: r.id,
        kind: r.kind,
        planId: plan.id,
        legs: plan.legs.map(({ projectId }) => {
          const { name, object } = projects.get(projectId)!;
          return { projectId, projectName: name, object };
        }),
        rigId: plan.rigId,
        system: r.system,
        trainStateId: r.trainStateId,
        words: states.get(r.trainStateId)!.words,
        night: plan.night,
        seed: r.seed ?? 0,
        state: r.state,
        at: iso(r.at),
        by: names.get(r.byId) ?? '',
        offsetsUsed: r.offsetsUsed === 1,
        planVersion: r.planVersion ?? plan.version,
      };
    });
  }
  const record = async (who: Actor, r: RunRow, t?: Transaction): Promise<RunRecord> => ({
    ...(await headsOf([r], await store.names(who.clubId, t), t))[0]!,
    result: JSON.parse(r.result!) as RunResult,
  });

  async function demandRun(who: Actor, id: string, t?: Transaction) {
    const found = await store.runs.findByPk(id, t ? { transaction: t, lock: true } : {});
    if (!found) throw new Problem('not_found', 'There is no such run.');
    const run = plain(found);
    // a night that was brought in has no plan and no events
    if (!run.planId) throw new Problem('not_found', 'There is no such run.');
    const { plan, projects, setup } = await demandPlan(who, run.planId, t);
    return { run, plan, projects, setup };
  }

  /** Keeps what one camera took in a run: its frames, for their projects, and its focus runs. */
  async function keepTaken(who: Actor, run: RunRow, result: Omit<RunResult, 'follower'>, of: Taking, t: Transaction) {
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

  return {
    /** Plays a plan on the stand-ins; what comes out is stored, nothing is counted yet. */
    async rehearse(who: Actor, planId: string, seed: number): Promise<RunRecord> {
      const now = await demandPlan(who, planId);
      const { plan, projects, rig, setup, state } = now;
      demandOwner(who, plan.ownerId, 'this plan');
      if (plan.status !== 'planned') throw new Problem('already_done', 'This plan has been run; make a new one.');
      const beside = await besideOf(who, plan, projects);
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
      await store.transact((t) => store.runs.create(row, { transaction: t }));
      return record(who, row);
    },
    async list(who: Actor, page: Page): Promise<Head[]> {
      const names = await store.names(who.clubId);
      const rigs = await store.read<{ id: string }>('SELECT id FROM rigs WHERE club_id = ?', [who.clubId]);
      const rows = await store.runs.findAll({
        // a night that was brought in has no plan
        where: { rigId: rigs.map((r) => r.id), planId: { [Op.ne]: null } } as WhereOptions<RunRow>,
        attributes: { exclude: ['result'] },
        order: [
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return headsOf(rows.map(plain), names);
    },
    async get(who: Actor, id: string): Promise<RunRecord> {
      return record(who, (await demandRun(who, id)).run);
    },
    /** Counts a run's accepted frames for its project and keeps its focus runs, in one transaction. */
    async accept(who: Actor, id: string): Promise<RunRecord> {
      return store.transact(async (t) => {
        const { run, plan: seen, projects, setup } = await demandRun(who, id, t);
        if (!setup.practice)
          throw new Problem(
            'not_allowed',
            'A rehearsal on stand-ins never counts for a real rig. Bring the night’s own frames in under Morning; rigs marked for practice count their rehearsals.',
          );
        // as it stands now: it may be cancelled, or another run of it accepted, in the same moment
        const plan = plain((await store.plans.findByPk(seen.id, { transaction: t, lock: true }))!);
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
        await keepTaken(who, run, result, { ...taking, projectOf: (leg) => leg.projectId }, t);
        for (const p of projects.values()) if (p.system === run.system) await assignPanels(store, p, setup, t, id);
        const beside = result.follower ? await besideOf(who, plan, projects, t) : null;
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
          await keepTaken(who, night, result.follower, { ...taking, projectOf: (leg) => leg.follower!.projectId }, t);
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
        return record(who, { ...run, kind: 'live', state: 'accepted', acceptedPlan: plan.id }, t);
      });
    },
  };
}
