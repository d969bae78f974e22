import type { PlanRecord } from '@keen/contract';
import { changedFields, movedToNight, nightMover, type NightPlan } from '@keen/core/sequence';
import type { Transaction } from 'sequelize';
import { plain, type PlanRow } from '../../database/index.ts';
import { groupBy, iso, type Store } from '../../store.ts';
import { projectsIn } from './night.ts';

/** What a person decided of a plan that is kept. */
export const decided = ({ opening, legs, closing, watches }: PlanRow): NightPlan => ({
  opening,
  legs: legs.map(({ start: _s, end: _e, flipAt: _f, ...leg }) => leg),
  closing,
  watches,
});
/** What a plan is for, in words. */
export const objectsOf = (plan: PlanRecord) => [...new Set(plan.legs.map((l) => l.object))].join(', ');

/** Plans with their projects and runs, in three queries however many there are. */
export async function planRecords(
  store: Store,
  rows: PlanRow[],
  names: Map<string, string>,
  t?: Transaction,
): Promise<PlanRecord[]> {
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
  const zones = sources.length ? await zonesOf(store, sources, t) : new Map<string, string>();
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
export const planRecord = async (
  store: Store,
  p: PlanRow,
  names: Map<string, string>,
  t?: Transaction,
): Promise<PlanRecord> => (await planRecords(store, [p], names, t))[0]!;

/** The time zones of rigs’ sites, by rig. */
export async function zonesOf(store: Store, plans: readonly PlanRow[], t?: Transaction): Promise<Map<string, string>> {
  const ids = [...new Set(plans.map((p) => p.rigId))];
  const rows = await store.read<{ id: string; zone: string }>(
    'SELECT g.id, s.time_zone AS zone FROM rigs g JOIN sites s ON s.id = g.site_id WHERE g.id IN (?)',
    [ids],
    t,
  );
  return new Map(rows.map((r) => [r.id, r.zone]));
}
