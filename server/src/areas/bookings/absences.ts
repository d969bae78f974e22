import type { AbsenceNights } from '@keen/core/absences';
import type { Transaction } from 'sequelize';
import { plain } from '../../database/index.ts';
import { groupBy, type Actor, type Store } from '../../store.ts';

/** Nights on which members are away, by member. */
export async function absencesOf(
  store: Store,
  memberIds: readonly string[],
  t?: Transaction,
): Promise<Map<string, AbsenceNights[]>> {
  const rows = await store.absences.findAll({
    where: { memberId: [...memberIds] },
    order: [['fromNight', 'ASC']],
    ...(t ? { transaction: t } : {}),
  });
  const of = groupBy(rows.map(plain), (r) => r.memberId);
  return new Map(
    [...of].map(([id, own]) => [id, own.map((r) => ({ from: r.fromNight, until: r.untilNight, title: r.title }))]),
  );
}

export const absencesService = (store: Store) => ({
  own: async (who: Actor) => (await absencesOf(store, [who.id])).get(who.id) ?? [],
  keep: (who: Actor, absences: readonly AbsenceNights[]) =>
    store.change(
      who,
      ['member', who.id],
      async (t) => {
        await store.absences.destroy({ where: { memberId: who.id }, transaction: t });
        await store.absences.bulkCreate(
          absences.map((a) => ({
            id: store.id(),
            memberId: who.id,
            fromNight: a.from,
            untilNight: a.until,
            title: a.title,
          })),
          { transaction: t },
        );
        return (await absencesOf(store, [who.id], t)).get(who.id) ?? [];
      },
      // where somebody is, is nobody else’s business
      { quiet: true },
    ),
});
