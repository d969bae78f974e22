import type { CablesRecord } from '@keen/contract';
import { CableSheet, typicalCables } from '@keen/core/cables';
import { viewOf } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import type { Actor, Store } from '../../store.ts';
import { currentRig } from './current.ts';
import { keepOneOfRig, readOneOfRig } from './onePerRig.ts';

/** A rig’s cables; what such a rig usually has until somebody keeps their own. */
export function cablesService(store: Store) {
  async function record(who: Actor, rigId: string, t?: Transaction): Promise<CablesRecord> {
    const { own, revision, told } = await readOneOfRig(store, who, store.cables, rigId, t);
    return { ...told, sheet: own ? CableSheet.parse(own.sheet) : typicalCables(viewOf(revision.setup)) };
  }
  return {
    read: (who: Actor, rigId: string) => record(who, rigId),
    async keep(
      who: Actor,
      rigId: string,
      { sheet, version }: { sheet: CableSheet; version: number },
    ): Promise<CablesRecord> {
      const { rig } = await currentRig(store, who.clubId, rigId);
      return store.change(
        who,
        ['rig', rigId],
        async (t) => {
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
        },
        { tells: { what: 'rigs', rigId } },
      );
    },
  };
}
