import type { Happened, Rehearsal } from '@keen/core/run';
import type { FrameMeasure } from '@keen/core/observatory';
import { randomUUID } from 'node:crypto';
import { QueryTypes, type Transaction } from 'sequelize';
import { inTransaction } from '../../database/index.ts';
import { known } from '../../problems.ts';
import type { Store } from '../../store.ts';
import { announceChange } from '../../streams/announce.ts';
import type { RunTask } from '../calculations/pool.ts';
import type { PreparedRehearsal } from '../runs/rehearse.ts';
import { connectBridge } from '../../devices/bridge.ts';
import { conductRun, type Conducting } from './conductor.ts';
import { takenIn, type FrameKeeper } from './frameKeeper.ts';
import { forgetOld, LEASE_S, type Held } from './log.ts';

/** How often what is too old is taken away [ms]. */
const FORGET_MS = 3_600_000;
/** How often it is looked for runs that nobody drives [ms]. */
const LOOK_MS = 1000;
/** A run under which its server failed so often is given up. */
const MOST_FAILURES = 3;
/** Longest it takes to work out what came of a run [s]. */
const FINISH_S = 180;

/** What is told of a run that goes on, to whoever watches it here. */
export interface Tail {
  wake: (runId: string) => void;
}

/** Measures files of equipment that tells nothing of its frames; the sky of the first through a filter is what the others are held against. */
function measuring(runTask: RunTask, byId: string): (file: Uint8Array, filter: string) => Promise<FrameMeasure> {
  const first = new Map<string, number>();
  return async (file, filter) => {
    const { level, ...measured } = await runTask('measureFrame', { file }, byId);
    const usual = first.get(filter) ?? level;
    first.set(filter, usual);
    return { ...measured, background: usual > 0 ? level / usual : 1 };
  };
}

/**
 * Drives runs, each by one server: held by a lease that is renewed while it is driven. What a server leaves that ended is driven
 * on by whoever looks next, from its events.
 */
export function liveRunner(
  store: Store,
  runTask: RunTask,
  { tail, keeper, bridges }: { tail: Tail; keeper: FrameKeeper; bridges: Readonly<Record<string, string>> },
  report: (error: unknown, where: string) => void,
) {
  const owner = randomUUID();
  const driven = new Map<string, { conducting: Conducting; over: Promise<void> }>();
  const failures = new Map<string, number>();
  let timer: NodeJS.Timeout | null = null;
  let [stopping, looking, forgotAt] = [false, false, -Infinity];
  const update = async (sql: string, replacements: object, t?: Transaction): Promise<number> =>
    (
      await store.db.query(sql, {
        replacements: replacements as Record<string, unknown>,
        type: QueryTypes.UPDATE,
        ...(t ? { transaction: t } : {}),
      })
    )[1];

  async function look(): Promise<void> {
    if (looking || stopping) return;
    looking = true;
    try {
      const free = await store.read<{ id: string; version: number }>(
        "SELECT id, version FROM live_runs WHERE state = 'running' AND (lease_until IS NULL OR lease_until <= NOW(3)) LIMIT 20",
        [],
      );
      for (const { id, version } of free) {
        if (stopping || driven.has(id)) continue;
        const got = await inTransaction(store.db, (t) =>
          update(
            `UPDATE live_runs SET lease_owner = :owner, lease_until = NOW(3) + INTERVAL ${LEASE_S} SECOND, version = version + 1, claims = claims + 1
             WHERE id = :id AND version = :version AND state = 'running' AND (lease_until IS NULL OR lease_until <= NOW(3))`,
            { id, owner, version },
            t,
          ),
        );
        if (got) await begin(id);
        // whoever watches is told that another has it
        if (got && version > 0)
          await inTransaction(store.db, (t) => tellOf(id, t, false)).then(store.wake, (e: unknown) =>
            report(e, 'a run'),
          );
      }
      void keeper.sweep().catch((e: unknown) => report(e, 'frames of runs'));
      if (Date.now() - forgotAt > FORGET_MS) {
        forgotAt = Date.now();
        void forgetOld(store).catch((e: unknown) => report(e, 'runs of long ago'));
      }
    } catch (e) {
      report(e, 'looking for runs');
    } finally {
      looking = false;
    }
  }

  function addressOf(bridge: string): string {
    const url = bridges[bridge];
    if (!url) throw new Error(`this server knows no equipment called ${bridge}`);
    return url;
  }
  async function begin(id: string): Promise<void> {
    const [row] = await store.read<{
      input: string;
      version: number;
      lastSeq: number;
      speed: number;
      bridge: string;
      claims: number;
      byId: string;
    }>('SELECT by_id AS byId, input, version, last_seq AS lastSeq, speed, bridge, claims FROM live_runs WHERE id = ?', [
      id,
    ]);
    if (!row) return;
    const rehearsal = JSON.parse(row.input) as Rehearsal;
    const held: Held = { id, owner, version: Number(row.version), lastSeq: Number(row.lastSeq) };
    const conducting = conductRun(store, held, rehearsal, {
      speed: Number(row.speed),
      keep: (which, frame, fetched) => keeper.keep({ runId: id, byId: row.byId, rehearsal }, which, frame, fetched),
      written: () => tail.wake(id),
      // each who takes it over has the equipment from the one before
      bridge: row.bridge
        ? () =>
            connectBridge(addressOf(row.bridge), {
              run: id,
              turn: Number(row.claims),
              measure: measuring(runTask, row.byId),
            })
        : null,
    });
    const over = conducting.ended
      .then((end) => (end ? finish(end.held, end.events, rehearsal) : giveBack(id)))
      .catch((e: unknown) => failed(held, e))
      .catch((e: unknown) => report(e, 'a run'))
      .finally(() => void driven.delete(id));
    driven.set(id, { conducting, over });
  }
  /** Whoever looks next has it at once; where it is another’s already nothing is. */
  const giveBack = async (id: string): Promise<void> =>
    void (await update('UPDATE live_runs SET lease_until = NULL WHERE id = :id AND lease_owner = :owner', {
      id,
      owner,
    }));

  /** It is over: what came of it is a run on record, in the same moment. */
  async function finish(held: Held, events: Happened[], rehearsal: Rehearsal): Promise<void> {
    const [of] = await store.read<{ byId: string; record: string; rigId: string }>(
      'SELECT by_id AS byId, record, rig_id AS rigId FROM live_runs WHERE id = ?',
      [held.id],
    );
    // working it out may take longer than a lease
    const longer = await update(
      `UPDATE live_runs SET lease_until = NOW(3) + INTERVAL ${FINISH_S} SECOND, version = version + 1
       WHERE id = :id AND lease_owner = :owner AND version = :version AND state = 'running'`,
      { id: held.id, owner, version: held.version },
    );
    if (longer === 0) return;
    held.version++;
    const record = JSON.parse(of!.record) as PreparedRehearsal['run'];
    const result = await runTask('resultOf', { events }, of!.byId);
    const debrief = await runTask('debrief', { events, rehearsal }, of!.byId);
    await inTransaction(store.db, async (t) => {
      const runId = store.id();
      const mine = await update(
        `UPDATE live_runs SET state = 'ended', rig_busy = NULL, ended_at = :now, run_id = :runId, debrief = :debrief, version = version + 1, lease_owner = NULL,
           lease_until = NULL, holder_id = NULL, asked_by_id = NULL
         WHERE id = :id AND lease_owner = :owner AND version = :version AND state = 'running'`,
        {
          id: held.id,
          owner,
          version: held.version,
          now: store.now(),
          runId,
          debrief: debrief && JSON.stringify(debrief),
        },
        t,
      );
      if (mine === 0) return;
      await store.runs.create(
        { ...record, id: runId, result: JSON.stringify(result), at: store.now() },
        { transaction: t },
      );
      await tellOf(held.id, t, true);
    });
    store.wake();
    tail.wake(held.id);
    if (rehearsal.pictures) void keeper.makeUp({ runId: held.id, byId: of!.byId, rehearsal }, takenIn(result));
  }
  async function failed(held: Held, e: unknown): Promise<void> {
    report(e, 'a run');
    const times = (failures.get(held.id) ?? 0) + 1;
    failures.set(held.id, times);
    if (times < MOST_FAILURES) return giveBack(held.id);
    await inTransaction(store.db, async (t) => {
      const mine = await update(
        `UPDATE live_runs SET state = 'failed', rig_busy = NULL, ended_at = :now, problem = :problem, lease_owner = NULL, lease_until = NULL,
           holder_id = NULL WHERE id = :id AND lease_owner = :owner AND state = 'running'`,
        { id: held.id, owner, now: store.now(), problem: known(e).message.slice(0, 500) },
        t,
      );
      if (mine) await tellOf(held.id, t, false);
    });
    store.wake();
  }
  /** @param plans  its plan says now that it was run */
  async function tellOf(id: string, t: Transaction, plans: boolean): Promise<void> {
    const [who] = await store.read<{ id: string; clubId: string; name: string; rigId: string }>(
      'SELECT m.id, m.club_id AS clubId, m.name, r.rig_id AS rigId FROM live_runs r JOIN members m ON m.id = r.by_id WHERE r.id = ?',
      [id],
      t,
    );
    await announceChange(store, who!, { what: 'live-runs', rigId: who!.rigId }, t);
    if (plans) await announceChange(store, who!, { what: 'plans', rigId: who!.rigId }, t);
  }

  return {
    /** A run was begun here, or it is time to begin looking. */
    look: () => {
      timer ??= setInterval(() => void look(), LOOK_MS).unref();
      void look();
    },
    /** Something was asked for here. */
    wake: (id: string) => driven.get(id)?.conducting.wake(),
    /** Leaves what is driven, where it is: another server drives it on. */
    stop: async () => {
      stopping = true;
      if (timer) clearInterval(timer);
      for (const { conducting } of driven.values()) conducting.leave();
      await Promise.all([...driven.values()].map((d) => d.over));
    },
  };
}
export type LiveRunner = ReturnType<typeof liveRunner>;
