import { DeviceFault, type Observatory, type RunPlan } from '../observatory/index.ts';
import type { Act, Answer, Command, Happened, Readings, Stepped, Thrown } from './events.ts';
import { changes, equipmentIn, URGENT, type Equipment } from './perform.ts';
import type { RunState } from './state.ts';
import { step, wakeMs } from './step.ts';

/** How often it is looked at what has to be known at once, at what moves, and at the rest [ms]. */
const LOOK_MS = 5000;
const MOVING_LOOK_MS = 1000;
const QUIET_LOOK_MS = 60_000;

type Came =
  | { code: 'done'; act: number; value: Answer }
  | { code: 'failed'; act: number; reason: string; final?: boolean };
/** Looks at one and the same moment after which nothing is waited for any more: whoever drives has lost something. */
const MOST_STILL = 10_000;

export interface Driven {
  o: Observatory | Equipment;
  /** The run as far as it has come: to begin with, that it began. */
  plan: RunPlan;
  /** Told of each event with what followed from it, before anything is asked of a device because of it. */
  told: (event: Happened, stepped: Stepped<RunState>) => void | Promise<void>;
  /** What somebody at the controls asks for, one at a time; null: nothing. */
  asked?: () => Command | Thrown | null;
  /** A fault is put on the equipment. */
  thrown?: (fault: Thrown) => void;
  /** Given up where it stands: whoever takes over goes on. */
  left?: () => boolean;
}

/**
 * Drives equipment by a run: tells the run what happens, asks the devices what it asks for, and looks at them meanwhile, event by
 * event, in the order of time. One thing is asked at a time; to stop it is not waited for.
 * @param so   what happened already, where somebody else drove it until now: it is played to the devices that do not know of it
 * @returns where it stands when it is over, or was left
 */
export async function drive(
  { o, plan, told, asked, thrown, left }: Driven,
  so: readonly Happened[] = [],
): Promise<RunState> {
  const devices = equipmentIn(o);
  const { clock } = devices;
  let state: RunState | null = null;
  let known: Readings | null = null;
  let lookedQuietly = -Infinity;
  /** What a device is at, and what came of it. */
  let busy: Promise<void> | null = null;
  let busyWith = 0;
  let broken: { error: unknown } | null = null;
  let came: Came | null = null;
  const takeCame = (): Came | null => {
    const got = came;
    if (got) [came, busy] = [null, null];
    return got;
  };
  let next: Act | null = null;
  const aborts: Act[] = [];
  let still = 0;

  async function follows(event: Happened, silent = false): Promise<void> {
    known = { ...(known as Readings), ...event.readings };
    const stepped = step(state, event);
    state = stepped.state;
    for (const act of stepped.acts) {
      if (act.do === 'abort') aborts.push(act);
      else next = act;
    }
    if (!silent) await told(event, stepped);
  }
  function happens(event: Happened, quietly = false): Promise<void> | null {
    const now = devices.read(known);
    const readings = changes(now, known);
    const whole = Object.keys(readings).length ? { ...event, readings } : event;
    if (quietly && !Object.keys(readings).length) return null;
    return follows(whole);
  }
  /** What was asked for is asked of the devices: first to stop, then what comes next, once the last thing is over. */
  function ask(): void {
    // a device that cannot be stopped is seen by what it does
    for (const act of aborts.splice(0)) void devices.perform(act).catch(() => undefined);
    if (busy && next && state?.waitingFor?.id !== busyWith) giveUp();
    if (busy || !next) return;
    const act = next;
    next = null;
    busyWith = act.id;
    busy = devices.perform(act).then(
      (value) => void (came = { code: 'done', act: act.id, value }),
      (e: unknown) => {
        if (!(e instanceof DeviceFault)) broken = { error: e };
        else came = { code: 'failed', act: act.id, reason: e.message, ...(e.final ? { final: true } : {}) };
      },
    );
  }

  /** Nobody waits any more for what a device is at. */
  function giveUp(): void {
    if (clock.interrupt) clock.interrupt(new DeviceFault('mount', 'nobody waits for it'));
    else busy = null;
  }

  if (so.length) await catchUp();
  else {
    // what it did before this run is no part of it
    devices.wentSafe?.();
    await happens({ at: clock.now(), code: 'began', plan });
  }
  for (;;) {
    const now: RunState = state!;
    if (now.finished || left?.()) return now;
    const command = asked?.() ?? null;
    if (command) {
      if (command.code === 'thrown') thrown?.(command);
      await happens({ at: clock.now(), ...command });
      continue;
    }
    ask();
    if (broken) throw (broken as { error: unknown }).error;
    if (devices.wentSafe?.()) {
      takeCame();
      busy = null;
      await happens({ at: clock.now(), code: 'went-safe' });
      continue;
    }
    const answer = takeCame();
    if (answer) {
      await happens({ ...answer, at: clock.now() });
      continue;
    }
    const wake = wakeMs(now);
    if (wake === null && !busy && !next && !now.paused) throw new Error('a run waits for nothing');
    // by the run’s own time: a clock that was set back makes no wait longer
    const behind = Math.max(clock.now(), now.nowMs) - clock.now();
    const moving: boolean = known!.tube?.moves || now.waitingFor?.device === 'mount';
    const due = Math.min((wake ?? Infinity) - behind, nextLook(moving));
    const before = clock.now();
    await clock.until(due, busy);
    if (came) continue;
    still = clock.now() > before ? 0 : still + 1;
    if (still > MOST_STILL) throw new Error(`the time of a run stands still at ${new Date(before).toISOString()}`);
    await look(wake !== null && Math.max(clock.now(), now.nowMs) >= wake);
  }

  function nextLook(moving: boolean): number {
    // on even seconds: that somebody called in between moves no later look
    const every = moving ? MOVING_LOOK_MS : LOOK_MS;
    return (Math.floor(clock.now() / every) + 1) * every;
  }
  async function look(due: boolean): Promise<void> {
    const looked = clock.now();
    if (due || Math.floor(looked / QUIET_LOOK_MS) > Math.floor(lookedQuietly / QUIET_LOOK_MS)) {
      lookedQuietly = looked;
      await happens({ at: looked, code: 'tick' }, !due);
      return;
    }
    const all = devices.read(known);
    const urgent = Object.fromEntries(
      Object.entries(changes(all, known)).filter(([k]) => URGENT.has(k as keyof Readings)),
    );
    if (Object.keys(urgent).length) await follows({ at: looked, code: 'tick', readings: urgent });
  }
  /** Plays what happened to devices that were not there: they do what they did then, at the same moments. */
  async function catchUp(): Promise<void> {
    for (const event of so) {
      if (event.code !== 'began' && !devices.elsewhere) {
        ask();
        await clock.until(event.at, busy && !came ? busy : null);
        // a moment is a fraction that may be rounded: where its time does not get on any more, it is there
        for (let before = -Infinity; clock.now() < event.at && clock.now() > before;) {
          before = clock.now();
          await clock.until(event.at, null);
        }
        if (event.code === 'done' || event.code === 'failed') takeCame();
        if (event.code === 'thrown') thrown?.(event);
      }
      await follows(event, true);
    }
    lookedQuietly = clock.now();
    if (!devices.elsewhere) return;
    // what was asked for last is asked for again by its number: what is done already is not done twice
    aborts.length = 0;
    const waiting = (state as RunState | null)?.waitingFor?.id;
    if ((next as Act | null)?.id !== waiting) next = null;
  }
}
