import {
  drive,
  isByOtherRules,
  equipmentOf,
  type Command,
  type Happened,
  type NoRoom,
  type Rehearsal,
  type RunState,
  type Thrown,
} from '@keen/core/run';
import type { RunFrame } from '@keen/core/observatory';
import { setTimeout as pause } from 'node:timers/promises';
import type { Bridge } from '../../devices/bridge.ts';
import { Problem } from '../../problems.ts';
import type { WhichFrame } from './frameKeeper.ts';
import type { Store } from '../../store.ts';
import { eventsOf, RunLog, type Held } from './log.ts';
import { pacer } from './pacer.ts';

/** How often it is looked for what was asked for at another server [ms]. */
const LOOK_MS = 200;

/** Equipment elsewhere is tried to be reached for so long, and so often [ms]. */
const REACHED_MS = 120_000;
const AGAIN_MS = 1000;
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
  of: {
    speed: number;
    written: () => void;
    bridge: (() => Promise<Bridge>) | null;
    /** Keeps a frame as a file, drawn, or asked for of equipment elsewhere. */
    keep: (which: WhichFrame, frame: RunFrame, fetched?: () => Promise<Uint8Array>) => Promise<'kept' | 'no-room'>;
  },
): Conducting {
  const log = new RunLog(store, held, of.written);
  const asked: Asked[] = [];
  const known = new Set<string>();
  let { speed } = of;
  let [left, lookedAt, called] = [false, -Infinity, false];
  /** Where frames are kept there is no room for another; said once. */
  let full: NoRoom | null = null;
  let told = false;
  const isFull = () => full !== null && !told;
  async function keep(which: WhichFrame, frame: RunFrame, event: Happened): Promise<void> {
    // the number before its reading out is that of the exposure
    const taken = event.code === 'done' ? event.act - 1 : 0;
    const fetched = bridge?.frame && (() => bridge!.frame!(taken));
    // equipment that gives none keeps its own
    if (bridge && !fetched) return;
    if ((await of.keep(which, frame, fetched ?? undefined)) !== 'no-room' || full) return;
    full = { code: 'no-room' };
    wake();
  }

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
      return asked.length > 0 || isFull() || left || log.lost;
    },
  });
  const standIns = of.bridge ? null : equipmentOf(rehearsal, pace);
  let bridge: Bridge | null = null;
  let commandId: string | null = null;

  /** While equipment elsewhere is waited for: that somebody is at it is said, and what was asked for is looked for. */
  function beside(equipment: Bridge): () => void {
    let looking = false;
    const timer = setInterval(() => {
      if (looking) return;
      looking = true;
      void (async () => {
        if (log.due()) await log.write();
        if (called || performance.now() - lookedAt >= LOOK_MS) await look();
        if (asked.length > 0 || left || log.lost) equipment.wake();
      })()
        .catch(() => undefined)
        .finally(() => (looking = false));
    }, WAIT_MS);
    return () => clearInterval(timer);
  }
  /** Equipment that does not answer is tried again for a while: it may come up as we do. @returns null where it was left meanwhile */
  async function reached(connect: () => Promise<Bridge>): Promise<Bridge | null> {
    for (const until = performance.now() + REACHED_MS; ;) {
      if (left || log.lost) return null;
      try {
        return await connect();
      } catch (e) {
        if (performance.now() > until)
          throw new Error(`the equipment cannot be reached: ${e instanceof Error ? e.message : String(e)}`, {
            cause: e,
          });
      }
      await pause(AGAIN_MS);
      if (log.due()) await log.write();
    }
  }
  async function conduct(): ReturnType<() => Conducting['ended']> {
    const before = await eventsOf(store, held.id);
    const events = before.map((e) => e.event);
    // left alone, equipment goes safe by itself
    if (isByOtherRules(events[0]))
      throw new Problem(
        'not_allowed',
        'It was begun by another version of this programme, which plays it otherwise: it is not gone on with. Plan what is left of the night anew.',
      );
    let caughtUp = false;
    bridge = of.bridge ? await reached(of.bridge) : null;
    if (of.bridge && !bridge) return null;
    const stopBeating = bridge ? beside(bridge) : () => undefined;
    const state = await drive(
      {
        o: bridge ?? standIns!.o,
        plan: rehearsal.plan,
        thrown: (fault) => standIns?.put(fault),
        told: async (event, stepped) => {
          events.push(event);
          log.add(event, stepped.state.frames, commandId);
          commandId = null;
          const { frames, beside: second } = stepped.state;
          for (const s of stepped.says) if (s.said === 'frame') void keep({ n: frames - 1, second: false }, s, event);
          for (const s of stepped.beside.says)
            if (s.said === 'frame') void keep({ n: (second?.frames ?? 1) - 1, second: true }, s, event);
          // elsewhere nothing is asked for of which it is not written why
          if (bridge || log.due()) await log.write();
        },
        asked: () => {
          if (!caughtUp) begin();
          caughtUp = true;
          if (isFull()) {
            told = true;
            return full;
          }
          const next = asked.shift();
          if (!next) return null;
          commandId = next.id;
          const { command } = next;
          // its moment was drawn from what was written then: it comes from now on
          if (command.code !== 'thrown' || !standIns) return command;
          return { ...command, atMs: Math.max(command.atMs, standIns.o.clock.now()) };
        },
        left: () => left || log.lost,
      },
      events.slice(),
    )
      .finally(stopBeating)
      .catch(async (e: unknown) => {
        // nobody is at it any more, and nobody says so
        await bridge?.close('gone');
        throw e;
      });
    // in every other case who takes it over has it from here, or, left alone, it goes safe by itself
    await bridge?.close(state.finished ? 'let-go' : 'gone');
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
