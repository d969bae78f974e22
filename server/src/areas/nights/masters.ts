import type { MasterFields, MasterRecord } from '@keen/contract';
import { calibrationHolds } from '@keen/core/calibration';
import type { AspectHashes } from '@keen/core/rig';
import type { Transaction } from 'sequelize';
import { plain, type MasterRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { demandOwner, type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';

/** Masters told at most. */
const MOST = 500;

export function mastersService(store: Store) {
  async function records(who: Actor, rows: readonly MasterRow[], now: AspectHashes): Promise<MasterRecord[]> {
    const names = await store.names(who.clubId);
    const states = await store.trainStates.findAll({ where: { id: [...new Set(rows.map((r) => r.trainStateId))] } });
    const words = new Map(states.map(plain).map((s) => [s.id, s.words]));
    return rows.map((r) => ({
      id: r.id,
      ...r.data,
      rigId: r.rigId,
      words: words.get(r.trainStateId) ?? '',
      holds: calibrationHolds(r.data.kind, { flats: r.flatsAspect }, now),
      by: names.get(r.byId) ?? '',
      byId: r.byId,
    }));
  }
  async function move(who: Actor, id: string, away: boolean): Promise<{ ok: true }> {
    const { rigId } = (await demandMaster(who, id, away)).row;
    return store.change(
      who,
      ['rig', rigId],
      async (t) => {
        const { row, rig } = await demandMaster(who, id, away, t);
        demandOwner(who, row.byId, 'this master');
        await store.masters.update({ archivedAt: away ? store.now() : null }, { where: { id }, transaction: t });
        const { kind, filter, exposureS } = row.data;
        await store.audit(who, rig, `master ${kind} ${filter} ${exposureS} s ${away ? 'put away' : 'taken back'}`, t);
        return { ok: true };
      },
      { tells: { what: 'masters', rigId } },
    );
  }
  /** A master of a rig of the club, which is put away or not. */
  async function demandMaster(who: Actor, id: string, there: boolean, t?: Transaction) {
    const within = t ? { transaction: t } : {};
    const found = await store.masters.findOne({ where: { id }, ...within });
    const row = found ? plain(found) : null;
    const rig = row && (await store.rigs.findOne({ where: { id: row.rigId, clubId: who.clubId }, ...within }));
    if (!row || !rig || (row.archivedAt === null) !== there) throw new Problem('not_found', 'There is no such master.');
    return { row, rig: plain(rig).name };
  }
  return {
    async list(who: Actor, rigId: string, system?: string): Promise<MasterRecord[]> {
      const now = await currentSystem(store, who.clubId, rigId, system);
      const rows = await store.masters.findAll({
        where: { rigId, archivedAt: null, 'data.system': now.system.key },
        order: [
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        limit: MOST,
      });
      return records(who, rows.map(plain), now.aspects);
    },
    async add(who: Actor, rigId: string, data: MasterFields): Promise<MasterRecord> {
      const now = await currentSystem(store, who.clubId, rigId, data.system);
      const row: MasterRow = {
        id: store.id(),
        rigId,
        trainStateId: now.state.id,
        flatsAspect: now.aspects.flats,
        data,
        byId: who.id,
        at: store.now(),
        archivedAt: null,
      };
      await store.change(
        who,
        ['rig', rigId],
        async (t) => {
          await store.masters.create(row, { transaction: t });
          await store.audit(who, now.rig.name, `master ${data.kind} ${data.filter} ${data.exposureS} s`, t);
        },
        { tells: { what: 'masters', rigId } },
      );
      return (await records(who, [row], now.aspects))[0]!;
    },
    drop: (who: Actor, id: string) => move(who, id, true),
    restore: (who: Actor, id: string) => move(who, id, false),
  };
}
