import { QueryTypes, type Transaction } from 'sequelize';
import { inTransaction, plain, underLease } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { seedDemo } from '../../seed.ts';
import type { Actor, Store } from '../../store.ts';

/** Where the demo's absence is remembered, so that a start does not bring back what somebody took away. */
const SETTING = 'demo';

/** Everything of a club, in the order in which nothing points at what is already gone. */
const EMPTYING = [
  'DELETE f FROM frames f JOIN runs r ON r.id = f.run_id JOIN rigs g ON g.id = r.rig_id WHERE g.club_id = :club',
  'DELETE f FROM focus_runs f JOIN rigs g ON g.id = f.rig_id WHERE g.club_id = :club',
  'DELETE o FROM offset_sets o JOIN rigs g ON g.id = o.rig_id WHERE g.club_id = :club',
  'DELETE r FROM runs r JOIN rigs g ON g.id = r.rig_id WHERE g.club_id = :club',
  'DELETE x FROM plan_projects x JOIN plans p ON p.id = x.plan_id JOIN rigs g ON g.id = p.rig_id WHERE g.club_id = :club',
  'UPDATE plans x JOIN rigs g ON g.id = x.rig_id SET x.from_plan_id = NULL WHERE g.club_id = :club',
  ...[
    'cable_sheets',
    'masters',
    'log_entries',
    'guide_logs',
    'setup_ticks',
    'setup_lists',
    'dusk_settings',
    'plans',
  ].map((t) => `DELETE x FROM ${t} x JOIN rigs g ON g.id = x.rig_id WHERE g.club_id = :club`),
  'DELETE x FROM project_goals x JOIN projects p ON p.id = x.project_id WHERE p.club_id = :club',
  'DELETE FROM projects WHERE club_id = :club',
  ...['rig_revisions', 'train_states'].map(
    (t) => `DELETE x FROM ${t} x JOIN rigs g ON g.id = x.rig_id WHERE g.club_id = :club`,
  ),
  'DELETE FROM rigs WHERE club_id = :club',
  'DELETE FROM parts WHERE club_id = :club',
  'DELETE FROM sites WHERE club_id = :club',
  'DELETE c FROM changes c JOIN members m ON m.id = c.member_id WHERE m.club_id = :club',
  'DELETE FROM members WHERE club_id = :club',
  'DELETE FROM clubs WHERE id = :club',
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
