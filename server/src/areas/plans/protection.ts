import type { PlanFields } from '@keen/contract';
import { brokenLocks, movedToNight, nightMover, type NightPlan, type PlanLock } from '@keen/core/sequence';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type PlanRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';
import type { Checked } from './check.ts';
import { decided, zonesOf } from './records.ts';

/** Locks as a steward sets them; who set one before stays its author. */
export const locksBy = (who: Actor, f: PlanFields, before: PlanRow['locks'] = []): PlanRow['locks'] =>
  f.locks.map((l) => ({
    ...l,
    byId: before.find((b) => b.field === l.field && b.reason === l.reason)?.byId ?? who.id,
  }));
/** What is locked, and what is opened again, is a steward’s decision. */
export function demandLock(who: Actor, locked: boolean, was: boolean): void {
  if (locked !== was && who.role !== 'steward')
    throw new Problem('not_allowed', 'Only a steward locks or opens a plan.');
}

/** What a member changes must leave closed fields as they are. */
export function demandLocks(who: Actor, locks: PlanRow['locks'], before: NightPlan, after: NightPlan): void {
  if (who.role === 'steward') return;
  const broken = brokenLocks(locks, before, after);
  if (broken.length === 0) return;
  const say = (l: PlanLock) => `${l.field} ${l.reason ? `is locked: ${l.reason}` : 'is locked by a steward'}`;
  throw new Problem('not_allowed', broken.map(say).join('; '), {
    issues: broken.map((l) => ({ path: l.field, message: say(l) })),
  });
}
/** The protected plan a new one is made from, carried to its night. */
export async function sourceOf(store: Store, id: string, f: PlanFields, t: Transaction) {
  const found = await store.plans.findByPk(id, { transaction: t });
  const source = found ? plain(found) : null;
  if (!source || source.rigId !== f.rigId || source.status === 'cancelled' || source.locks.length === 0)
    throw new Problem('not_found', 'There is no such protected plan of this rig.');
  const zone = (await zonesOf(store, [source], t)).get(source.rigId)!;
  return { source, moved: movedToNight(decided(source), nightMover(zone, source.night, f.night)) };
}

/** A plan of one’s own that a steward protected and one cancelled: planned anew for the same hours it stays protected. */
export async function lockedBefore(store: Store, who: Actor, { fields: f, start, end }: Checked, t: Transaction) {
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
