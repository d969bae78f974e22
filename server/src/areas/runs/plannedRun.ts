import { type Transaction } from 'sequelize';
import { plain, type PlanRow, type ProjectRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { type Actor, type Store } from '../../store.ts';
import { projectsIn } from '../plans/night.ts';
import { currentSystem } from '../rigs/current.ts';

export async function demandPlan(store: Store, who: Actor, id: string, t?: Transaction) {
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
export async function besideOf(
  store: Store,
  who: Actor,
  plan: PlanRow,
  projects: ReadonlyMap<string, ProjectRow>,
  t?: Transaction,
) {
  const id = plan.legs.find((l) => l.follower)?.follower!.projectId;
  return id ? currentSystem(store, who.clubId, plan.rigId, projects.get(id)!.system, t) : null;
}

export async function demandRun(store: Store, who: Actor, id: string, t?: Transaction) {
  const found = await store.runs.findByPk(id, t ? { transaction: t } : {});
  if (!found) throw new Problem('not_found', 'There is no such run.');
  const run = plain(found);
  // a night that was brought in has no plan and no events
  if (!run.planId) throw new Problem('not_found', 'There is no such run.');
  const { plan, projects, setup } = await demandPlan(store, who, run.planId, t);
  return { run, plan, projects, setup };
}
