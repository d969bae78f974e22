import type { api, MemberInfo, SessionInfo } from '@keen/contract';
import { QueryTypes, type Transaction } from 'sequelize';
import type { z } from 'zod';
import { hashPassword, passwordMatches } from '../../access/index.ts';
import { demoService } from './demo.ts';
import { plain, type ClubRow, type MemberRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';

type BeginBody = z.output<typeof api.begin.body>;

export function membersService(store: Store) {
  const info = (m: MemberRow, club: ClubRow): MemberInfo => ({
    id: m.id,
    name: m.name,
    signIn: m.signIn,
    role: m.role,
    club: club.name,
    clubKind: club.kind,
    demo: club.demo === 1,
    owner: m.owner === 1,
  });
  const clubOf = async (id: string): Promise<ClubRow> => plain((await store.clubs.findByPk(id))!);
  const demoClub = demoService(store);

  async function byId(id: string | undefined): Promise<MemberInfo | null> {
    const row = id ? await store.members.findByPk(id) : null;
    if (!row || plain(row).archivedAt) return null;
    return info(plain(row), await clubOf(plain(row).clubId));
  }

  const ORDER = ['steward', 'member', 'guest'];
  async function session(memberId: string | undefined, csrfToken: string, local: boolean): Promise<SessionInfo> {
    const member = await byId(memberId);
    const owned = await demoClub.hasOwner();
    const found = await store.clubs.findOne({ where: { demo: 1 } });
    const accounts = found
      ? (await store.members.findAll({ where: { clubId: plain(found).id, archivedAt: null } }))
          .map(plain)
          .map(({ name, signIn, role }) => ({ name, signIn, role }))
          .sort((a, b) => ORDER.indexOf(a.role) - ORDER.indexOf(b.role))
      : null;
    return {
      member,
      csrfToken,
      // beyond this machine only the very first person may begin
      mayBegin: local || !(await others()),
      local,
      mayRestoreDemo: found === null && (member?.owner === true || (local && !owned)),
      demo: accounts,
    };
  }
  /** Somebody has begun here, beside the demo. */
  const others = async (t?: Transaction) =>
    (
      await store.db.query<{ n: number }>(
        'SELECT COUNT(*) AS n FROM members m JOIN clubs c ON c.id = m.club_id WHERE c.demo = 0',
        { type: QueryTypes.SELECT, ...(t ? { transaction: t } : {}) },
      )
    )[0]!.n > 0;

  /** Ends every session of a member, but perhaps the one that asks. */
  const endSessions = (memberId: string, transaction: Transaction, except = '') =>
    store.db.query('DELETE FROM Sessions WHERE sid <> :except AND data LIKE :held', {
      replacements: { except, held: `%"memberId":"${memberId}"%` },
      transaction,
    });
  return {
    session,
    async check(signIn: string, password: string): Promise<string> {
      const row = await store.members.findOne({ where: { signIn, archivedAt: null } });
      const m = row ? plain(row) : null;
      if (!(await passwordMatches(m?.passwordHash ?? null, password)) || !m) throw new Problem('wrong_password');
      return m.id;
    },
    /** One of the demo's people, without a password: offered only to somebody at this machine. */
    async demoMember(signIn: string): Promise<string> {
      const found = await store.clubs.findOne({ where: { demo: 1 } });
      const row = found
        ? await store.members.findOne({ where: { clubId: plain(found).id, signIn, archivedAt: null } })
        : null;
      if (!row) throw new Problem('not_found', 'The demo club is not loaded, or has nobody of that name.');
      return plain(row).id;
    },
    /** Begins with one's own equipment: a person alone, a club or a remote site, with its first steward. */
    async begin(local: boolean, body: BeginBody): Promise<string> {
      const passwordHash = await hashPassword(body.password);
      const name = body.place.trim() || (body.kind === 'alone' ? `${body.name}’s equipment` : '');
      if (!name)
        throw new Problem('invalid_input', 'Give the club or the site a name.', {
          issues: [{ path: 'place', message: 'must not be empty' }],
        });
      return store.transact(async (t) => {
        // of two first persons at once one is the first
        await store.db.query("INSERT INTO installation (name, value) VALUES ('begun', '1') ON DUPLICATE KEY UPDATE value = '1'", { transaction: t }); // prettier-ignore
        const first = !(await others(t));
        if (!local && !first)
          throw new Problem('already_done', 'Somebody has begun here already; ask there for an account.');
        if (await store.members.findOne({ where: { signIn: body.signIn }, transaction: t }))
          throw new Problem('already_exists', `The sign-in name “${body.signIn}” is taken.`, {
            issues: [{ path: 'signIn', message: 'is taken' }],
          });
        const clubId = store.id();
        const id = store.id();
        await store.clubs.create({ id: clubId, name, kind: body.kind, demo: 0 }, { transaction: t });
        await store.members.create(
          {
            id,
            clubId,
            name: body.name,
            signIn: body.signIn,
            role: 'steward',
            passwordHash,
            owner: first ? 1 : 0,
            archivedAt: null,
          },
          { transaction: t },
        );
        return id;
      });
    },
    async changePassword(who: Actor, sessionId: string, body: { current: string; next: string }): Promise<void> {
      const row = plain((await store.members.findByPk(who.id))!);
      if (!(await passwordMatches(row.passwordHash, body.current)))
        throw new Problem('invalid_input', 'The present password is another one.', {
          issues: [{ path: 'current', message: 'is not your password' }],
        });
      if ((await clubOf(who.clubId)).demo === 1)
        throw new Problem('not_allowed', 'The demo’s passwords are public and stay as they are.');
      const passwordHash = await hashPassword(body.next);
      await store.transact(async (t) => {
        await store.members.update({ passwordHash }, { where: { id: who.id }, transaction: t });
        await endSessions(who.id, t, sessionId);
        await store.audit(who, 'Members', `${who.name} changed their password`, t);
      });
    },
    /** Role, password, end: whatever of it is given. Whoever it concerns signs in again. */
    async change(
      who: Actor,
      id: string,
      body: { role?: MemberRow['role'] | undefined; password?: string | undefined; ended?: true | undefined },
    ): Promise<MemberInfo> {
      const passwordHash = body.password === undefined ? undefined : await hashPassword(body.password);
      const club = await clubOf(who.clubId);
      if (club.demo === 1 && passwordHash)
        throw new Problem('not_allowed', 'The demo’s passwords are public and stay as they are.');
      return store.transact(async (t) => {
        const all = (
          await store.members.findAll({
            where: { clubId: who.clubId, archivedAt: null },
            order: ['id'],
            transaction: t,
            lock: true,
          })
        ).map(plain);
        const row = all.find((m) => m.id === id);
        if (!row) throw new Problem('not_found', 'There is no such member.');
        const stays = (m: MemberRow) => (m.id === id ? !body.ended && (body.role ?? m.role) === 'steward' : m.role === 'steward'); // prettier-ignore
        if (!all.some(stays)) throw new Problem('not_allowed', 'Somebody must stay steward: make another one first.');
        const next = {
          ...row,
          ...(body.role ? { role: body.role } : {}),
          ...(passwordHash ? { passwordHash } : {}),
          ...(body.ended ? { archivedAt: store.now() } : {}),
        };
        await store.members.update(next, { where: { id }, transaction: t });
        await endSessions(id, t);
        const done = [
          ...(body.role ? [`is ${body.role} now`] : []),
          ...(passwordHash ? ['was given a new password'] : []),
          ...(body.ended ? ['is a member no more'] : []),
        ];
        await store.audit(who, 'Members', `${row.name} ${done.join(', ') || 'signs in again'}`, t);
        return info(next, club);
      });
    },
    async list(who: Actor): Promise<MemberInfo[]> {
      const club = await clubOf(who.clubId);
      const rows = await store.members.findAll({ where: { clubId: who.clubId, archivedAt: null }, order: ['name'] });
      return rows.map((r) => info(plain(r), club));
    },
    async add(
      who: Actor,
      m: { name: string; signIn: string; password: string; role: MemberRow['role'] },
    ): Promise<MemberInfo> {
      if (await store.members.findOne({ where: { signIn: m.signIn } }))
        throw new Problem('already_exists', `The sign-in name “${m.signIn}” is taken.`);
      const row = {
        id: store.id(),
        clubId: who.clubId,
        name: m.name,
        signIn: m.signIn,
        role: m.role,
        passwordHash: await hashPassword(m.password),
        owner: 0,
        archivedAt: null,
      };
      await store.members.create(row);
      await store.audit(who, 'Members', `added ${m.name} as ${m.role}`);
      return info(row, await clubOf(who.clubId));
    },
  };
}
