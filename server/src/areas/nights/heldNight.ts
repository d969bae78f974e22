import { type Transaction, type WhereOptions } from 'sequelize';
import { BROUGHT_FRAMES, plain, type RunRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import type { ChangeOptions } from '../../sharedChange.ts';
import { demandRig } from '../rigs/current.ts';

/** The night of this id, in a club’s own rig; rehearsals are none. */
export async function heldNight(store: Store, who: Actor, id: string, t?: Transaction): Promise<RunRow> {
  const found = await store.runs.findOne({
    where: { id, ...BROUGHT_FRAMES } as WhereOptions<RunRow>,
    attributes: { exclude: ['result'] },
    ...(t ? { transaction: t } : {}),
  });
  if (!found) throw new Problem('not_found', 'There is no such night.');
  const run = plain(found);
  await demandRig(store, who.clubId, run.rigId, t);
  return run;
}

/** A change of a night of one’s own, in its turn at the rig. @throws Problem already_done where it was undone */
export async function changeNight<T>(
  store: Store,
  who: Actor,
  id: string,
  work: (run: RunRow, t: Transaction) => Promise<T>,
  options?: ChangeOptions,
): Promise<T> {
  const { rigId, night } = await heldNight(store, who, id);
  return store.change(
    who,
    ['rig', rigId],
    async (t) => {
      const run = await heldNight(store, who, id, t);
      demandOwner(who, run.byId, 'this night');
      if (run.state === 'discarded') throw new Problem('already_done', 'This night has been undone.');
      return work(run, t);
    },
    { tells: [{ what: 'nights', rigId, night }, { what: 'projects' }], ...options },
  );
}
