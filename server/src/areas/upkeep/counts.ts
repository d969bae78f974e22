import type { CountRecord } from '@keen/contract';
import type { Transaction } from 'sequelize';
import { plain, type CountRow, type PartRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, type Actor, type Store } from '../../store.ts';

/** Counts that are told; the archive has all. */
const TOLD = 12;

/** What is in the drawer against what it says. */
export function countService(store: Store) {
  const record = (r: CountRow, names: Map<string, string>): CountRecord => ({
    id: r.id,
    at: iso(r.at),
    by: names.get(r.byId) ?? '',
    note: r.note,
    rows: r.found,
    adopted: r.adopted === 1,
  });
  async function partsOf(who: Actor, ids: readonly string[], t: Transaction): Promise<Map<string, PartRow>> {
    const rows = await store.parts.findAll({
      where: { id: [...ids], clubId: who.clubId, archivedAt: null },
      transaction: t,
    });
    return new Map(rows.map(plain).map((p) => [p.id, p]));
  }
  const inClub = <T>(who: Actor, work: (t: Transaction) => Promise<T>) =>
    store.change(who, ['club', who.clubId], work, { tells: { what: 'parts' } });

  return {
    async list(who: Actor): Promise<CountRecord[]> {
      const rows = await store.partCounts.findAll({
        where: { clubId: who.clubId },
        order: [
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        limit: TOLD,
      });
      const names = await store.names(who.clubId);
      return rows.map((r) => record(plain(r), names));
    },
    keep: (who: Actor, { found, note }: { found: { partId: string; count: number }[]; note: string }) =>
      inClub(who, async (t) => {
        const parts = await partsOf(
          who,
          found.map((f) => f.partId),
          t,
        );
        const issues = found.flatMap(({ partId }, i) => {
          const path = `found.${i}.partId`;
          if (!parts.has(partId)) return [{ path, message: 'there is no such part' }];
          return found.findIndex((f) => f.partId === partId) < i ? [{ path, message: 'was counted already' }] : [];
        });
        if (issues.length)
          throw new Problem('invalid_input', 'some of what was counted is not in the drawer', { issues });
        const row: CountRow = {
          id: store.id(),
          clubId: who.clubId,
          at: store.now(),
          byId: who.id,
          note,
          found: found.map(({ partId, count }) => {
            const { name, data } = parts.get(partId)!;
            return { partId, name, expected: data.count, found: count };
          }),
          adopted: 0,
        };
        await store.partCounts.create(row, { transaction: t });
        await store.audit(who, 'Equipment', `counted: ${found.length} parts`, t);
        return record(row, await store.names(who.clubId, t));
      }),
    adopt: (who: Actor, id: string) =>
      inClub(who, async (t) => {
        const got = await store.partCounts.findOne({ where: { id, clubId: who.clubId }, transaction: t });
        if (!got) throw new Problem('not_found', 'There is no such count.');
        const row = plain(got);
        const parts = await partsOf(
          who,
          row.found.map((f) => f.partId),
          t,
        );
        for (const { partId, expected, found } of row.adopted ? [] : row.found) {
          const part = parts.get(partId);
          // somebody said since how many there are
          if (!part || found === expected || part.data.count !== expected) continue;
          await store.parts.update(
            {
              data: { ...part.data, count: found },
              version: part.version + 1,
              updatedAt: store.now(),
              updatedBy: who.id,
            },
            { where: { id: partId }, transaction: t },
          );
        }
        await store.partCounts.update({ adopted: 1 }, { where: { id }, transaction: t });
        await store.audit(who, 'Equipment', 'the drawer says what was counted', t);
        return record({ ...row, adopted: 1 }, await store.names(who.clubId, t));
      }),
  };
}
