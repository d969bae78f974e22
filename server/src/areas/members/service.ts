import type { MemberInfo, SessionInfo } from '@keen/contract';
import { hashPassword, passwordMatches } from '../../access/index.ts';
import { plain, type MemberRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';

/** Password of every demo account; shown on the sign-in page of the demo club only. */
export const DEMO_PASSWORD = 'larkmoor-nights';

export function membersService(store: Store) {
  const info = (m: MemberRow, club: string): MemberInfo => ({
    id: m.id,
    name: m.name,
    signIn: m.signIn,
    role: m.role,
    club,
  });
  const clubName = async (id: string) => (await store.clubs.findByPk(id))?.get('name') as string;

  async function byId(id: string | undefined): Promise<MemberInfo | null> {
    const row = id ? await store.members.findByPk(id) : null;
    if (!row || plain(row).archivedAt) return null;
    return info(plain(row), await clubName(plain(row).clubId));
  }

  async function session(memberId: string | undefined, csrfToken: string): Promise<SessionInfo> {
    const member = await byId(memberId);
    const needsSetup = (await store.members.count()) === 0;
    const demoClub = await store.clubs.findOne({ where: { demo: 1 } });
    const demo = demoClub
      ? (await store.members.findAll({ where: { clubId: plain(demoClub).id, archivedAt: null } }))
          .map(plain)
          .map(({ name, signIn, role }) => ({ name, signIn, role }))
          .sort(
            (a, b) => ['steward', 'member', 'guest'].indexOf(a.role) - ['steward', 'member', 'guest'].indexOf(b.role),
          )
      : null;
    return { member, csrfToken, needsSetup, demo };
  }

  return {
    session,
    async check(signIn: string, password: string): Promise<string> {
      const row = await store.members.findOne({ where: { signIn, archivedAt: null } });
      const m = row ? plain(row) : null;
      if (!(await passwordMatches(m?.passwordHash ?? null, password)) || !m) throw new Problem('wrong_password');
      return m.id;
    },
    async setup(club: string, person: { name: string; signIn: string; password: string }): Promise<string> {
      const passwordHash = await hashPassword(person.password);
      return store.transact(async (t) => {
        if ((await store.members.count({ transaction: t, lock: true } as object)) > 0)
          throw new Problem('already_done', 'The club has a steward already; ask for an account.');
        const clubId = store.id();
        const id = store.id();
        await store.clubs.create({ id: clubId, name: club, demo: 0 }, { transaction: t });
        await store.members.create(
          { id, clubId, name: person.name, signIn: person.signIn, role: 'steward', passwordHash, archivedAt: null },
          { transaction: t },
        );
        return id;
      });
    },
    async list(who: Actor): Promise<MemberInfo[]> {
      const club = await clubName(who.clubId);
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
        archivedAt: null,
      };
      await store.members.create(row);
      await store.audit(who, 'Members', `added ${m.name} as ${m.role}`);
      return info(row, await clubName(who.clubId));
    },
  };
}
