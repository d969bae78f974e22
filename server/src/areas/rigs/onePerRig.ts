import type { Model, ModelStatic, Transaction, WhereOptions } from 'sequelize';
import { plain } from '../../database/index.ts';
import { demandVersion, iso, type Actor, type Store } from '../../store.ts';
import { currentRig } from './current.ts';

/** A record of which a rig has one at most, made by the first save. */
interface OneOfRig {
  id: string;
  rigId: string;
  version: number;
  updatedAt: Date;
  updatedBy: string | null;
  archivedAt: Date | null;
}

/**
 * Makes or changes a rig's one record inside of a change that took its turn at the rig, so that of two first saves at the
 * same moment one is told that it is stale. @returns what was there before @throws Problem stale, with the record as it now stands
 */
export async function keepOneOfRig<R extends OneOfRig>(
  store: Store,
  who: Actor,
  table: ModelStatic<Model<R>>,
  rigId: string,
  sent: { version: number; fields: Omit<R, keyof OneOfRig> },
  current: () => Promise<unknown>,
  t: Transaction,
): Promise<R | null> {
  const where = { rigId } as WhereOptions<R>;
  const found = await table.findOne({ where, transaction: t });
  const row = found ? plain(found) : null;
  await demandVersion(sent.version, row ?? { version: 0, updatedBy: null }, store, current, t);
  const next = { ...sent.fields, version: sent.version + 1, updatedAt: store.now(), updatedBy: who.id };
  if (row) await table.update(next as object, { where, transaction: t });
  else await table.create({ id: store.id(), rigId, archivedAt: null, ...next } as never, { transaction: t });
  return row;
}

/** A rig’s one record, if there is one, with who saved it last: until somebody did, the rig itself stands for it. */
export async function readOneOfRig<R extends OneOfRig>(
  store: Store,
  who: Actor,
  table: ModelStatic<Model<R>>,
  rigId: string,
  t?: Transaction,
) {
  const { revision } = await currentRig(store, who.clubId, rigId, t);
  const found = await table.findOne({ where: { rigId } as WhereOptions<R>, ...(t ? { transaction: t } : {}) });
  const own = found ? plain(found) : null;
  const recordOf = {
    rigId,
    kept: own !== null,
    version: own?.version ?? 0,
    updatedAt: iso(own?.updatedAt ?? revision.at),
    updatedBy: (await store.names(who.clubId, t)).get(own?.updatedBy ?? revision.byId) ?? '',
  };
  return { own, revision, told: recordOf };
}
