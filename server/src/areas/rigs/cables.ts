import type { CablesRecord } from '@keen/contract';
import { CableSheet, typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain } from '../../database/index.ts';
import { iso, type Actor, type Store } from '../../store.ts';
import { keepOneOfRig } from '../dusk/onePerRig.ts';
import { currentRig } from './current.ts';

/** A rig’s cables; what such a rig usually has until somebody keeps their own. */
export function cablesService(store: Store) {
  async function record(who: Actor, rigId: string, t?: Transaction): Promise<CablesRecord> {
    const { revision } = await currentRig(store, who.clubId, rigId, t);
    const found = await store.cables.findOne({ where: { rigId }, ...(t ? { transaction: t } : {}) });
    const own = found ? plain(found) : null;
    return {
      rigId,
      sheet: own ? CableSheet.parse(own.sheet) : typicalCables(viewOf(revision.setup)),
      kept: own !== null,
      version: own?.version ?? 0,
      updatedAt: iso(own?.updatedAt ?? revision.at),
      updatedBy: (await store.names(who.clubId, t)).get(own?.updatedBy ?? revision.byId) ?? '',
    };
  }
  return {
    read: (who: Actor, rigId: string) => record(who, rigId),
    async keep(
      who: Actor,
      rigId: string,
      { sheet, version }: { sheet: CableSheet; version: number },
    ): Promise<CablesRecord> {
      const { rig } = await currentRig(store, who.clubId, rigId);
      return store.transact(async (t) => {
        await keepOneOfRig(
          store,
          who,
          store.cables,
          rigId,
          { version, fields: { sheet } },
          () => record(who, rigId, t),
          t,
        );
        await store.audit(
          who,
          rig.name,
          `cables kept: ${sheet.devices.length} devices on ${sheet.hubs.length} hubs`,
          t,
        );
        return record(who, rigId, t);
      });
    },
  };
}
