import type { Happened } from '@keen/core/run';
import { setTimeout as pause } from 'node:timers/promises';
import { QueryTypes, type Transaction } from 'sequelize';
import { inTransaction } from '../../database/index.ts';
import { known, type ProblemCode } from '../../problems.ts';
import type { Store } from '../../store.ts';

/** Whoever drives a run says so every second and a half; of whom nothing was heard for so long, they are gone. */
export const LEASE_S = 8;
const BEAT_MS = 1500;
/** What happened is written down so soon [ms]. */
const WRITE_MS = 80;
/** How soon it is tried again when the database is away [ms]. */
const AGAIN_MS = 250;
/** What passes by itself. */
const PASSING: ReadonlySet<ProblemCode> = new Set(['database_down', 'busy', 'unsure'] as const);

/** A run somebody drives: theirs as long as its version is what they wrote last. */
export interface Held {
  id: string;
  owner: string;
  version: number;
  lastSeq: number;
}
interface Waiting {
  seq: number;
  event: Happened;
  frames: number;
  /** The command it came of. */
  commandId: string | null;
}

/** Writes down what happens in a run, in order and once, as long as it is ours; what was not written has not happened. */
export class RunLog {
  private waiting: Waiting[] = [];
  private wroteAt = performance.now();
  private writing: Promise<void> | null = null;
  private seq: number;
  /** It is another’s by now, or was left: what waits is not written any more, and so has not happened. */
  lost = false;
  /** Where the database is away, nobody waits for it any more. */
  leaving = false;
  private readonly store: Store;
  private readonly held: Held;
  private readonly written: () => void;

  constructor(store: Store, held: Held, written: () => void) {
    [this.store, this.held, this.written, this.seq] = [store, held, written, held.lastSeq];
  }
  get version(): number {
    return this.held.version;
  }
  add(event: Happened, frames: number, commandId: string | null): void {
    this.waiting.push({ seq: ++this.seq, event, frames, commandId });
  }
  /** It is time to write, or to say that somebody is at it. */
  due(): boolean {
    const since = performance.now() - this.wroteAt;
    return this.waiting.length ? since >= WRITE_MS : since >= BEAT_MS;
  }
  get open(): boolean {
    return this.waiting.length > 0;
  }
  /** Writes all that waits; where the database is away it is waited for. */
  async write(): Promise<void> {
    this.writing ??= this.writeAll().finally(() => (this.writing = null));
    await this.writing;
  }
  private async writeAll(): Promise<void> {
    const batch = this.waiting.slice();
    const last = batch.at(-1);
    const lastSeq = last?.seq ?? this.held.lastSeq;
    for (;;) {
      if (this.lost) return;
      try {
        const mine = await inTransaction(this.store.db, (t) => this.insert(batch, lastSeq, t));
        if (!mine) this.lost = true;
        break;
      } catch (e) {
        if (!PASSING.has(known(e).code)) throw e;
        if (this.leaving) this.lost = true;
        await pause(AGAIN_MS);
        if (await this.stands(lastSeq).catch(() => false)) break;
      }
    }
    this.wroteAt = performance.now();
    if (this.lost) return;
    this.waiting = this.waiting.slice(batch.length);
    this.held.version++;
    this.held.lastSeq = lastSeq;
    if (batch.length) this.written();
  }
  /** What was on its way when the database went was written all the same. */
  private async stands(lastSeq: number): Promise<boolean> {
    const { id, owner, version } = this.held;
    const [row] = await this.store.read<{ leaseOwner: string | null; version: number; lastSeq: number }>(
      'SELECT lease_owner AS leaseOwner, version, last_seq AS lastSeq FROM live_runs WHERE id = ?',
      [id],
    );
    if (!row || row.leaseOwner !== owner) this.lost = true;
    return Boolean(row) && Number(row!.version) === version + 1 && Number(row!.lastSeq) === lastSeq;
  }
  private async insert(batch: readonly Waiting[], lastSeq: number, t: Transaction): Promise<boolean> {
    const { id, owner, version } = this.held;
    const run = async (sql: string, replacements: Record<string, unknown>) =>
      (await this.store.db.query(sql, { replacements, type: QueryTypes.UPDATE, transaction: t }))[1];
    const last = batch.at(-1);
    const mine = await run(
      `UPDATE live_runs SET version = version + 1, last_seq = :lastSeq, lease_until = NOW(3) + INTERVAL ${LEASE_S} SECOND
         ${last ? ', at_ms = :at, frames = :frames' : ''}
       WHERE id = :id AND lease_owner = :owner AND version = :version AND state = 'running'`,
      { id, owner, version, lastSeq, at: Math.round(last?.event.at ?? 0), frames: last?.frames ?? 0 },
    );
    if (mine === 0) return false;
    if (!last) return true;
    const values = batch.map((_, i) => `(:id, :seq${i}, :at${i}, :data${i})`).join(', ');
    const of = batch.map(({ seq, event }, i) => ({
      [`seq${i}`]: seq,
      [`at${i}`]: Math.round(event.at),
      [`data${i}`]: JSON.stringify(event),
    }));
    await run(
      `INSERT INTO run_events (run_id, seq, at_ms, data) VALUES ${values}`,
      Object.assign({ id }, ...of) as Record<string, unknown>,
    );
    for (const { seq, commandId } of batch)
      if (commandId) await run('UPDATE run_commands SET taken_seq = :seq WHERE id = :commandId', { seq, commandId });
    return true;
  }
}

/** What happened in a run is kept so long beyond its end [days]; what came of it for as long as its plan. */
const KEPT_DAYS = 730;
/** So much is taken away at once. */
const MOST_FORGOTTEN = 5000;
/** Takes away what happened in runs that ended long ago. */
export const forgetOld = (store: Store): Promise<unknown> =>
  store.db.query(
    `DELETE FROM run_events WHERE run_id IN (SELECT id FROM live_runs WHERE state <> 'running' AND ended_at < :old) LIMIT ${MOST_FORGOTTEN}`,
    { replacements: { old: new Date(store.now().getTime() - KEPT_DAYS * 86_400_000) } },
  );

/** All that happened in a run, in order. */
export async function eventsOf(
  store: Store,
  id: string,
  after = 0,
  most = 1e9,
): Promise<{ seq: number; event: Happened }[]> {
  const rows = await store.read<{ seq: number; data: string }>(
    'SELECT seq, data FROM run_events WHERE run_id = ? AND seq > ? ORDER BY seq LIMIT ?',
    [id, after, most],
  );
  return rows.map(({ seq, data }) => ({ seq: Number(seq), event: JSON.parse(data) as Happened }));
}
