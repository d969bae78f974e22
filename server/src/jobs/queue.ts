import { MOST_JOBS, type JobKind, type JobRecord, type JobWithResult, type Page } from '@keen/contract';
import { phrase, type Phrase } from '@keen/core/phrases';
import { QueryTypes, type Transaction } from 'sequelize';
import { inTransaction, plain } from '../database/index.ts';
import { Problem } from '../problems.ts';
import { iso, isoOrNull, pageOf, type Actor, type Store } from '../store.ts';
import { announceJob } from '../streams/announce.ts';
import type { JobRow } from './table.ts';

/** Whoever works at a job says so every second; of whom nothing was heard for so long, they are gone [s]. */
export const LEASE_S = 10;
/** A job under which the server ended so often ends it itself, perhaps. */
export const MOST_ATTEMPTS = 3;
/** Jobs that ended are kept for a week [ms]. */
const KEPT_MS = 7 * 86_400_000;

export const jobRecord = (j: JobRow): JobRecord => ({
  id: j.id,
  kind: j.kind,
  subjectId: j.subjectId,
  state: j.state,
  share: j.share,
  stage: j.stage,
  attempts: j.attempts,
  cancelRequested: j.cancelRequested === 1,
  problem: j.problem,
  byId: j.memberId,
  madeAt: iso(j.madeAt),
  begunAt: isoOrNull(j.begunAt),
  endedAt: isoOrNull(j.endedAt),
});

/** A job somebody works at: theirs for as long as its version is. */
export interface Claimed {
  row: JobRow;
  who: Actor;
}

/** Jobs in the database: asked for, claimed by one server at a time, told of, ended. */
export function jobQueue(store: Store) {
  const now = () => store.now();
  const ask = async (sql: string, replacements: object, t?: Transaction): Promise<number> => {
    const [, rows] = await store.db.query(sql, {
      replacements: replacements as Record<string, unknown>,
      type: QueryTypes.UPDATE,
      ...(t ? { transaction: t } : {}),
    });
    return rows;
  };
  async function read(id: string, t?: Transaction): Promise<JobRow | null> {
    const found = await store.jobs.findByPk(id, { raw: true, ...(t ? { transaction: t } : {}) });
    return found ? plain(found) : null;
  }
  async function own(who: Actor, id: string, t?: Transaction): Promise<JobRow> {
    const row = await read(id, t);
    if (!row || row.memberId !== who.id || row.clubId !== who.clubId)
      throw new Problem('not_found', 'There is no such job.');
    return row;
  }
  /**
   * Changes a job of whoever holds it, and tells of it.
   * @param hold  it is held on to
   * @returns how it stands; null where it is another’s by now, or cancelled
   */
  async function write(row: JobRow, set: Partial<JobRow>, t: Transaction, hold = false): Promise<JobRow | null> {
    // by the database’s own clock, as whoever looks for what is over does
    const leaseUntil = store.db.literal(`NOW(3) + INTERVAL ${LEASE_S} SECOND`) as unknown as Date;
    const [mine] = await store.jobs.update(
      { ...set, ...(hold ? { leaseUntil } : {}), version: row.version + 1 },
      { where: { id: row.id, version: row.version, state: row.state }, transaction: t },
    );
    if (mine === 0) return null;
    const next = { ...row, ...set, version: row.version + 1 };
    await announceJob(store, row, jobRecord(next), t);
    return next;
  }

  return {
    read,
    /** One more job of a member. @throws Problem too_many where enough of theirs wait or run */
    async add(who: Actor, kind: JobKind, subjectId: string | null, input: unknown): Promise<JobRecord> {
      const made = await store.change(
        who,
        ['member', who.id],
        async (t) => {
          const open = await store.jobs.count({
            where: { memberId: who.id, state: ['waiting', 'running'] },
            transaction: t,
          });
          if (open >= MOST_JOBS)
            throw new Problem(
              'too_many',
              `${MOST_JOBS} of your jobs wait or run already; cancel some, or ask again when they are done.`,
            );
          const row: JobRow = {
            id: store.id(),
            clubId: who.clubId,
            memberId: who.id,
            kind,
            subjectId,
            input,
            state: 'waiting',
            share: 0,
            stage: phrase('job.waiting'),
            result: null,
            problem: null,
            attempts: 0,
            leaseOwner: null,
            leaseUntil: null,
            cancelRequested: 0,
            version: 0,
            madeAt: now(),
            begunAt: null,
            endedAt: null,
          };
          await store.jobs.create(row, { transaction: t });
          await announceJob(store, row, jobRecord(row), t);
          return jobRecord(row);
        },
        { quiet: true },
      );
      return made;
    },
    async list(who: Actor, page: Page): Promise<JobRecord[]> {
      const rows = await store.jobs.findAll({
        where: { memberId: who.id, clubId: who.clubId },
        attributes: { exclude: ['result', 'input'] },
        order: [
          ['madeAt', 'DESC'],
          ['id', 'ASC'],
        ],
        ...pageOf(page),
      });
      return rows.map((r) => jobRecord(plain(r)));
    },
    async one(who: Actor, id: string): Promise<JobWithResult> {
      const row = await own(who, id);
      const result = row.result === null ? null : (JSON.parse(row.result) as JobWithResult['result']);
      return { ...jobRecord(row), result };
    },
    /** One that waits is over; whoever works at one is told so when they next say how far they are. */
    async cancel(who: Actor, id: string): Promise<void> {
      await store.change(
        who,
        ['member', who.id],
        async (t) => {
          const row = await own(who, id, t);
          if (row.cancelRequested) return;
          if (row.endedAt) throw new Problem('already_done', 'This job has ended already.');
          const set: Partial<JobRow> =
            row.state === 'waiting'
              ? { state: 'cancelled', endedAt: now(), cancelRequested: 1, stage: null }
              : { cancelRequested: 1, stage: phrase('job.cancelling') };
          // not by its version: whoever works at it goes on counting
          const rows = await ask(
            'UPDATE jobs SET state = :state, ended_at = :endedAt, cancel_requested = 1, stage = :stage WHERE id = :id AND state = :was',
            {
              id,
              was: row.state,
              state: set.state ?? row.state,
              endedAt: set.endedAt ?? null,
              stage: set.stage ? JSON.stringify(set.stage) : null,
            },
            t,
          );
          if (rows === 0) throw new Problem('stale', 'The job began or ended in that moment: look again.');
          await announceJob(store, row, jobRecord({ ...row, ...set }), t);
        },
        { quiet: true },
      );
    },
    /**
     * Takes the next job: of whoever has the fewest at work, then of whoever waited longest for a turn, the oldest. Of several
     * servers that want the same one the first to write its version has it.
     * @param not  members who have enough at work here
     */
    async claim(server: string, not: readonly string[]): Promise<Claimed | null> {
      const waiting = await store.read<{ id: string; version: number }>(
        `SELECT j.id, j.version FROM jobs j
           JOIN members m ON m.id = j.member_id
           LEFT JOIN (SELECT member_id, SUM(state = 'running' AND lease_until > NOW(3)) AS atWork, MAX(begun_at) AS turn FROM jobs GROUP BY member_id) o
             ON o.member_id = j.member_id
         WHERE (j.state = 'waiting' OR (j.state = 'running' AND j.lease_until <= NOW(3))) AND j.member_id NOT IN (?)
         ORDER BY o.atWork, o.turn, j.made_at, j.id LIMIT 5`,
        [not.length ? not : ['']],
      );
      for (const { id, version } of waiting) {
        const got = await inTransaction(store.db, async (t) => {
          const taken = await ask(
            `UPDATE jobs SET lease_owner = :server, version = version + 1 WHERE id = :id AND version = :version
               AND (state = 'waiting' OR (state = 'running' AND lease_until <= NOW(3)))`,
            { server, id, version },
            t,
          );
          if (taken === 0) return null;
          const row = (await read(id, t))!;
          const set: Partial<JobRow> = {
            state: 'running',
            attempts: row.attempts + 1,
            begunAt: now(),
            share: 0,
            stage: phrase(row.attempts === 0 ? 'job.begun' : 'job.begun-again'),
          };
          const next = await write(row, set, t, true);
          const [who] = await store.read<Actor>(
            'SELECT id, club_id AS clubId, name, role FROM members WHERE id = ?',
            [row.memberId],
            t,
          );
          return next && { row: next, who: who! };
        });
        store.wake();
        if (got) return got;
      }
      return null;
    },
    /** Says how far it is, and that one is still at it. @returns null where it is to be left: cancelled, or another’s */
    async tell({ row, who }: Claimed, share: number, stage: Phrase | null): Promise<Claimed | null> {
      const told = await inTransaction(store.db, async (t) => {
        const [there] = await store.read<{ cancel: number }>(
          'SELECT cancel_requested AS cancel FROM jobs WHERE id = ?',
          [row.id],
          t,
        );
        if (!there || Number(there.cancel) === 1) return null;
        const next = await write(row, { share, stage: stage ?? row.stage }, t, true);
        return next && { row: next, who };
      });
      store.wake();
      return told;
    },
    write,
    /** Ends a job by itself: cancelled, or failed. */
    async end(
      { row }: Claimed,
      set: Pick<Partial<JobRow>, 'problem'> & { state: 'failed' | 'cancelled' },
    ): Promise<void> {
      await inTransaction(store.db, (t) =>
        write(row, { ...set, endedAt: now(), leaseOwner: null, leaseUntil: null, stage: null }, t),
      );
      store.wake();
    },
    /**
     * Gives a job back that was not done: whoever looks next begins it again.
     * @param counts  as an attempt: not where it was begun on by a server that is stopped in good order
     */
    async giveBack({ row }: Claimed, counts: boolean): Promise<void> {
      const attempts = row.attempts - (counts ? 0 : 1);
      const set = { state: 'waiting' as const, attempts, leaseOwner: null, leaseUntil: null };
      await inTransaction(store.db, (t) => write(row, { ...set, share: 0, stage: phrase('job.waiting') }, t));
    },
    async sweep(): Promise<void> {
      await ask('DELETE FROM jobs WHERE ended_at < :old LIMIT 200', { old: new Date(now().getTime() - KEPT_MS) });
    },
  };
}
export type JobQueue = ReturnType<typeof jobQueue>;
