import type { Page, PlanFields, PlanRecord } from '@keen/contract';
import { eveningDate } from '@keen/core/sky';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, groupBy, iso, isoOrNull, pageOf, type Actor, type Store } from '../../store.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { currentRig, currentSystem, demandRig } from '../rigs/current.ts';

const columns = (f: PlanFields) => ({
  projectId: f.projectId,
  rigId: f.rigId,
  night: f.night,
  start: new Date(f.start),
  end: new Date(f.end),
  flipAt: f.flipAt ? new Date(f.flipAt) : null,
  settings: f.settings,
  locked: f.locked ? 1 : 0,
});

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
      where: { id: [...new Set(rows.map((p) => p.projectId))] },
      ...within,
    });
    const projectOf = new Map(projects.map(plain).map((p) => [p.id, p]));
    const runs = await store.runs.findAll({
      where: { planId: rows.map((p) => p.id) },
      attributes: ['id', 'planId', 'state', 'at'],
      order: [['at', 'DESC']],
      ...within,
    });
    const runsOf = groupBy(runs.map(plain), (r) => r.planId!);
    return rows.map((p) => ({
      id: p.id,
      projectId: p.projectId,
      rigId: p.rigId,
      night: p.night,
      start: iso(p.start),
      end: iso(p.end),
      flipAt: isoOrNull(p.flipAt),
      settings: p.settings,
      locked: p.locked === 1,
      projectName: projectOf.get(p.projectId)!.name,
      object: projectOf.get(p.projectId)!.object,
      status: p.status,
      owner: names.get(p.ownerId) ?? '',
      ownerId: p.ownerId,
      runs: (runsOf.get(p.id) ?? []).map((r) => ({ id: r.id, state: r.state, at: iso(r.at) })),
      system: projectOf.get(p.projectId)!.system,
      madeFor: p.madeFor,
      version: p.version,
      updatedAt: iso(p.updatedAt),
      updatedBy: names.get(p.updatedBy ?? '') ?? '',
    }));
  }
  const record = async (p: PlanRow, names: Map<string, string>, t?: Transaction): Promise<PlanRecord> =>
    (await records([p], names, t))[0]!;

  /** A plan must lie in its own night, on a rig and project of the club. */
  async function check(who: Actor, f: PlanFields): Promise<void> {
    const { rig } = await currentRig(store, who.clubId, f.rigId);
    const project = await store.projects.findOne({ where: { id: f.projectId, clubId: who.clubId } });
    if (!project) throw new Problem('not_found', 'There is no such project.');
    const [start, end] = [Date.parse(f.start), Date.parse(f.end)];
    const refuse = (path: string, message: string) => {
      throw new Problem('invalid_input', `${path}: ${message}`, { issues: [{ path, message }] });
    };
    if (end <= start) refuse('end', 'must lie after the start');
    if (end - start > 20 * 3_600_000) refuse('end', 'a night is shorter than 20 hours');
    const site = plain((await store.sites.findByPk(rig.siteId))!);
    const evening = eveningDate(site.timeZone, start);
    if (evening !== f.night) refuse('start', `lies in the night of ${evening}, the plan is for ${f.night}`);
  }

  /** Refuses when another plan holds the rig for part of the time. The rig's row is locked: two savers take turns. */
  async function demandFree(who: Actor, f: PlanFields, t: Transaction, except?: string): Promise<void> {
    await store.rigs.findByPk(f.rigId, { transaction: t, lock: true });
    const other = await store.plans.findOne({
      where: {
        rigId: f.rigId,
        status: { [Op.ne]: 'cancelled' },
        start: { [Op.lt]: new Date(f.end) },
        end: { [Op.gt]: new Date(f.start) },
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
      `${current.owner} has planned ${current.object} on this rig from ${current.start} to ${current.end}.`,
      {
        current,
      },
    );
  }

  /** What a plan is made for: the state of its system, and the offsets that hold for it. */
  async function madeFor(who: Actor, f: PlanFields, t: Transaction): Promise<PlanRow['madeFor']> {
    const project = plain((await store.projects.findByPk(f.projectId, { transaction: t }))!);
    const now = await currentSystem(store, who.clubId, f.rigId, project.system, t);
    const set = await offsetsHolding(store, now, t);
    return { aspects: now.aspects, offsetSetId: set?.id ?? null, revision: now.revision.number };
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
        order: [['start', 'DESC'], ['id', 'ASC']], // prettier-ignore
        ...pageOf(page),
      });
      return records(rows.map(plain), names);
    },
    async add(who: Actor, f: PlanFields): Promise<PlanRecord> {
      await check(who, f);
      demandLock(who, f.locked, false);
      return store.transact(async (t) => {
        await demandFree(who, f, t);
        const row: PlanRow = {
          id: store.id(),
          ownerId: who.id,
          ...columns(f),
          status: 'planned',
          madeFor: await madeFor(who, f, t),
          version: 1,
          updatedAt: store.now(),
          updatedBy: who.id,
          archivedAt: null,
        };
        await store.plans.create(row, { transaction: t });
        const made = await record(row, await store.names(who.clubId, t), t);
        await store.audit(who, made.projectName, `plan for the night of ${f.night} saved`, t);
        return made;
      });
    },
    async change(who: Actor, id: string, { version, ...f }: PlanFields & { version: number }): Promise<PlanRecord> {
      await check(who, f);
      return store.transact(async (t) => {
        await demandFree(who, f, t, id);
        const found = await store.plans.findByPk(id, { transaction: t, lock: true });
        if (!found) throw new Problem('not_found', 'There is no such plan.');
        const row = plain(found);
        await demandRig(store, who.clubId, row.rigId, t);
        demandOwner(who, row.ownerId, 'the plan');
        if (row.locked === 1 && who.role !== 'steward')
          throw new Problem('not_allowed', 'A steward has locked this plan.');
        demandLock(who, f.locked, row.locked === 1);
        if (row.status !== 'planned') throw new Problem('already_done', 'This plan has been run; make a new one.');
        const names = await store.names(who.clubId, t);
        await demandVersion(version, row, store, () => record(row, names, t), t);
        const next = {
          ...row,
          ...columns(f),
          madeFor: await madeFor(who, f, t),
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.plans.update(next, { where: { id }, transaction: t });
        const made = await record(next, names, t);
        await store.audit(who, made.projectName, `plan for the night of ${f.night} changed`, t);
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
