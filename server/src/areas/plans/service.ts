import type { Page, PlanFields, PlanRecord } from '@keen/contract';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type PlanLegRow, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, demandVersion, pageOf, type Actor, type Store } from '../../store.ts';
import { moveUp } from '../bookings/standing.ts';
import { offsetsHolding } from '../focus/holding.ts';
import { demandRig } from '../rigs/current.ts';
import { checkPlan, columns, demandFree, type Checked } from './check.ts';
import { projectsIn } from './night.ts';
import { demandLock, demandLocks, lockedBefore, locksBy, sourceOf } from './protection.ts';
import { decided, objectsOf, planRecord, planRecords } from './records.ts';

export function plansService(store: Store) {
  const record = (p: PlanRow, names: Map<string, string>, t?: Transaction): Promise<PlanRecord> =>
    planRecord(store, p, names, t);

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

  async function demandPlan(who: Actor, id: string, t?: Transaction): Promise<PlanRow> {
    const found = await store.plans.findByPk(id, t ? { transaction: t } : {});
    if (!found) throw new Problem('not_found', 'There is no such plan.');
    await demandRig(store, who.clubId, plain(found).rigId, t);
    return plain(found);
  }
  /**
   * A change of a plan of one’s own, in its turn at its rig and at those it is laid on: a run of it may be accepted, or the
   * night taken by another, in the same moment.
   */
  async function changePlan<T>(
    who: Actor,
    id: string,
    rigs: string[],
    work: (row: PlanRow, t: Transaction) => Promise<T>,
  ): Promise<T> {
    const { rigId, night } = await demandPlan(who, id);
    const guards = [...new Set([rigId, ...rigs])].map((id) => ['rig', id] as const);
    return store.change(
      who,
      guards,
      async (t) => {
        const row = await demandPlan(who, id, t);
        if (row.rigId !== rigId) throw new Problem('stale', 'The plan was laid on another rig a moment ago.');
        demandOwner(who, row.ownerId, 'the plan');
        const [going] = await store.read("SELECT id FROM live_runs WHERE plan_id = ? AND state = 'running'", [id], t);
        if (going)
          throw new Problem(
            'in_use',
            'This plan is being run: stop the run first, or save what you have as a new plan.',
          );
        return work(row, t);
      },
      { tells: { what: 'plans', rigId, night } },
    );
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
      return planRecords(store, rows.map(plain), names);
    },
    async add(
      who: Actor,
      { fromPlanId = null, ...f }: PlanFields & { fromPlanId?: string | null },
    ): Promise<PlanRecord> {
      const c = await checkPlan(store, who, f);
      demandLock(who, f.locked, false);
      return store.change(
        who,
        ['rig', f.rigId],
        async (t) => {
          await demandFree(store, who, c, who.id, t);
          const from = fromPlanId ? await sourceOf(store, fromPlanId, f, t) : await lockedBefore(store, who, c, t);
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
        },
        { tells: { what: 'plans', rigId: f.rigId, night: f.night } },
      );
    },
    async change(who: Actor, id: string, { version, ...f }: PlanFields & { version: number }): Promise<PlanRecord> {
      const c = await checkPlan(store, who, f);
      return changePlan(who, id, [f.rigId], async (row, t) => {
        await demandFree(store, who, c, row.ownerId, t, id);
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
        // it may have left hours that somebody waits for
        await moveUp(store, who, row.rigId, t);
        const made = await record(next, names, t);
        await store.audit(who, objectsOf(made), `plan for the night of ${f.night} changed`, t);
        return made;
      });
    },
    async cancel(who: Actor, id: string): Promise<void> {
      await changePlan(who, id, [], async (row, t) => {
        if (row.status === 'done') throw new Problem('already_done', 'This plan has been run; it stays in the record.');
        const cancelled = {
          status: 'cancelled' as const,
          version: row.version + 1,
          updatedAt: store.now(),
          updatedBy: who.id,
        };
        await store.plans.update(cancelled, { where: { id }, transaction: t });
        await moveUp(store, who, row.rigId, t);
        await store.audit(who, 'Plans', `plan for the night of ${row.night} cancelled`, t);
      });
    },
  };
}
