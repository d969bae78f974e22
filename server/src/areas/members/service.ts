import type { api, MemberInfo, SessionInfo } from '@keen/contract';
import { QueryTypes, type Transaction } from 'sequelize';
import type { z } from 'zod';
import {
  countedTries,
  demoStands,
  demandUncommon,
  hashPassword,
  passwordMatches,
  secondFactor,
  securityLog,
} from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { settingsIn } from './settings.ts';
import { giveBackAll, rigsBookedBy } from '../bookings/standing.ts';
import { accounts, endSessions, forgetName, nameless } from './accounts.ts';
import { plain, type ClubRow, type MemberRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import type { Actor, Store } from '../../store.ts';

/** Wrong codes an account takes in a quarter of an hour, as a multiple of what one address may try. */
const CODES_SHARE = 5;

type BeginBody = z.output<typeof api.begin.body>;

/** Who belongs to a club, and who begins one. */
export function membersService(store: Store, config: Config) {
  const info = (m: MemberRow, club: ClubRow): MemberInfo => ({
    id: m.id,
    name: m.name,
    signIn: m.signIn,
    role: m.role,
    club: club.name,
    clubKind: club.kind,
    demo: club.demo === 1,
    owner: m.owner === 1,
    secondFactor: m.factorKey !== null,
  });
  const clubOf = async (id: string, t?: Transaction): Promise<ClubRow> =>
    plain((await store.clubs.findByPk(id, t ? { transaction: t } : {}))!);
  const { create } = accounts(store);
  const log = securityLog(store);
  const factor = secondFactor(store, config);
  const tries = countedTries(store, config.secret);
  const begunAlready = () => new Problem('already_done', 'Somebody has begun here already; ask there for an account.');

  async function byId(id: string | undefined): Promise<MemberInfo | null> {
    if (!id) return null;
    const [row] = await store.read<
      Omit<MemberInfo, 'demo' | 'owner' | 'secondFactor'> & Record<'demo' | 'owner' | 'secondFactor', number>
    >(
      `SELECT m.id, m.name, m.sign_in AS signIn, m.role, c.name AS club, c.kind AS clubKind, c.demo, m.owner, m.factor_key IS NOT NULL AS secondFactor
       FROM members m JOIN clubs c ON c.id = m.club_id WHERE m.id = ? AND m.archived_at IS NULL`,
      [id],
    );
    const yes = (n: number) => Number(n) === 1;
    return row ? { ...row, demo: yes(row.demo), owner: yes(row.owner), secondFactor: yes(row.secondFactor) } : null;
  }

  const ORDER = ['steward', 'member', 'guest', 'watcher'];
  interface Installation {
    owned: number;
    begun: number;
    demo: string | null;
    /** Of the club of whoever asks. */
    settings: string | object | null;
  }
  /** What every page asks first, in two questions. */
  async function session(memberId: string | undefined, csrfToken: string, local: boolean): Promise<SessionInfo> {
    const [member, [facts]] = await Promise.all([
      byId(memberId),
      store.read<Installation>(
        `SELECT (SELECT COUNT(*) FROM members WHERE owner = 1 AND archived_at IS NULL) AS owned,
           (SELECT COUNT(*) FROM members m JOIN clubs c ON c.id = m.club_id WHERE c.demo = 0) AS begun,
           (SELECT id FROM clubs WHERE demo = 1 LIMIT 1) AS demo,
           (SELECT c.settings FROM clubs c JOIN members m ON m.club_id = c.id WHERE m.id = ?) AS settings`,
        [memberId ?? ''],
      ),
    ]);
    const { owned, begun, demo } = facts!;
    return {
      member,
      csrfToken,
      // beyond this machine only the very first person may begin
      mayBegin: local || Number(begun) === 0,
      local,
      settings: member === null ? null : settingsIn(facts!.settings),
      mayRestoreDemo: demo === null && (member?.owner === true || (local && Number(owned) === 0)),
      demo: demo === null || !demoStands(config) ? null : await accountsOf(demo),
    };
  }
  const accountsOf = async (clubId: string) =>
    (
      await store.read<Pick<MemberRow, 'name' | 'signIn' | 'role'>>(
        'SELECT name, sign_in AS signIn, role FROM members WHERE club_id = ? AND archived_at IS NULL',
        [clubId],
      )
    ).sort((a, b) => ORDER.indexOf(a.role) - ORDER.indexOf(b.role));
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
    /** Name and password, then the code where the account asks for one; what was used is written down. */
    async check(sent: { signIn: string; password: string; code?: string | undefined }, address: string) {
      const row = await store.members.findOne({ where: { signIn: sent.signIn, archivedAt: null } });
      const found = row ? plain(row) : null;
      // beyond this machine the demo’s public passwords open nothing unless the demo was asked for
      const m = found && !demoStands(config) && (await clubOf(found.clubId)).demo === 1 ? null : found;
      if (!(await passwordMatches(m?.passwordHash ?? null, sent.password)) || !m) throw new Problem('wrong_password');
      const person = { clubId: m.clubId, memberId: m.id, address };
      if (m.factorKey !== null) {
        if (!sent.code) throw new Problem('code_needed');
        // only who knows the password comes here, so this lock shuts out no owner for a stranger’s sake
        const tried = await tries.begin(`code ${m.id}`);
        if (tried.count > CODES_SHARE * config.signInLimit) {
          await tried.takeBack();
          throw new Problem('too_many', 'Too many wrong codes for this account; try again in a quarter of an hour.');
        }
        const used = await factor.take({ id: m.id, factorKey: m.factorKey }, sent.code);
        if (!used) throw new Problem('wrong_code');
        await tries.forget(`code ${m.id}`);
        if (used === 'recovery') await log.attempt({ kind: 'recovery_code_used', ...person });
      }
      await log.attempt({ kind: 'signed_in', ...person });
      return { id: m.id, epoch: m.sessionEpoch };
    },
    /** One of the demo's people, without a password: offered only to somebody at this machine. */
    async demoMember(signIn: string): Promise<{ id: string; epoch: number }> {
      const found = await store.clubs.findOne({ where: { demo: 1 } });
      const row = found
        ? await store.members.findOne({ where: { clubId: plain(found).id, signIn, archivedAt: null } })
        : null;
      if (!row) throw new Problem('not_found', 'The demo club is not loaded, or has nobody of that name.');
      return { id: plain(row).id, epoch: plain(row).sessionEpoch };
    },
    /** Begins with one's own equipment: a person alone, a club or a remote site, with its first steward. */
    async begin(local: boolean, body: BeginBody): Promise<string> {
      if (!local && (await others())) throw begunAlready();
      demandUncommon(body.password, [body.name, body.signIn, body.place], 'password');
      const passwordHash = await hashPassword(body.password);
      const name = body.place.trim() || (body.kind === 'alone' ? `${body.name}’s equipment` : '');
      if (!name)
        throw new Problem('invalid_input', 'Give the club or the site a name.', {
          issues: [{ path: 'place', message: 'must not be empty' }],
        });
      // of two first persons at once one is the first
      return store.change(null, ['installation', 'begun'], async (t) => {
        const first = !(await others(t));
        if (!local && !first) throw begunAlready();
        const clubId = store.id();
        await store.clubs.create({ id: clubId, name, kind: body.kind, demo: 0 }, { transaction: t });
        const person = { clubId, name: body.name, signIn: body.signIn, role: 'steward' as const, passwordHash };
        return (await create(person, t, first ? 1 : 0)).id;
      });
    },
    /** Role, password, end: whatever of it is given. Whoever it concerns signs in again. */
    async change(
      who: Actor,
      id: string,
      address: string,
      body: {
        role?: MemberRow['role'] | undefined;
        password?: string | undefined;
        ended?: true | undefined;
        withoutSecondFactor?: true | undefined;
        withoutName?: true | undefined;
      },
    ): Promise<MemberInfo> {
      if (id === who.id && (body.password !== undefined || body.withoutSecondFactor))
        throw new Problem(
          'not_allowed',
          'A reset is for others: your own password and second factor are changed under your account, with the present password.',
        );
      if (body.password !== undefined) demandUncommon(body.password, [], 'password');
      const passwordHash = body.password === undefined ? undefined : await hashPassword(body.password);
      const club = await clubOf(who.clubId);
      if (club.demo === 1 && passwordHash)
        throw new Problem('not_allowed', 'The demo’s passwords are public and stay as they are.');
      // hours of who leaves are others’ again
      const rigs = body.ended ? await rigsBookedBy(store, id) : [];
      // two stewards who end each other: one is left
      return store.change(
        who,
        [['club', who.clubId] as const, ...rigs.map((rig) => ['rig', rig] as const)],
        async (t) => {
          const all = (
            await store.members.findAll({
              where: { clubId: who.clubId, archivedAt: null },
              order: ['id'],
              transaction: t,
            })
          ).map(plain);
          const row = all.find((m) => m.id === id);
          if (!row) throw new Problem('not_found', 'There is no such member.');
          const stays = (m: MemberRow) =>
            m.id === id ? !body.ended && (body.role ?? m.role) === 'steward' : m.role === 'steward';
          if (!all.some(stays)) throw new Problem('not_allowed', 'Somebody must stay steward: make another one first.');
          const next = {
            ...row,
            ...(body.role ? { role: body.role } : {}),
            ...(passwordHash ? { passwordHash } : {}),
            ...(body.ended ? { archivedAt: store.now() } : {}),
            ...(body.ended && body.withoutName ? nameless(id) : {}),
          };
          await store.members.update(next, { where: { id }, transaction: t });
          if (body.withoutSecondFactor) {
            await factor.drop(id, t);
            next.factorKey = null;
          }
          next.sessionEpoch = await endSessions(store, id, t);
          // who may no longer invite has no invitation that still opens
          if (body.ended || (body.role && body.role !== 'steward'))
            await store.invitations.destroy({ where: { byId: id, usedAt: null }, transaction: t });
          if (body.ended || passwordHash)
            for (const feeds of ['calendar_feeds', 'own_feeds'])
              await store.db.query(`DELETE FROM ${feeds} WHERE member_id = :id`, {
                replacements: { id },
                transaction: t,
              });
          if (body.ended) {
            await giveBackAll(store, who, id, t);
            // nor does anybody who is gone have a rig
            await store.handovers.update(
              { givenAt: store.now() },
              { where: { memberId: id, givenAt: null }, transaction: t },
            );
          }
          if (body.ended && body.withoutName) await forgetName(store, who.clubId, row.name, t);
          const noted = { clubId: who.clubId, memberId: id, byId: who.id, address };
          if (body.role) await log.note({ kind: 'role_changed', ...noted, detail: `${row.role} → ${body.role}` }, t);
          if (passwordHash) await log.note({ kind: 'password_given', ...noted }, t);
          if (body.ended) await log.note({ kind: 'ended', ...noted }, t);
          if (body.withoutSecondFactor) await log.note({ kind: 'factor_off', ...noted }, t);
          const done = [
            ...(body.role ? [`is ${body.role} now`] : []),
            ...(passwordHash ? ['was given a new password'] : []),
            ...(body.withoutSecondFactor ? ['signs in by password alone again'] : []),
            ...(body.ended ? ['is a member no more'] : []),
          ];
          await store.audit(who, 'Members', `${next.name} ${done.join(', ') || 'signs in again'}`, t);
          return info(next, club);
        },
        { tells: [{ what: 'members' }, ...rigs.map((rigId) => ({ what: 'bookings' as const, rigId }))] },
      );
    },
    async list(who: Actor): Promise<MemberInfo[]> {
      const club = await clubOf(who.clubId);
      const rows = await store.members.findAll({ where: { clubId: who.clubId, archivedAt: null }, order: ['name'] });
      return rows.map((r) => info(plain(r), club));
    },
    async add(
      who: Actor,
      m: { name: string; signIn: string; password: string; role: MemberRow['role'] },
      address: string,
    ): Promise<MemberInfo> {
      demandUncommon(m.password, [m.name, m.signIn], 'password');
      const passwordHash = await hashPassword(m.password);
      const { name, signIn, role } = m;
      return store.change(
        who,
        ['club', who.clubId],
        async (t) => {
          const row = await create({ clubId: who.clubId, name, signIn, role, passwordHash }, t);
          await store.audit(who, 'Members', `added ${m.name} as ${m.role}`, t);
          await log.note(
            { kind: 'added', clubId: who.clubId, memberId: row.id, byId: who.id, address, detail: role },
            t,
          );
          return info(row, await clubOf(who.clubId, t));
        },
        { tells: { what: 'members' } },
      );
    },
  };
}
