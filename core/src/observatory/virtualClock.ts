import type { RunTime } from './devices.ts';

/** How time passes from a moment towards another [ms]: the moment that was reached, which is the other unless somebody called. */
export type Pace = (fromMs: number, towardsMs: number) => number | Promise<number>;

/**
 * Time that is not the world’s. Devices sleep on it, one at a time; whoever watches them lets it pass, and can look at them on
 * the way. Nothing depends on how often that is done.
 */
export class VirtualClock implements RunTime {
  private atMs: number;
  private sleeper: { untilMs: number; wake: () => void; fail: (e: Error) => void } | null = null;
  private slept: (() => void) | null = null;
  private readonly pace: Pace;

  constructor(startMs: number, pace: Pace = (_, towardsMs) => towardsMs) {
    this.atMs = startMs;
    this.pace = pace;
  }
  now(): number {
    return this.atMs;
  }
  sleep(ms: number): Promise<void> {
    if (!(ms > 0)) return Promise.resolve();
    if (this.sleeper) throw new Error('one thing at a time sleeps');
    return new Promise((wake, fail) => {
      this.sleeper = { untilMs: this.atMs + ms, wake, fail };
      this.slept?.();
    });
  }
  /** Ends what sleeps as a failure: something that moves is stopped. */
  interrupt(why: Error): void {
    const { sleeper } = this;
    this.sleeper = null;
    sleeper?.fail(why);
  }
  /** Whatever works goes on until it sleeps or is over. */
  private settled(busy: Promise<unknown>): Promise<boolean> {
    return new Promise((tell) => {
      const over = () => tell(true);
      busy.then(over, over);
      if (this.sleeper) tell(false);
      else this.slept = () => tell(false);
    });
  }
  /** Lets time pass until a moment, or until something is over, or somebody calls; whichever is first. */
  async until(ms: number, busy: Promise<unknown> | null): Promise<void> {
    for (;;) {
      if (busy && (await this.settled(busy))) return;
      const { sleeper } = this;
      const next = Math.min(ms, sleeper?.untilMs ?? Infinity);
      if (next > this.atMs) {
        const reached = this.pace(this.atMs, next);
        this.atMs = Math.max(this.atMs, typeof reached === 'number' ? reached : await reached);
        if (this.atMs < next) return;
      }
      // what ends at this moment has ended before anybody looks
      if (!sleeper || this.sleeper !== sleeper || sleeper.untilMs > this.atMs) return;
      this.sleeper = null;
      this.slept = null;
      sleeper.wake();
      if (!busy) return;
    }
  }
}
