import { DeviceFault, type Observatory, type RunPlan } from '../observatory/index.ts';
import {
  RULES,
  type Act,
  type Answer,
  type Command,
  type Happened,
  type NoRoom,
  type Readings,
  type Stepped,
  type Thrown,
} from './events.ts';
import { changes, equipmentIn, URGENT, type Equipment } from './perform.ts';
import type { RunState } from './state.ts';
import { wakeMs } from './ahead.ts';
import { step } from './step.ts';

/** How often it is looked at what has to be known at once, at what moves, and at the rest [ms]. */
const LOOK_MS = 5000;
const MOVING_LOOK_MS = 1000;
const QUIET_LOOK_MS = 60_000;

type Came =
  | { code: 'done'; act: number; value: Answer }
  | { code: 'failed'; act: number; reason: string; final?: boolean };

/** Devices of which one at a time is asked for something. */
class Lane {
  /** What a device is at, and what came of it. */
  private busy: Promise<void> | null = null;
  private busyWith = 0;
  private came: Came | null = null;
  private next: Act | null = null;
  private readonly aborts: Act[] = [];
  private broken: { error: unknown } | null = null;
  private readonly perform: (act: Act) => Promise<Answer>;
  private readonly interrupt: ((why: Error) => void) | undefined;

  constructor(perform: (act: Act) => Promise<Answer>, interrupt: ((why: Error) => void) | undefined) {
    [this.perform, this.interrupt] = [perform, interrupt];
  }
  take(acts: readonly Act[]): void {
    for (const act of acts) {
      if (act.do === 'abort') this.aborts.push(act);
      else this.next = act;
    }
  }
  /** What was asked for is asked of the devices: first to stop, then what comes next, once the last thing is over. */
  ask(waitingFor: number | undefined): void {
    // a device that cannot be stopped is seen by what it does
    for (const act of this.aborts.splice(0)) void this.perform(act).catch(() => undefined);
    if (this.busy && this.next && waitingFor !== this.busyWith) this.giveUp();
    if (this.broken) throw this.broken.error;
    if (this.busy || !this.next) return;
    const act = this.next;
    this.next = null;
    this.busyWith = act.id;
    this.busy = this.perform(act).then(
      (value) => void (this.came = { code: 'done', act: act.id, value }),
      (e: unknown) => {
        if (!(e instanceof DeviceFault)) this.broken = { error: e };
        else this.came = { code: 'failed', act: act.id, reason: e.message, ...(e.final ? { final: true } : {}) };
      },
    );
  }
  /** Nobody waits any more for what a device is at. */
  private giveUp(): void {
    if (this.interrupt) this.interrupt(new DeviceFault('mount', 'nobody waits for it'));
    else this.busy = null;
  }
  /** What is waited for, and has not come. */
  get pending(): Promise<void> | null {
    return this.came || this.broken ? null : this.busy;
  }
  get hasCome(): boolean {
    return this.came !== null;
  }
  get idle(): boolean {
    return !this.busy && !this.next;
  }
  takeCame(): Came | null {
    const got = this.came;
    if (got) [this.came, this.busy] = [null, null];
    return got;
  }
  /** It went safe by itself: what it was at is over. */
  drop(): void {
    [this.came, this.busy] = [null, null];
  }
  /** What was to be stopped has been, and nothing is asked for but what is waited for. */
  only(waitingFor: number | undefined): void {
    this.aborts.length = 0;
    if (this.next?.id !== waitingFor) this.next = null;
  }
}
/** Looks at one and the same moment after which nothing is waited for any more: whoever drives has lost something. */
const MOST_STILL = 10_000;

export interface Driven {
  o: Observatory | Equipment;
  /** The run as far as it has come: to begin with, that it began. */
  plan: RunPlan;
  /** Told of each event with what followed from it, before anything is asked of a device because of it. */
  told: (event: Happened, stepped: Stepped<RunState>) => void | Promise<void>;
  /** What somebody at the controls asks for, one at a time; null: nothing. */
  asked?: () => Command | Thrown | NoRoom | null;
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
  let knownBeside: Partial<Readings> = {};
  let lookedQuietly = -Infinity;
  let still = 0;
  const lane = new Lane(devices.perform, clock.interrupt && ((why) => clock.interrupt!(why)));
  const second = new Lane(
    devices.beside?.perform ??
      (async ({ device }) => {
        throw new DeviceFault(device, 'there is no second camera', true);
      }),
    devices.beside?.interrupt,
  );

  let [lastMs, atOnce] = [NaN, 0];
  async function follows(event: Happened, silent = false): Promise<void> {
    atOnce = event.at === lastMs ? atOnce + 1 : 0;
    lastMs = event.at;
    if (atOnce > MOST_STILL) throw new Error(`a run comes to no end at ${new Date(event.at).toISOString()}`);
    if (event.beside) knownBeside = { ...knownBeside, ...event.readings };
    else known = { ...(known as Readings), ...event.readings };
    const stepped = step(state, event);
    state = stepped.state;
    lane.take(stepped.acts);
    second.take(stepped.beside.acts);
    if (!silent) await told(event, stepped);
  }
  function happens(event: Happened, quietly = false): Promise<void> | null {
    const readings = changes(devices.read(known), known);
    const whole = Object.keys(readings).length ? { ...event, readings } : event;
    if (quietly && !Object.keys(readings).length) return null;
    return follows(whole);
  }
  function happensBeside(event: Happened): Promise<void> {
    const readings = changes(devices.beside?.read() ?? {}, knownBeside);
    return follows({ ...event, beside: true, ...(Object.keys(readings).length ? { readings } : {}) });
  }
  function ask(): void {
    lane.ask(state?.waitingFor?.id);
    second.ask(state?.beside?.waitingFor?.id);
  }

  if (so.length) await catchUp();
  else {
    // what it did before this run is no part of it
    devices.wentSafe?.();
    await happens({ at: clock.now(), code: 'began', plan, rules: RULES });
    if (plan.beside) await happensBeside({ at: clock.now(), code: 'tick' });
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
    if (devices.wentSafe?.()) {
      lane.drop();
      await happens({ at: clock.now(), code: 'went-safe' });
      continue;
    }
    const answer = lane.takeCame();
    if (answer) {
      await happens({ ...answer, at: clock.now() });
      continue;
    }
    const besides = second.takeCame();
    if (besides) {
      await happensBeside({ ...besides, at: clock.now() });
      continue;
    }
    const wake = wakeMs(now);
    const wakeBeside = (now.beside && wakeMs(now.beside)) ?? Infinity;
    if (wake === null && lane.idle && !now.paused) throw new Error('a run waits for nothing');
    // by the run’s own time: a clock that was set back makes no wait longer
    const runMs = () => Math.max(clock.now(), now.nowMs, now.beside?.nowMs ?? -Infinity);
    const moving: boolean = known!.tube?.moves || now.waitingFor?.device === 'mount';
    const due = Math.min(Math.min(wake ?? Infinity, wakeBeside) - (runMs() - clock.now()), nextLook(moving));
    const before = clock.now();
    await clock.until(due, lane.pending, second.pending);
    if (lane.hasCome || second.hasCome) continue;
    still = clock.now() > before ? 0 : still + 1;
    if (still > MOST_STILL) throw new Error(`the time of a run stands still at ${new Date(before).toISOString()}`);
    if (wakeBeside <= runMs()) await happensBeside({ at: clock.now(), code: 'tick' });
    else await look(wake !== null && runMs() >= wake);
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
  /** Lets time pass to a moment in which something happened, whatever else is over on the way there. */
  async function timeTo(ms: number): Promise<void> {
    for (;;) {
      const [before, one, two] = [clock.now(), lane.pending, second.pending];
      await clock.until(ms, one, two);
      // a moment is a fraction that may be rounded: where its time does not get on any more, it is there
      if (clock.now() >= ms || (clock.now() <= before && lane.pending === one && second.pending === two)) return;
    }
  }
  /** Plays what happened to devices that were not there: they do what they did then, at the same moments. */
  async function catchUp(): Promise<void> {
    for (const event of so) {
      if (event.code !== 'began' && !devices.elsewhere) {
        ask();
        await timeTo(event.at);
        if (event.code === 'done' || event.code === 'failed') (event.beside ? second : lane).takeCame();
        if (event.code === 'thrown') thrown?.(event);
      }
      await follows(event, true);
    }
    lookedQuietly = clock.now();
    if (!devices.elsewhere) return;
    // what was asked for last is asked for again by its number: what is done already is not done twice
    lane.only((state as RunState | null)?.waitingFor?.id);
  }
}
