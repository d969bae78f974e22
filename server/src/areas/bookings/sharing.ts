import type { SharingRecord } from '@keen/contract';
import { rulePhrase, SeasonRules, Sharing, USUAL_RULES, USUAL_SHARING } from '@keen/core/booking';
import type { Transaction } from 'sequelize';
import { plain, type SharingRow } from '../../database/index.ts';
import { demandVersion, iso, type Actor, type Store } from '../../store.ts';
import { rigOf } from '../rigs/current.ts';

/** How rigs are shared, by their ids; of those of which nobody said it, as is usual. */
export async function sharingOf(
  store: Store,
  rigIds: readonly string[],
  t?: Transaction,
): Promise<Map<string, Sharing>> {
  const rows = await store.sharing.findAll({ where: { id: [...rigIds] }, ...(t ? { transaction: t } : {}) });
  const said = new Map(rows.map(plain).map((r) => [r.id, r.data]));
  return new Map(rigIds.map((id) => [id, said.get(id) ?? USUAL_SHARING]));
}

/** By which rule a club counts hours. */
export async function rulesOf(store: Store, clubId: string, t?: Transaction): Promise<SeasonRules> {
  const [row] = await store.read<{ rules: string | SeasonRules | null }>(
    'SELECT season_rules AS rules FROM clubs WHERE id = ?',
    [clubId],
    t,
  );
  if (!row?.rules) return USUAL_RULES;
  return SeasonRules.parse(typeof row.rules === 'string' ? JSON.parse(row.rules) : row.rules);
}
const said = (rules: SeasonRules) => ({ ...rules, sentence: rulePhrase(rules) });

export function sharingService(store: Store) {
  const record = (id: string, row: SharingRow | undefined, names: Map<string, string>): SharingRecord => ({
    rigId: id,
    ...(row?.data ?? USUAL_SHARING),
    version: row?.version ?? 0,
    updatedAt: iso(row?.updatedAt ?? new Date(0)),
    updatedBy: names.get(row?.updatedBy ?? '') ?? '',
  });
  return {
    async list(who: Actor): Promise<SharingRecord[]> {
      const rigs = await store.read<{ id: string }>(
        'SELECT id FROM rigs WHERE club_id = ? AND archived_at IS NULL ORDER BY name',
        [who.clubId],
      );
      const rows = await store.sharing.findAll({ where: { id: rigs.map((r) => r.id) } });
      const by = new Map(rows.map(plain).map((r) => [r.id, r]));
      const names = await store.names(who.clubId);
      return rigs.map((r) => record(r.id, by.get(r.id), names));
    },
    async change(who: Actor, rigId: string, { version, ...data }: Sharing & { version: number }) {
      return store.change(
        who,
        ['rig', rigId],
        async (t) => {
          const rig = await rigOf(store, who.clubId, rigId, t);
          const found = await store.sharing.findByPk(rigId, { transaction: t });
          const row = found ? plain(found) : null;
          const names = await store.names(who.clubId, t);
          const there = row ?? { version: 0, updatedBy: null };
          await demandVersion(version, there, store, async () => record(rigId, row ?? undefined, names), t);
          const next: SharingRow = {
            id: rigId,
            data,
            version: version + 1,
            updatedAt: store.now(),
            updatedBy: who.id,
            archivedAt: null,
          };
          if (row) await store.sharing.update(next, { where: { id: rigId }, transaction: t });
          else await store.sharing.create(next, { transaction: t });
          await store.audit(who, rig.name, 'how it is shared was changed', t);
          return record(rigId, next, names);
        },
        { tells: { what: 'bookings', rigId } },
      );
    },
    rules: async (who: Actor) => said(await rulesOf(store, who.clubId)),
    changeRules: (who: Actor, rules: SeasonRules) =>
      store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          await store.db.query('UPDATE clubs SET season_rules = :rules WHERE id = :id', {
            replacements: { rules: JSON.stringify(rules), id: who.clubId },
            transaction: t,
          });
          await store.audit(who, 'Season', 'the rule by which hours are counted was changed', t);
          return said(rules);
        },
        { tells: { what: 'bookings' } },
      ),
  };
}
