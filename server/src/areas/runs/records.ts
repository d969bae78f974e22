import { demandRun } from './plannedRun.ts';
import type { Page, RunRecord } from '@keen/contract';
import { type RunResult } from '@keen/core/observatory';
import { Op, type Transaction, type WhereOptions } from 'sequelize';
import { plain, type RunRow } from '../../database/index.ts';
import { iso, pageOf, type Actor, type Store } from '../../store.ts';

export type RunHead = Omit<RunRecord, 'result'>;
/** Runs with plan, project and train state, in three queries however many there are. */
async function headsOf(store: Store, rows: RunRow[], names: Map<string, string>, t?: Transaction): Promise<RunHead[]> {
  const within = t ? { transaction: t } : {};
  const byId = <R extends { id: string }>(list: R[]) => new Map(list.map((r) => [r.id, r]));
  const plans = byId((await store.plans.findAll({ where: { id: rows.map((r) => r.planId!) }, ...within })).map(plain));
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
export const recordOf = async (store: Store, who: Actor, r: RunRow, t?: Transaction): Promise<RunRecord> => ({
  ...(await headsOf(store, [r], await store.names(who.clubId, t), t))[0]!,
  // one kept by an earlier version was asked for no faults
  result: { faults: [], ...(JSON.parse(r.result!) as Omit<RunResult, 'faults'>) },
});

export async function runHeads(store: Store, who: Actor, page: Page): Promise<RunHead[]> {
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
  return headsOf(store, rows.map(plain), names);
}
export async function runOf(store: Store, who: Actor, id: string): Promise<RunRecord> {
  return recordOf(store, who, (await demandRun(store, who, id)).run);
}
