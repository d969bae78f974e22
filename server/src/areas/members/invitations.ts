import { createHash, randomBytes } from 'node:crypto';
import type { api, Invitation } from '@keen/contract';
import { Op, type Transaction } from 'sequelize';
import type { z } from 'zod';
import { demandUncommon, hashPassword, securityLog } from '../../access/index.ts';
import { plain, type InvitationRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, type Actor, type Store } from '../../store.ts';
import { accounts } from './accounts.ts';

/** An invitation is good for a week [ms]. */
const LIFE_MS = 7 * 86_400_000;
/** How many may wait in a club at a time. */
const MOST = 100;
const hashed = (token: string) => createHash('sha256').update(token).digest('hex');

/** One-time links by which somebody joins a club. Only a link's hash is kept. */
export function invitationsService(store: Store) {
  const log = securityLog(store);
  const { create } = accounts(store);
  const invitationOf = (r: InvitationRow, names: Map<string, string>): Invitation => ({
    id: r.id,
    name: r.name,
    role: r.role,
    by: names.get(r.byId) ?? '',
    expiresAt: iso(r.expiresAt),
  });
  const waiting = () => ({ usedAt: null, expiresAt: { [Op.gt]: store.now() } });

  /** The invitation of a link that still holds. */
  async function demand(token: string): Promise<InvitationRow> {
    const row = await store.invitations.findOne({ where: { token: hashed(token), ...waiting() } });
    if (!row) throw new Problem('bad_invitation');
    return plain(row);
  }
  return {
    async invite(who: Actor, body: { name: string; role: InvitationRow['role'] }, address: string) {
      if (plain((await store.clubs.findByPk(who.clubId))!).demo === 1)
        throw new Problem('not_allowed', 'Nobody is invited into the demo: its passwords are public.');
      const token = randomBytes(24).toString('base64url');
      const row: InvitationRow = {
        id: store.id(),
        clubId: who.clubId,
        token: hashed(token),
        ...body,
        byId: who.id,
        expiresAt: new Date(store.now().getTime() + LIFE_MS),
        usedAt: null,
      };
      await store.change(who, ['club', who.clubId], async (t) => {
        const wait = await store.invitations.count({ where: { clubId: who.clubId, ...waiting() }, transaction: t });
        if (wait >= MOST) throw new Problem('too_many', `${MOST} invitations wait already; withdraw some first.`);
        await store.invitations.create(row, { transaction: t });
        await store.audit(who, 'Members', `invited ${body.name || 'somebody'} as ${body.role}`, t);
        await log.note(
          { kind: 'invited', clubId: who.clubId, memberId: null, byId: who.id, address, detail: body.role },
          t,
        );
      });
      return { invitation: invitationOf(row, await store.names(who.clubId)), token };
    },
    async list(who: Actor): Promise<Invitation[]> {
      const rows = await store.invitations.findAll({
        where: { clubId: who.clubId, ...waiting() },
        order: ['expiresAt'],
      });
      const names = await store.names(who.clubId);
      return rows.map((r) => invitationOf(plain(r), names));
    },
    async withdraw(who: Actor, id: string, address: string): Promise<void> {
      const withdraw = async (t: Transaction) => {
        const where = { id, clubId: who.clubId, usedAt: null };
        const gone = await store.invitations.destroy({ where, transaction: t });
        if (gone === 0) throw new Problem('not_found', 'There is no such invitation, or it was used.');
        await log.note({ kind: 'invitation_withdrawn', clubId: who.clubId, memberId: null, byId: who.id, address }, t);
      };
      // told in the log of the doors
      await store.change(who, ['club', who.clubId], withdraw, { quiet: true });
    },
    async look(token: string) {
      const row = await demand(token);
      const club = plain((await store.clubs.findByPk(row.clubId))!);
      return { club: club.name, ...invitationOf(row, await store.names(row.clubId)) };
    },
    /** @returns id of the new member */
    async join(body: z.output<typeof api.join.body>, address: string): Promise<string> {
      const before = await demand(body.token);
      const club = plain((await store.clubs.findByPk(before.clubId))!);
      demandUncommon(body.password, [body.name, body.signIn, club.name], 'password');
      const passwordHash = await hashPassword(body.password);
      return store.change(null, ['club', before.clubId], async (t) => {
        const [taken] = await store.invitations.update(
          { usedAt: store.now() },
          { where: { id: before.id, ...waiting() }, transaction: t },
        );
        if (taken !== 1) throw new Problem('bad_invitation');
        const { name, signIn } = body;
        const m = await create({ clubId: before.clubId, name, signIn, role: before.role, passwordHash }, t);
        await store.audit(m, 'Members', `${name} joined as ${m.role}`, t);
        await log.note(
          { kind: 'joined', clubId: m.clubId, memberId: m.id, byId: before.byId, address, detail: m.role },
          t,
        );
        return m.id;
      });
    },
  };
}
