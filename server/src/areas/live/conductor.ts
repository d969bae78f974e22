import {
  drive,
  equipmentOf,
  type Command,
  type Happened,
  type Rehearsal,
  type RunState,
  type Thrown,
} from '@keen/core/run';
import type { Store } from '../../store.ts';
import { eventsOf, RunLog, type Held } from './log.ts';
import { pacer } from './pacer.ts';

/** How often it is looked for what was asked for at another server [ms]. */
const LOOK_MS = 200;

/** Longest wait between two looks at what is to be written [ms]. */
const WAIT_MS = 100;

interface Asked {
  id: string;
  command: Command | Thrown;
}
export interface Conducting {
  /** Where it stands when it is over; null: it was left, or is another’s. */
  ended: Promise<{ state: RunState; events: Happened[]; held: Held } | null>;
  /** Something was asked for here. */
  wake: () => void;
  /** Leaves it where it is. */
  leave: () => void;
}

/**
 * Drives a run on its stand-ins, from where it stands, in its own time. What happens is written down before it counts: a server
 * that ends takes nothing with it but what nobody has seen, and the next one finds the stand-ins as they were.
 */
export function conductRun(
  store: Store,
  held: Held,
  rehearsal: Rehearsal,
  speedAtFirst: number,
  written: () => void,
): Conducting {
  const log = new RunLog(store, held, written);
  const asked: Asked[] = [];
  const known = new Set<string>();
  let speed = speedAtFirst;
  let [left, lookedAt, called] = [false, -Infinity, false];

  async function look(): Promise<void> {
    lookedAt = performance.now();
    called = false;
    const rows = await store
      .read<{ id: string; data: string | object; speed: number; state: string }>(
        `SELECT c.id, c.data, r.speed FROM live_runs r LEFT JOIN run_commands c ON c.run_id = r.id AND c.taken_seq IS NULL
         WHERE r.id = ? ORDER BY c.asked_at, c.id LIMIT 20`,
        [held.id],
      )
      // the database is away: it is looked again, and what was asked for waits there
      .catch(() => []);
    for (const { id, data, speed: now } of rows) {
      speed = Number(now);
      if (!id || known.has(id)) continue;
      known.add(id);
      asked.push({ id, command: (typeof data === 'string' ? JSON.parse(data) : data) as Command | Thrown });
    }
  }
  const { pace, begin, wake } = pacer({
    speed: () => speed,
    everyMs: WAIT_MS,
    meanwhile: async () => {
      if (log.due()) await log.write();
      if (called || performance.now() - lookedAt >= LOOK_MS) await look();
      return asked.length > 0 || left || log.lost;
    },
  });
  const { o, put } = equipmentOf(rehearsal, pace);
  let commandId: string | null = null;

  async function conduct(): ReturnType<() => Conducting['ended']> {
    const before = await eventsOf(store, held.id);
    const events = before.map((e) => e.event);
    let caughtUp = false;
    const state = await drive(
      {
        o,
        plan: rehearsal.plan,
        thrown: put,
        told: async (event, stepped) => {
          events.push(event);
          log.add(event, stepped.state.frames, commandId);
          commandId = null;
          if (log.due()) await log.write();
        },
        asked: () => {
          if (!caughtUp) begin();
          caughtUp = true;
          const next = asked.shift();
          if (!next) return null;
          commandId = next.id;
          return next.command;
        },
        left: () => left || log.lost,
      },
      events.slice(),
    );
    while (log.open && !log.lost) await log.write();
    return log.lost || !state.finished ? null : { state, events, held };
  }
  return {
    ended: conduct(),
    wake: () => {
      called = true;
      wake();
    },
    leave: () => {
      left = true;
      log.leaving = true;
      wake();
    },
  };
}
