import type { Page, PlanFields, PlanRecord } from '@keen/contract';
import { words } from '@keen/core/phrases';
import {
  brokenLocks,
  changedFields,
  mostFrames,
  movedToNight,
  nightMover,
  nightSpan,
  type NightPlan,
  type PlanLock,
  prepareLegs,
} from '@keen/core/sequence';
import { eveningDate } from '@keen/core/sky';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type PlanLegRow, type PlanRow, type ProjectRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, groupBy, iso, pageOf, type Actor, type Store } from '../../store.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { currentSystem, demandRig, type CurrentSystem } from '../rigs/current.ts';
import { panelCount } from '../projects/panels.ts';
import { nightFacts, projectsIn, siteOf } from './night.ts';

/** Most frames one plan may come to: more is no night, and its rehearsal would hold the server. */
const MOST_PLAN_FRAMES = 20_000;
const HOUR_MS = 3_600_000;

/** A plan as it is sent, with all it needs to be laid over its night. */
interface Checked {
  fields: PlanFields;
  projects: Map<string, ProjectRow>;
  current: CurrentSystem;
  start: Date;
  end: Date;
  legs: PlanLegRow[];
}
const columns = ({ fields: f, start, end, legs }: Checked) => ({
  rigId: f.rigId,
  night: f.night,
  start,
  end,
  opening: f.opening,
  legs,
  closing: f.closing,
  watches: f.watches,
  locked: f.locked ? 1 : 0,
});
/** What a person decided of a plan that is kept. */
const decided = ({ opening, legs, closing, watches }: PlanRow): NightPlan => ({
  opening,
  legs: legs.map(({ start: _s, end: _e, flipAt: _f, ...leg }) => leg),
  closing,
  watches,
});
/** Locks as a steward sets them; who set one before stays its author. */
const locksBy = (who: Actor, f: PlanFields, before: PlanRow['locks'] = []): PlanRow['locks'] =>
  f.locks.map((l) => ({
    ...l,
    byId: before.find((b) => b.field === l.field && b.reason === l.reason)?.byId ?? who.id,
  }));
const objectsOf = (plan: PlanRecord) => [...new Set(plan.legs.map((l) => l.object))].join(', ');

/** What is locked, and what is opened again, is a steward’s decision. */
function demandLock(who: Actor, locked: boolean, was: boolean): void {
  if (locked !== was && who.role !== 'steward')
    throw new Problem('not_allowed', 'Only a steward locks or opens a plan.');
}

export function plansService(store: Store) {
  /** Plans with their projects and runs, in three queries however many there are. */
  async function records(rows: PlanRow[], names: Map<string, string>, t?: Transaction): Promise<PlanRecord[]> {
    const within = t ? { transaction: t } : {};
    const projects = await store.projects.findAll({
      where: { id: [...new Set(rows.flatMap((p) => projectsIn(p.legs)))] },
      ...within,
    });
    const projectOf = new Map(projects.map(plain).map((p) => [p.id, p]));
    const runs = await store.runs.findAll({
      where: { planId: rows.map((p) => p.id) },
      attributes: ['id', 'planId', 'state', 'at'],
      order: [['at', 'DESC']],
      ...within,
    });
    const sourceIds = [...new Set(rows.flatMap((p) => p.fromPlanId ?? []))];
    const sources = sourceIds.length
      ? (await store.plans.findAll({ where: { id: sourceIds }, ...within })).map(plain)
      : [];
    const zones = sources.length ? await zonesOf(sources, t) : new Map<string, string>();
    const runsOf = groupBy(runs.map(plain), (r) => r.planId!);
    const madeFrom = (p: PlanRow): PlanRecord['madeFrom'] => {
      const source = sources.find((q) => q.id === p.fromPlanId);
      if (!source) return null;
      const moved = movedToNight(decided(source), nightMover(zones.get(source.rigId)!, source.night, p.night));
      return {
        planId: source.id,
        owner: names.get(source.ownerId) ?? '',
        night: source.night,
        changed: changedFields(moved, decided(p)),
      };
    };
    return rows.map((p) => ({
      id: p.id,
      rigId: p.rigId,
      night: p.night,
      start: iso(p.start),
      end: iso(p.end),
      opening: p.opening,
      legs: p.legs.map((l) => {
        const { name, object } = projectOf.get(l.projectId)!;
        return { ...l, projectName: name, object };
      }),
      closing: p.closing,
      watches: p.watches,
      locked: p.locked === 1,
      locks: p.locks.map(({ field, reason, byId }) => ({ field, reason, by: names.get(byId) ?? '' })),
      madeFrom: madeFrom(p),
      status: p.status,
      owner: names.get(p.ownerId) ?? '',
      ownerId: p.ownerId,
      runs: (runsOf.get(p.id) ?? []).map((r) => ({ id: r.id, state: r.state, at: iso(r.at) })),
      system: projectOf.get(p.legs[0]!.projectId)!.system,
      madeFor: p.madeFor,
      version: p.version,
      updatedAt: iso(p.updatedAt),
      updatedBy: names.get(p.updatedBy ?? '') ?? '',
    }));
  }
  /** The time zones of rigs’ sites, by rig. */
  async function zonesOf(plans: readonly PlanRow[], t?: Transaction): Promise<Map<string, string>> {
    const ids = [...new Set(plans.map((p) => p.rigId))];
    const rows = await store.read<{ id: string; zone: string }>(
      'SELECT g.id, s.time_zone AS zone FROM rigs g JOIN sites s ON s.id = g.site_id WHERE g.id IN (?)',
      [ids],
      t,
    );
    return new Map(rows.map((r) => [r.id, r.zone]));
  }
  /** What a member changes must leave closed fields as they are. */
  function demandLocks(who: Actor, locks: PlanRow['locks'], before: NightPlan, after: NightPlan): void {
    if (who.role === 'steward') return;
    const broken = brokenLocks(locks, before, after);
    if (broken.length === 0) return;
    const say = (l: PlanLock) => `${l.field} ${l.reason ? `is locked: ${l.reason}` : 'is locked by a steward'}`;
    throw new Problem('not_allowed', broken.map(say).join('; '), {
      issues: broken.map((l) => ({ path: l.field, message: say(l) })),
    });
  }
  /** The protected plan a new one is made from, carried to its night. */
  async function sourceOf(id: string, f: PlanFields, t: Transaction) {
    const found = await store.plans.findByPk(id, { transaction: t });
    const source = found ? plain(found) : null;
    if (!source || source.rigId !== f.rigId || source.status === 'cancelled' || source.locks.length === 0)
      throw new Problem('not_found', 'There is no such protected plan of this rig.');
    const zone = (await zonesOf([source], t)).get(source.rigId)!;
    return { source, moved: movedToNight(decided(source), nightMover(zone, source.night, f.night)) };
  }

  /** A plan of one’s own that a steward protected and one cancelled: planned anew for the same hours it stays protected. */
  async function lockedBefore(who: Actor, { fields: f, start, end }: Checked, t: Transaction) {
    if (who.role === 'steward') return null;
    const rows = await store.plans.findAll({
      where: {
        ownerId: who.id,
        rigId: f.rigId,
        status: 'cancelled',
        start: { [Op.lt]: end },
        end: { [Op.gt]: start },
      } as WhereOptions<PlanRow>,
      order: [['updatedAt', 'DESC']],
      transaction: t,
    });
    const source = rows.map(plain).find((p) => p.updatedBy === who.id && (p.locks.length > 0 || p.locked === 1));
    if (!source) return null;
    if (source.locked === 1)
      throw new Problem('not_allowed', 'A steward had locked your plan of these hours; ask there to have it opened.');
    return { source, moved: decided(source) };
  }

  const record = async (p: PlanRow, names: Map<string, string>, t?: Transaction): Promise<PlanRecord> =>
    (await records([p], names, t))[0]!;

  /** A plan must lie in its own night, on a rig of the club, for projects of one of its systems; its hours follow from the sky. */
  async function check(who: Actor, f: PlanFields): Promise<Checked> {
    const refuse = (path: string, message: string): never => {
      throw new Problem('invalid_input', `${path}: ${message}`, { issues: [{ path, message }] });
    };
    await demandRig(store, who.clubId, f.rigId);
    const ids = projectsIn(f.legs);
    const found = (await store.projects.findAll({ where: { id: ids, clubId: who.clubId } })).map(plain);
    const projects = new Map(found.map((p) => [p.id, p]));
    if (projects.size < ids.length) throw new Problem('not_found', 'There is no such project.');
    const { system } = projects.get(f.legs[0]!.projectId)!;
    f.legs.forEach((l, i) => {
      const project = projects.get(l.projectId)!;
      if (project.rigId !== f.rigId) refuse(`legs.${i}.projectId`, `${project.name} is taken with another rig`);
      if (l.panel !== null && l.panel >= (panelCount(project) > 1 ? panelCount(project) : 0))
        refuse(
          `legs.${i}.panel`,
          panelCount(project) > 1
            ? `${project.name} has ${panelCount(project)} panels`
            : `${project.name} is one field, without panels`,
        );
      if (project.system !== system)
        refuse(`legs.${i}.projectId`, 'all legs of a plan are taken with one imaging system of the rig');
    });
    const besides = f.legs.map((l) => (l.follower ? projects.get(l.follower.projectId)! : null));
    besides.forEach((p, i) => {
      if (p && p.rigId !== f.rigId) refuse(`legs.${i}.follower.projectId`, `${p.name} is taken with another rig`);
      if (p && p.system === system)
        refuse(`legs.${i}.follower.projectId`, `${p.name} is taken with the leading camera itself`);
      if (p && besides.some((q) => q && q.system !== p.system))
        refuse(`legs.${i}.follower.projectId`, 'one second camera follows in a plan');
    });
    const current = await currentSystem(store, who.clubId, f.rigId, system);
    const site = await siteOf(store, current.rig.siteId);
    // what has passed of tonight is not planned any more
    const now = store.now().getTime();
    const nowMs = eveningDate(site.timeZone, now) === f.night ? now : undefined;
    const facts = await nightFacts(store, {
      plan: f,
      date: f.night,
      site,
      projects,
      build: current.revision.setup,
      system,
      nowMs,
    });
    const prepared = prepareLegs(f, facts)!;
    const span = nightSpan(f, prepared, facts.night, [], nowMs);
    if (!span) {
      const trouble = prepared[0]!.trouble!;
      const atEnd = ['plan.leg-ends-before', 'plan.leg-is-over'].includes(trouble.code);
      return refuse(atEnd ? 'legs.0.until' : 'legs.0.from', words(trouble));
    }
    if (span.endMs - span.startMs > 20 * HOUR_MS) refuse('legs', 'a night is shorter than 20 hours');
    const evening = eveningDate(site.timeZone, span.startMs);
    if (evening !== f.night) refuse('legs', `begin in the night of ${evening}, the plan is for ${f.night}`);
    const most = prepared.reduce(
      (sum, { input: t }) =>
        sum + (t ? mostFrames(t.filters, t.overheads.downloadS, (Date.parse(t.end) - Date.parse(t.start)) / 1000) : 0),
      0,
    );
    const shortestS = Math.min(...f.legs.flatMap((l) => l.settings.filters.map((x) => x.exposureS)));
    const { downloadS } = current.setup.overheads;
    const frames = Math.min(most, (span.endMs - span.startMs) / 1000 / (shortestS + downloadS));
    if (frames > MOST_PLAN_FRAMES)
      refuse('legs', `could take more than ${MOST_PLAN_FRAMES} frames this night: longer exposures or smaller quotas`);
    const legs = f.legs.map((leg, i): PlanLegRow => {
      const hours = prepared[i]!.input;
      return { ...leg, start: hours?.start ?? null, end: hours?.end ?? null, flipAt: hours?.flipAt ?? null };
    });
    return { fields: f, projects, current, start: new Date(span.startMs), end: new Date(span.endMs), legs };
  }

  /** Refuses when another plan holds the rig for part of the time. The rig's row is locked: two savers take turns. */
  async function demandFree(who: Actor, c: Checked, t: Transaction, except?: string): Promise<void> {
    const { rigId } = c.fields;
    await store.rigs.findByPk(rigId, { transaction: t, lock: true });
    const other = await store.plans.findOne({
      where: {
        rigId,
        status: { [Op.ne]: 'cancelled' },
        start: { [Op.lt]: c.end },
        end: { [Op.gt]: c.start },
        ...(except ? { id: { [Op.ne]: except } } : {}),
      } as WhereOptions<PlanRow>,
      transaction: t,
      lock: true,
    });
    if (!other) return;
    const o = plain(other);
    const current = await record(o, await store.names(who.clubId, t), t);
    throw new Problem(
      'night_overlap',
      `${current.owner} has planned ${objectsOf(current)} on this rig from ${current.start} to ${current.end}.`,
      {
        current,
      },
    );
  }

  /** What a plan is made for: the state of its system, and the offsets that hold for it. */
  async function madeFor({ current }: Checked, t: Transaction): Promise<PlanRow['madeFor']> {
    const set = await offsetsHolding(store, current, t);
    return { aspects: current.aspects, offsetSetId: set?.id ?? null, revision: current.revision.number };
  }
  /** Which projects a plan works for, as the database keeps it. */
  async function keepProjects(planId: string, legs: readonly PlanLegRow[], t: Transaction): Promise<void> {
    await store.db.query('DELETE FROM plan_projects WHERE plan_id = ?', { replacements: [planId], transaction: t });
    for (const id of projectsIn(legs))
      await store.db.query('INSERT INTO plan_projects (plan_id, project_id) VALUES (?, ?)', {
        replacements: [planId, id],
        transaction: t,
      });
  }

  return {
    record,
    async list(who: Actor, { night, ...page }: Page & { night?: string | undefined }): Promise<PlanRecord[]> {
      const names = await store.names(who.clubId);
      const rigs = await store.read<{ id: string }>('SELECT id FROM rigs WHERE club_id = ?', [who.clubId]);
      const rows = await store.plans.findAll({
        where: {
          rigId: rigs.map((r) => r.id),
          status: { [Op.ne]: 'cancelled' },
          ...(night ? { night } : {}),
        } as WhereOptions<PlanRow>,
        order: [
          ['start', 'DESC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return records(rows.map(plain), names);
    },
    async add(
      who: Actor,
      { fromPlanId = null, ...f }: PlanFields & { fromPlanId?: string | null },
    ): Promise<PlanRecord> {
      const c = await check(who, f);
      demandLock(who, f.locked, false);
      return store.transact(async (t) => {
        await demandFree(who, c, t);
        const from = fromPlanId ? await sourceOf(fromPlanId, f, t) : await lockedBefore(who, c, t);
        if (from) demandLocks(who, from.source.locks, from.moved, f);
        const row: PlanRow = {
          id: store.id(),
          ownerId: who.id,
          ...columns(c),
          locks: who.role === 'steward' ? locksBy(who, f) : (from?.source.locks ?? []),
          fromPlanId,
          status: 'planned',
          madeFor: await madeFor(c, t),
          version: 1,
          updatedAt: store.now(),
          updatedBy: who.id,
          archivedAt: null,
        };
        await store.plans.create(row, { transaction: t });
        await keepProjects(row.id, row.legs, t);
        const made = await record(row, await store.names(who.clubId, t), t);
        await store.audit(who, objectsOf(made), `plan for the night of ${f.night} saved`, t);
        return made;
      });
    },
    async change(who: Actor, id: string, { version, ...f }: PlanFields & { version: number }): Promise<PlanRecord> {
      const c = await check(who, f);
      return store.transact(async (t) => {
        await demandFree(who, c, t, id);
        const found = await store.plans.findByPk(id, { transaction: t, lock: true });
        if (!found) throw new Problem('not_found', 'There is no such plan.');
        const row = plain(found);
        await demandRig(store, who.clubId, row.rigId, t);
        demandOwner(who, row.ownerId, 'the plan');
        if (row.locked === 1 && who.role !== 'steward')
          throw new Problem('not_allowed', 'A steward has locked this plan.');
        demandLock(who, f.locked, row.locked === 1);
        demandLocks(who, row.locks, decided(row), f);
        const names = await store.names(who.clubId, t);
        if (row.status === 'cancelled')
          throw new Problem(
            'cancelled',
            `${names.get(row.updatedBy ?? '') ?? 'Somebody'} cancelled this plan. What you have here can be saved as a new one.`,
          );
        if (row.status !== 'planned') throw new Problem('already_done', 'This plan has been run; make a new one.');
        await demandVersion(version, row, store, () => record(row, names, t), t);
        const next = {
          ...row,
          ...columns(c),
          locks: who.role === 'steward' ? locksBy(who, f, row.locks) : row.locks,
          madeFor: await madeFor(c, t),
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.plans.update(next, { where: { id }, transaction: t });
        await keepProjects(id, next.legs, t);
        const made = await record(next, names, t);
        await store.audit(who, objectsOf(made), `plan for the night of ${f.night} changed`, t);
        return made;
      });
    },
    async cancel(who: Actor, id: string): Promise<void> {
      // under a lock: a run of it may be accepted in the same moment
      await store.transact(async (t) => {
        const found = await store.plans.findByPk(id, { transaction: t, lock: true });
        if (!found) throw new Problem('not_found', 'There is no such plan.');
        const row = plain(found);
        await demandRig(store, who.clubId, row.rigId, t);
        demandOwner(who, row.ownerId, 'the plan');
        if (row.status === 'done') throw new Problem('already_done', 'This plan has been run; it stays in the record.');
        const cancelled = {
          status: 'cancelled' as const,
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.plans.update(cancelled, { where: { id }, transaction: t });
        await store.audit(who, 'Plans', `plan for the night of ${row.night} cancelled`, t);
      });
    },
  };
}
