import type { Clock } from './devices.ts';

/** How fast a cooler gets colder [°C/min], and how much colder than the air at most [°C]. */
export interface CoolerReach {
  ratePerMinC: number;
  deepestBelowAmbientC: number;
}

/** A camera that is cooled by a little every minute. */
export class Cooler {
  private from: { atMs: number; c: number; toC: number | null };
  private readonly clock: Clock;
  private readonly ambientC: () => number;
  private readonly reach: CoolerReach;
  constructor(clock: Clock, ambientC: () => number, reach: CoolerReach) {
    [this.clock, this.ambientC, this.reach] = [clock, ambientC, reach];
    this.from = { atMs: clock.now(), c: ambientC(), toC: null };
  }
  temperatureC(): number {
    const { atMs, c, toC } = this.from;
    const goal = toC === null ? this.ambientC() : Math.max(toC, this.ambientC() - this.reach.deepestBelowAmbientC);
    const most = (this.reach.ratePerMinC * (this.clock.now() - atMs)) / 60_000;
    return c + Math.max(-most, Math.min(most, goal - c));
  }
  percent(): number {
    const { toC } = this.from;
    const below = Math.max(0, this.ambientC() - this.temperatureC());
    return toC === null ? 0 : Math.round((100 * below) / this.reach.deepestBelowAmbientC);
  }
  to(toC: number | null): void {
    this.from = { atMs: this.clock.now(), c: this.temperatureC(), toC };
  }
}
