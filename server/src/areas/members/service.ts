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
