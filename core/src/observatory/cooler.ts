import type { Clock } from './devices.ts';

/** Degrees by which the cooler gets colder in a minute, and the most it can do against the air [°C]; invented. */
const COOLS_C_PER_MIN = 3;
const COOLS_AT_MOST = 38;

/** A camera that is cooled by a little every minute. */
export class Cooler {
  private from: { atMs: number; c: number; toC: number | null };
  private readonly clock: Clock;
  private readonly ambientC: () => number;
  constructor(clock: Clock, ambientC: () => number) {
    [this.clock, this.ambientC] = [clock, ambientC];
    this.from = { atMs: clock.now(), c: ambientC(), toC: null };
  }
  temperatureC(): number {
    const { atMs, c, toC } = this.from;
    const goal = toC === null ? this.ambientC() : Math.max(toC, this.ambientC() - COOLS_AT_MOST);
    const most = (COOLS_C_PER_MIN * (this.clock.now() - atMs)) / 60_000;
    return c + Math.max(-most, Math.min(most, goal - c));
  }
  percent(): number {
    const { toC } = this.from;
    return toC === null ? 0 : Math.round((100 * Math.max(0, this.ambientC() - this.temperatureC())) / COOLS_AT_MOST);
  }
  to(toC: number | null): void {
    this.from = { atMs: this.clock.now(), c: this.temperatureC(), toC };
  }
}
