import { QueryTypes, type Transaction } from 'sequelize';
import { inTransaction, plain, underLease } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { PARTS } from '../archive/parts.ts';
import { seedDemo } from '../../seed.ts';
import type { Actor, Store } from '../../store.ts';

/** Where the demo's absence is remembered, so that a start does not bring back what somebody took away. */
const SETTING = 'demo';

/** Everything of a club, in the order in which nothing points at what is already gone: the archive’s, backwards. */
const EMPTYING = [
  'DELETE FROM own_feeds WHERE member_id IN (SELECT id FROM members WHERE club_id = :club)',
  ...PARTS.flatMap(({ table, ofClub, self }) => (self ? [`UPDATE ${table} SET ${self} = NULL WHERE ${ofClub}`] : [])),
  ...PARTS.toReversed().map(({ table, ofClub }) => `DELETE FROM ${table} WHERE ${ofClub}`),
];

/** The demo club, taken away and brought back. */
export function demoService(store: Store) {
  const note = (value: string, t?: Transaction) =>
    store.db.query('REPLACE INTO installation (name, value) VALUES (:name, :value)', {
      replacements: { name: SETTING, value },
      ...(t ? { transaction: t } : {}),
    });

  /** One at a time, over all processes: two first starts make one club. */
  const alone = <T>(work: () => Promise<T>): Promise<T> => underLease(store.db, 'demo', work);
  const there = async () => (await store.clubs.count({ where: { demo: 1 } })) > 0;
  const hasOwner = async () => (await store.members.count({ where: { owner: 1, archivedAt: null } })) > 0;

  return {
    hasOwner,
    /** Nothing was ever begun, loaded or put back here: only then does a start load the demo by itself. */
    async neverHeldAnything(): Promise<boolean> {
      const marks = await store.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM installation', {
        type: QueryTypes.SELECT,
      });
      return Number(marks[0]!.n) === 0 && (await store.clubs.count()) === 0 && (await store.members.count()) === 0;
    },
    async removed(): Promise<boolean> {
      const [row] = await store.db.query<{ value: string }>('SELECT value FROM installation WHERE name = :name', {
        type: QueryTypes.SELECT,
        replacements: { name: SETTING },
      });
      return row?.value === 'removed';
    },
    /** Its own steward, or whoever owns the installation. */
    async demandKeeper(who: Actor | null, local: boolean): Promise<void> {
      if (who) {
        const club = plain((await store.clubs.findByPk(who.clubId))!);
        const me = plain((await store.members.findByPk(who.id))!);
        if (me.owner === 1 || (club.demo === 1 && who.role === 'steward')) return;
      } else if (local && !(await hasOwner())) return;
      throw new Problem('not_allowed', 'Only the demo’s steward, or whoever set this installation up, may do that.');
    },
    /** Loads the demo club unless it is there. @returns whether it was loaded now */
    bringBack: () =>
      alone(async () => {
        if (await there()) return false;
        await seedDemo(store);
        await note('loaded');
        return true;
      }),
    remove: () =>
      alone(async () => {
        const clubs = (await store.clubs.findAll({ where: { demo: 1 } })).map(plain);
        await inTransaction(store.db, async (t) => {
          for (const { id: club } of clubs)
            for (const sql of EMPTYING) await store.db.query(sql, { replacements: { club }, transaction: t });
          await note('removed', t);
        });
        return clubs.length > 0;
      }),
  };
}
