import type { Transaction } from 'sequelize';
import { plain, type MemberRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Store } from '../../store.ts';

type NewMember = Pick<MemberRow, 'clubId' | 'name' | 'signIn' | 'role' | 'passwordHash'>;

/** What every way of becoming a member shares. */
export const accounts = (store: Store) => ({
  /** @throws Problem already_exists where the sign-in name is taken, also by somebody who left */
  async create(m: NewMember, t: Transaction, owner = 0): Promise<MemberRow> {
    if (await store.members.findOne({ where: { signIn: m.signIn }, transaction: t }))
      throw new Problem('already_exists', `The sign-in name “${m.signIn}” is taken.`, {
        issues: [{ path: 'signIn', message: 'is taken' }],
      });
    const row: MemberRow = {
      id: store.id(),
      ...m,
      owner,
      factorKey: null,
      factorStep: 0,
      sessionEpoch: 0,
      archivedAt: null,
    };
    await store.members.create(row, { transaction: t });
    return row;
  },
});

/**
 * Ends every session of a member, but perhaps the one that asks: its epoch is over. A sign-in that was judged before this
 * and begins its session after it begins one of the epoch that is over.
 * @returns the epoch that begins
 */
export async function endSessions(
  store: Store,
  memberId: string,
  transaction: Transaction,
  except = '',
): Promise<number> {
  await store.db.query('UPDATE members SET session_epoch = session_epoch + 1 WHERE id = :memberId', {
    replacements: { memberId },
    transaction,
  });
  await store.db.query('DELETE FROM Sessions WHERE sid <> :except AND data LIKE :held', {
    replacements: { except, held: `%"memberId":"${memberId}"%` },
    transaction,
  });
  const row = await store.members.findByPk(memberId, { transaction });
  return plain(row!).sessionEpoch;
}

/** What stands in the records of somebody whose name left them. */
export const FORMER = 'A former member';
/** Nobody’s name, and no way to sign in. */
export const nameless = (id: string): Pick<MemberRow, 'name' | 'signIn' | 'passwordHash' | 'factorKey'> => ({
  name: FORMER,
  signIn: `gone-${id}`,
  passwordHash: '',
  factorKey: null,
});
/** A name by itself, not within a longer one. */
const wholeWord = (name: string) =>
  `(?<![\\p{L}\\p{N}])${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\p{L}\\p{N}])`;
/** The name leaves what was written down of changes too; what was done stays. */
export async function forgetName(store: Store, clubId: string, name: string, t: Transaction): Promise<void> {
  await store.db.query(
    `UPDATE changes c JOIN members m ON m.id = c.member_id
     SET c.text = REGEXP_REPLACE(c.text, :whole, :former), c.subject = REGEXP_REPLACE(c.subject, :whole, :former)
     WHERE m.club_id = :clubId AND (c.text LIKE :has OR c.subject LIKE :has)`,
    {
      replacements: { whole: wholeWord(name), has: `%${name.replace(/[\\%_]/g, '\\$&')}%`, former: FORMER, clubId },
      transaction: t,
    },
  );
}
