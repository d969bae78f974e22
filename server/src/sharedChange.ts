import { RANK } from './access/ranks.ts';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { changesClub } from './clubNames.ts';
import { inTransaction, read, writeStep, type MemberRow } from './database/index.ts';
import { Problem } from './problems.ts';
import { announceChange, type Told } from './streams/announce.ts';

/** Whose right a change needs. */
type Changer = Pick<MemberRow, 'id' | 'clubId' | 'name' | 'role'>;

/** What stands guard over a change: one of its kind is made at a time, in the whole installation. */
export type Guard = readonly [kind: keyof typeof GUARDS, id: string];
export interface ChangeOptions {
  /** It stands among no changes: a tick, an answer in a drill, a second factor. */
  quiet?: boolean;
  /** What open pages are told that show it. */
  tells?: Told | readonly Told[];
}

const GUARDS = {
  rig: 'UPDATE rigs SET turns = turns + 1 WHERE id = :id AND (:club IS NULL OR club_id = :club)',
  club: 'UPDATE clubs SET turns = turns + 1 WHERE id = :id AND (:club IS NULL OR id = :club)',
  member: 'UPDATE members SET turns = turns + 1 WHERE id = :id AND (:club IS NULL OR club_id = :club)',
  installation:
    "INSERT INTO installation (name, value) VALUES (:id, '1') ON DUPLICATE KEY UPDATE value = CAST(value AS UNSIGNED) + 1",
} as const;
const MISSING: Record<keyof typeof GUARDS, string> = {
  rig: 'There is no such rig.',
  club: 'There is no such club.',
  member: 'There is no such member.',
  installation: '',
};

/**
 * Writes a turn into the row that guards. Of those who do, in whichever process, one works at a time, until its transaction
 * ends. The row is written and not only held, because nodes of a cluster are told of what was written alone: whoever comes
 * second there is undone, at the latest when it commits, and begins again.
 */
async function takeTurn(db: Sequelize, [kind, id]: Guard, clubId: string | null, t: Transaction): Promise<void> {
  const [, rows] = await db.query(GUARDS[kind], {
    replacements: { id, club: clubId },
    type: QueryTypes.UPDATE,
    transaction: t,
  });
  if (rows === 0 && kind !== 'installation') throw new Problem('not_found', MISSING[kind]);
  if (kind === 'club') changesClub(t);
  writeStep('turn');
}

/** Transactions in which somebody was told of what was done. */
const told = new WeakSet<Transaction>();
export const tellOf = (t: Transaction): void => void told.add(t);

/**
 * The one door for what several may change: a turn is taken at what guards it, first of all, and everything else is read after
 * that; whoever asks is still here and has the right they came with; the change, its entry among the changes and the answer
 * under the request’s key are written together or not at all. It is tried again when another’s work undid it.
 * @param who  null: somebody who is no member yet
 * @param guards  all of them are taken before anything is read: what a transaction has read once it sees so to its end
 */
export async function changeShared<T>(
  store: { db: Sequelize; now: () => Date; wake: () => void },
  who: Changer | null,
  guards: Guard | readonly Guard[],
  work: (t: Transaction) => Promise<T>,
  { quiet = false, tells = [] }: ChangeOptions = {},
): Promise<T> {
  const { db } = store;
  const done = await inTransaction(db, async (t) => {
    for (const guard of guardsOf(guards)) await takeTurn(db, guard, who?.clubId ?? null, t);
    if (who) await demandStanding(db, who, t);
    const value = await work(t);
    if (who && !quiet && !told.has(t)) throw new Error('a shared change that tells nobody of it');
    if (who) for (const told of [tells].flat()) await announceChange(store, who, told as Told, t);
    return value;
  });
  store.wake();
  return done;
}

/** In one order for everybody, so that no two wait for each other; a rig comes before its club. */
function guardsOf(given: Guard | readonly Guard[]): readonly Guard[] {
  const list = typeof given[0] === 'string' ? [given as Guard] : [...(given as readonly Guard[])];
  const place = ([kind, id]: Guard) => `${ORDER.indexOf(kind)} ${id}`;
  return list.sort((a, b) => (place(a) < place(b) ? -1 : 1));
}
const ORDER: readonly Guard[0][] = ['rig', 'member', 'club', 'installation'];

/** Roles are taken away, and people leave, while their requests are on their way. */
async function demandStanding(db: Sequelize, who: Changer, t: Transaction): Promise<void> {
  const [now] = await read<Pick<MemberRow, 'role'>>(
    db,
    'SELECT role FROM members WHERE id = ? AND archived_at IS NULL',
    [who.id],
    t,
  );
  if (!now) throw new Problem('not_signed_in');
  if (RANK[now.role] < RANK[who.role])
    throw new Problem('not_allowed', `Your role is ${now.role} since a moment ago; nothing was changed.`);
}
