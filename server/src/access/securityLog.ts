import { createHash } from 'node:crypto';
import { SignInName, type SecurityEvent, type SecurityKind } from '@keen/contract';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { plain, type SecurityEventRow } from '../database/index.ts';
import { iso, type Actor, type Store } from '../store.ts';

export interface SecurityNote {
  kind: SecurityKind;
  clubId: string | null;
  /** Whom it concerns. */
  memberId: string | null;
  /** Who did it, where that is somebody else. */
  byId?: string | null;
  address: string;
  /** A role, a route; never what somebody typed: passwords are typed into the wrong field. */
  detail?: string;
}

/** The same again within this time is counted, not written anew: an attack does not bury everything else. */
const COUNTED_MS = 15 * 60_000;
/** What happened at the doors is kept for half a year [ms]. */
const KEPT_MS = 180 * 86_400_000;
/** Events shown at a time. */
const PAGE = 200;
const IS_ID = /^[0-9a-f-]{36}$/;

/** What stewards read about sign-ins, refusals and changes of people. */
export function securityLog(store: Store) {
  return {
    /** The account of a sign-in name or an id, if there is one; of what no account can be called it is not asked. */
    async account(named: string): Promise<Pick<SecurityNote, 'clubId' | 'memberId'>> {
      const where = IS_ID.test(named) ? { id: named } : SignInName.safeParse(named).success ? { signIn: named } : null;
      const row = where ? await store.members.findOne({ where }) : null;
      return { clubId: row ? plain(row).clubId : null, memberId: row ? plain(row).id : null };
    },
    /** Writes down what was refused. A log that cannot be written changes no answer. */
    async attempt(n: SecurityNote): Promise<void> {
      await this.note(n).catch(() => undefined);
    },
    async note(n: SecurityNote, t?: Transaction): Promise<void> {
      const { kind, clubId, memberId, byId = null, address } = n;
      const detail = (n.detail ?? '').slice(0, 200);
      const subject = createHash('sha256')
        .update(JSON.stringify([kind, clubId, memberId, byId, address, detail]))
        .digest('hex');
      const now = store.now();
      const within = t ? { transaction: t } : {};
      const [, counted] = await store.db.query(
        'UPDATE security_events SET times = times + 1 WHERE subject = :subject AND at > :since ORDER BY at DESC LIMIT 1',
        { replacements: { subject, since: new Date(now.getTime() - COUNTED_MS) }, type: QueryTypes.UPDATE, ...within },
      );
      if (counted > 0) return;
      await store.securityEvents.create(
        { id: store.id(), clubId, subject, kind, at: now, times: 1, memberId, byId, address, detail },
        within,
      );
      await store.db.query('DELETE FROM security_events WHERE at < :old LIMIT 500', {
        replacements: { old: new Date(now.getTime() - KEPT_MS) },
        ...within,
      });
    },
    /** Of one's own club; whoever set the installation up also reads what was tried under names nobody has. */
    async list(who: Actor, before: Date | null): Promise<{ events: SecurityEvent[]; more: boolean }> {
      const owner = plain((await store.members.findByPk(who.id))!).owner === 1;
      const rows = await store.securityEvents.findAll({
        where: {
          clubId: owner ? { [Op.or]: [who.clubId, null] } : who.clubId,
          ...(before ? { at: { [Op.lt]: before } } : {}),
        },
        order: [
          ['at', 'DESC'],
          ['id', 'ASC'],
        ],
        limit: PAGE + 1,
      });
      const names = await store.names(who.clubId);
      const eventOf = (r: SecurityEventRow): SecurityEvent => ({
        id: r.id,
        kind: r.kind,
        at: iso(r.at),
        count: r.times,
        person: names.get(r.memberId ?? '') ?? '',
        by: names.get(r.byId ?? '') ?? '',
        address: r.address,
        detail: r.detail,
      });
      return { events: rows.slice(0, PAGE).map((r) => eventOf(plain(r))), more: rows.length > PAGE };
    },
  };
}
