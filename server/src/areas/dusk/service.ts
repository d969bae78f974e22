import type { SetupListRecord } from '@keen/contract';
import { defaultItems, type SetupItem } from '@keen/core/setup';
import type { Transaction } from 'sequelize';
import { plain, type RigRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';
import { keepOneOfRig } from '../rigs/onePerRig.ts';

/** Set-up lists: the one a rig begins with, or the club's own; ticks belong to a rig and a night. */
export function setupListService(store: Store) {
  async function demandRigOf(who: Actor, rigId: string) {
    const current = await currentSystem(store, who.clubId, rigId);
    const site = plain((await store.sites.findByPk(current.rig.siteId))!);
    return { rig: current.rig, offered: defaultItems(site.kind, current.setup), since: current.revision };
  }
  async function record(
    who: Actor,
    { rig, offered, since }: { rig: RigRow; offered: SetupItem[]; since: { at: Date; byId: string } },
    night: string,
    t?: Transaction,
  ): Promise<SetupListRecord> {
    const within = t ? { transaction: t } : {};
    const names = await store.names(who.clubId, t);
    const found = await store.setupLists.findOne({ where: { rigId: rig.id }, ...within });
    const own = found ? plain(found) : null;
    const ticks = await store.setupTicks.findAll({ where: { rigId: rig.id, night }, order: ['at'], ...within });
    return {
      rigId: rig.id,
      items: own?.items ?? offered,
      own: own !== null,
      ticks: ticks.map(plain).map((k) => ({ key: k.item, by: names.get(k.byId) ?? '', at: iso(k.at) })),
      version: own?.version ?? 0,
      updatedAt: iso(own?.updatedAt ?? since.at),
      updatedBy: names.get(own?.updatedBy ?? since.byId) ?? '',
    };
  }
  return {
    async read(who: Actor, rigId: string, night: string): Promise<SetupListRecord> {
      return record(who, await demandRigOf(who, rigId), night);
    },
    async change(
      who: Actor,
      rigId: string,
      night: string,
      { items, version }: { items: SetupItem[]; version: number },
    ): Promise<SetupListRecord> {
      const rig = await demandRigOf(who, rigId);
      return store.change(
        who,
        ['rig', rigId],
        async (t) => {
          const sent = { version, fields: { items } };
          await keepOneOfRig(store, who, store.setupLists, rigId, sent, () => record(who, rig, night, t), t);
          await store.audit(who, rig.rig.name, `set-up list changed, ${items.length} steps`, t);
          return record(who, rig, night, t);
        },
        { tells: { what: 'set-up', rigId, night } },
      );
    },
    async tick(
      who: Actor,
      rigId: string,
      { night, key, done }: { night: string; key: string; done: boolean },
    ): Promise<SetupListRecord> {
      const rig = await demandRigOf(who, rigId);
      return store.change(
        who,
        ['rig', rigId],
        async (t) => {
          const now = await record(who, rig, night, t);
          if (!now.items.some((i) => i.key === key))
            throw new Problem('invalid_input', `The list of ${rig.rig.name} has no step “${key}”.`, {
              issues: [{ path: 'key', message: `is not one of ${now.items.map((i) => i.key).join(', ')}` }],
            });
          const ticked = now.ticks.some((k) => k.key === key);
          if (!done) await store.setupTicks.destroy({ where: { rigId, night, item: key }, transaction: t });
          // where somebody else ticked it a moment before theirs stands
          else if (!ticked)
            await store.setupTicks.create(
              { id: store.id(), rigId, night, item: key, byId: who.id, at: store.now() },
              { transaction: t },
            );
          return record(who, rig, night, t);
        },
        { quiet: true, tells: { what: 'set-up', rigId, night } },
      );
    },
  };
}
