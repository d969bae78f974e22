import { createHash } from 'node:crypto';
import type { OwnSession } from '@keen/contract';
import type { SessionData } from 'express-session';
import { QueryTypes, type Transaction } from 'sequelize';
import { demandUncommon, hashPassword, passwordMatches, secondFactor, securityLog } from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { plain, type MemberRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { iso, type Actor, type Store } from '../../store.ts';
import { endSessions } from './accounts.ts';

/** What a person does with their own account, from the session that asks. */
export function ownAccountService(store: Store, config: Config) {
  const log = securityLog(store);
  const factor = secondFactor(store, config);
  /** A session is named by a hash: its id opens it. */
  const nameOf = (sid: string) =>
    createHash('sha256')
      .update(sid)
      .digest('hex')
      .replace(/^(.{8})(.{4})(.{4})(.{4})(.{12}).*$/, '$1-$2-$3-$4-$5');

  /** Password and, where the account has a second factor, its code. */
  async function demandBoth(who: Actor, password: string, code: string | undefined, field: string): Promise<MemberRow> {
    const row = await demandPassword(who, password, field);
    await demandCode(row, code);
    return row;
  }
  /** Where the account has a second factor. */
  async function demandCode(row: MemberRow, code: string | undefined): Promise<void> {
    if (row.factorKey === null) return;
    if (!code) throw new Problem('code_needed');
    if (!(await factor.take({ id: row.id, factorKey: row.factorKey }, code)))
      throw new Problem('wrong_code', undefined, {
        issues: [{ path: 'code', message: 'is wrong or was used before' }],
      });
  }
  async function demandPassword(who: Actor, password: string, field: string): Promise<MemberRow> {
    const row = plain((await store.members.findByPk(who.id))!);
    if (!(await passwordMatches(row.passwordHash, password)))
      throw new Problem('wrong_password', 'The present password is another one.', {
        issues: [{ path: field, message: 'is not your password' }],
      });
    return row;
  }
  async function demandOwnClub(who: Actor): Promise<void> {
    if (plain((await store.clubs.findByPk(who.clubId))!).demo === 1)
      throw new Problem('not_allowed', 'The demo’s accounts are public and stay as they are.');
  }
  const concerned = (who: Actor, address: string) => ({ clubId: who.clubId, memberId: who.id, address });
  async function sessionsOf(who: Actor): Promise<{ sid: string; data: Partial<SessionData> }[]> {
    const rows = await store.db.query<{ sid: string; data: string }>(
      'SELECT sid, data FROM Sessions WHERE expires > :now AND data LIKE :held',
      { replacements: { now: new Date(), held: `%"memberId":"${who.id}"%` }, type: QueryTypes.SELECT },
    );
    return rows.map(({ sid, data }) => ({ sid, data: JSON.parse(data) as Partial<SessionData> }));
  }
  return {
    /** Password and code once more; the session that asks may do what is dangerous for a while. */
    prove: (who: Actor, body: { password: string; code?: string | undefined }) =>
      demandBoth(who, body.password, body.code, 'password'),
    /** @returns the epoch to which this session belongs from now on */
    async changePassword(
      who: Actor,
      sessionId: string,
      body: { current: string; next: string; code?: string | undefined },
      address: string,
    ): Promise<number> {
      const row = await demandPassword(who, body.current, 'current');
      await demandOwnClub(who);
      demandUncommon(body.next, [row.name, row.signIn], 'next');
      await demandCode(row, body.code);
      const passwordHash = await hashPassword(body.next);
      return store.change(who, ['member', who.id], async (t) => {
        await store.members.update({ passwordHash }, { where: { id: who.id }, transaction: t });
        const epoch = await endSessions(store, who.id, t, sessionId);
        await store.audit(who, 'Members', `${who.name} changed their password`, t);
        await log.note({ kind: 'password_changed', ...concerned(who, address) }, t);
        return epoch;
      });
    },
    async sessions(who: Actor, sessionId: string): Promise<OwnSession[]> {
      const when = (ms: number | undefined) => (ms === undefined ? null : iso(new Date(ms)));
      return (await sessionsOf(who))
        .map(({ sid, data }) => ({
          id: nameOf(sid),
          here: sid === sessionId,
          device: data.device ?? ('unknown' as const),
          address: data.address ?? '',
          begunAt: when(data.begunAt),
          seenAt: when(data.seenAt),
        }))
        .sort((a, b) => Number(b.here) - Number(a.here) || (b.seenAt ?? '').localeCompare(a.seenAt ?? ''));
    },
    /** One other session by its name, or all the others. */
    async endSession(who: Actor, sessionId: string, which: string, address: string): Promise<void> {
      const others = (await sessionsOf(who)).filter(({ sid }) => sid !== sessionId);
      const ended = which === 'others' ? others : others.filter(({ sid }) => nameOf(sid) === which);
      if (ended.length === 0 && which !== 'others')
        throw new Problem('not_found', 'That session is over, or is this one; sign out here instead.');
      if (ended.length === 0) return;
      const end = async (t: Transaction) => {
        for (const { sid } of ended)
          await store.db.query('DELETE FROM Sessions WHERE sid = :sid', { replacements: { sid }, transaction: t });
        await log.note({ kind: 'sessions_ended', ...concerned(who, address) }, t);
      };
      await store.change(who, ['member', who.id], end, { quiet: true });
    },
    async prepareFactor(who: Actor, password: string) {
      const row = await demandPassword(who, password, 'password');
      await demandOwnClub(who);
      return factor.prepare(row.signIn);
    },
    async confirmFactor(who: Actor, sealed: string | undefined, code: string, address: string): Promise<string[]> {
      if (!sealed) throw new Problem('not_found', 'No second factor is being set up here; begin again.');
      const confirm = async (t: Transaction) => {
        const codes = await factor.confirm(who.id, sealed, code, t);
        if (!codes)
          throw new Problem('wrong_code', 'That is not the code the device shows now; check its clock.', {
            issues: [{ path: 'code', message: 'is not the code the device shows now' }],
          });
        await log.note({ kind: 'factor_on', ...concerned(who, address) }, t);
        return codes;
      };
      // told in the log of the doors
      return store.change(who, ['member', who.id], confirm, { quiet: true });
    },
    async dropFactor(
      who: Actor,
      body: { password: string; code?: string | undefined },
      address: string,
    ): Promise<void> {
      await demandBoth(who, body.password, body.code, 'password');
      const drop = async (t: Transaction) => {
        await factor.drop(who.id, t);
        await log.note({ kind: 'factor_off', ...concerned(who, address) }, t);
      };
      await store.change(who, ['member', who.id], drop, { quiet: true });
    },
  };
}
