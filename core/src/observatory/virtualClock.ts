import type { Clock, RunTime } from './devices.ts';

/** How time passes from a moment towards another [ms]: the moment that was reached, which is the other unless somebody called. */
export type Pace = (fromMs: number, towardsMs: number) => number | Promise<number>;

/** Devices of which one at a time is at something, and sleeps meanwhile. */
class Sleeper {
  private sleeping: { untilMs: number; wake: () => void; fail: (e: Error) => void } | null = null;
  private slept: (() => void) | null = null;
  private readonly now: () => number;

  constructor(now: () => number) {
    this.now = now;
  }
  /** When it wakes by itself [ms]. */
  get untilMs(): number {
    return this.sleeping?.untilMs ?? Infinity;
  }
  sleep(ms: number): Promise<void> {
    if (!(ms > 0)) return Promise.resolve();
    if (this.sleeping) throw new Error('one thing at a time sleeps');
    return new Promise((wake, fail) => {
      this.sleeping = { untilMs: this.now() + ms, wake, fail };
      this.slept?.();
    });
  }
  /** Ends what sleeps as a failure: something that moves is stopped. */
  interrupt(why: Error): void {
    const { sleeping } = this;
    this.sleeping = null;
    sleeping?.fail(why);
  }
  /** Whatever works goes on until it sleeps or is over. @returns whether it is over */
  settled(busy: Promise<unknown>): Promise<boolean> {
    return new Promise((tell) => {
      const over = () => tell(true);
      busy.then(over, over);
      if (this.sleeping) tell(false);
      else this.slept = () => tell(false);
    });
  }
  /** Wakes it where its time has come. */
  rouse(): boolean {
    const { sleeping } = this;
    if (!sleeping || sleeping.untilMs > this.now()) return false;
    this.sleeping = null;
    this.slept = null;
    sleeping.wake();
    return true;
  }
}

/**
 * Time that is not the world’s. Devices sleep on it, one at a time, and those of a second camera beside them; whoever watches
 * them lets it pass, and can look at them on the way. Nothing depends on how often that is done.
 */
export class VirtualClock implements RunTime {
  private atMs: number;
  private readonly pace: Pace;
  private readonly own: Sleeper;
  private readonly second: Sleeper;
  /** The same time, for the devices of a second camera. */
  readonly beside: Clock & { interrupt: (why: Error) => void };

  constructor(startMs: number, pace: Pace = (_, towardsMs) => towardsMs) {
    this.atMs = startMs;
    this.pace = pace;
    const now = () => this.atMs;
    const second = new Sleeper(now);
    [this.own, this.second] = [new Sleeper(now), second];
    this.beside = { now, sleep: (ms) => second.sleep(ms), interrupt: (why) => second.interrupt(why) };
  }
  now(): number {
    return this.atMs;
  }
  sleep(ms: number): Promise<void> {
    return this.own.sleep(ms);
  }
  interrupt(why: Error): void {
    this.own.interrupt(why);
  }
  /** Lets time pass until a moment, or until something is over, or somebody calls; whichever is first. */
  async until(ms: number, busy: Promise<unknown> | null, beside: Promise<unknown> | null = null): Promise<void> {
    for (;;) {
      // both, so that of two that are over at one moment neither is missed
      const over = [busy && (await this.own.settled(busy)), beside && (await this.second.settled(beside))];
      if (over.includes(true)) return;
      const next = Math.min(ms, this.own.untilMs, this.second.untilMs);
      if (next > this.atMs) {
        const reached = this.pace(this.atMs, next);
        this.atMs = Math.max(this.atMs, typeof reached === 'number' ? reached : await reached);
        if (this.atMs < next) return;
      }
      // what ends at this moment has ended before anybody looks
      const roused = [this.own.rouse(), this.second.rouse()];
      if (!roused.includes(true) || (!busy && !beside)) return;
    }
  }
}
