import { type Transaction, type WhereOptions } from 'sequelize';
import { BROUGHT_FRAMES, plain, type RunRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { type Actor, type Store } from '../../store.ts';
import { demandRig } from '../rigs/current.ts';

/** The night of this id, in a club’s own rig; rehearsals are none. */
export async function heldNight(store: Store, who: Actor, id: string, t?: Transaction): Promise<RunRow> {
  const found = await store.runs.findOne({
    where: { id, ...BROUGHT_FRAMES } as WhereOptions<RunRow>,
    attributes: { exclude: ['result'] },
    ...(t ? { transaction: t, lock: true } : {}),
  });
  if (!found) throw new Problem('not_found', 'There is no such night.');
  const run = plain(found);
  await demandRig(store, who.clubId, run.rigId, t);
  return run;
}
