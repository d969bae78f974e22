import type { Changed, JobRecord } from '@keen/contract';
import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';

/** Where it is written, and when. */
interface Where {
  db: Sequelize;
  now: () => Date;
}

/** What a change tells the club’s open pages. */
export interface Told {
  what: Changed;
  rigId?: string;
  night?: string;
}

/**
 * Writes an event down with what it tells of: there is the one with the other, or neither. It has no number yet; that is given
 * in the order in which events can be seen.
 */
async function write(
  store: Where,
  of: { clubId: string; memberId: string | null; kind: 'changed' | 'job'; data: object },
  t: Transaction,
): Promise<void> {
  await store.db.query(
    'INSERT INTO events (id, seq, club_id, member_id, kind, data, at) VALUES (:id, NULL, :clubId, :memberId, :kind, :data, :at)',
    { replacements: { ...of, id: randomUUID(), data: JSON.stringify(of.data), at: store.now() }, transaction: t },
  );
}

/** Tells everybody of a club that somebody changed something. */
export const announceChange = (
  store: Where,
  who: { id: string; clubId: string; name: string },
  { what, rigId = undefined, night = undefined }: Told,
  t: Transaction,
) =>
  write(
    store,
    {
      clubId: who.clubId,
      memberId: null,
      kind: 'changed',
      data: { what, byId: who.id, by: who.name, rigId: rigId ?? null, night: night ?? null },
    },
    t,
  );

/** Tells whoever asked for a job how it stands. */
export const announceJob = (store: Where, of: { clubId: string; memberId: string }, job: JobRecord, t: Transaction) =>
  write(store, { ...of, kind: 'job', data: { job } }, t);
