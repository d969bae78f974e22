import { DuskSettings, type DuskSettingsRecord } from '@keen/contract';
import type { Transaction } from 'sequelize';
import type { Actor, Store } from '../../store.ts';
import { currentRig } from '../rigs/current.ts';
import { keepOneOfRig, readOneOfRig } from '../rigs/onePerRig.ts';

const WORDS: Record<keyof DuskSettings, string> = {
  cooling: 'cooler',
  guider: 'guider',
  dither: 'dither',
  second: 'second tube',
};

/** What was told about a rig's evenings; common values until somebody keeps their own. */
export function duskSettingsService(store: Store) {
  async function record(who: Actor, rigId: string, t?: Transaction): Promise<DuskSettingsRecord> {
    const { own, told } = await readOneOfRig(store, who, store.duskSettings, rigId, t);
    // fields that came later than the row have their defaults
    return { ...told, settings: DuskSettings.parse(own?.settings ?? {}) };
  }
  return {
    read: (who: Actor, rigId: string) => record(who, rigId),
    async keep(
      who: Actor,
      rigId: string,
      { settings, version }: { settings: DuskSettings; version: number },
    ): Promise<DuskSettingsRecord> {
      const { rig } = await currentRig(store, who.clubId, rigId);
      return store.change(
        who,
        ['rig', rigId],
        async (t) => {
          const sent = { version, fields: { settings } };
          const before = await keepOneOfRig(
            store,
            who,
            store.duskSettings,
            rigId,
            sent,
            () => record(who, rigId, t),
            t,
          );
          const was = before?.settings ?? DuskSettings.parse({});
          const changed = (Object.keys(WORDS) as (keyof DuskSettings)[])
            .filter((k) => JSON.stringify(was[k]) !== JSON.stringify(settings[k]))
            .map((k) => WORDS[k]);
          await store.audit(who, rig.name, `kept for its evenings: ${changed.join(', ') || 'nothing new'}`, t);
          return record(who, rigId, t);
        },
        { tells: { what: 'rigs', rigId } },
      );
    },
  };
}
