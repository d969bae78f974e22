import type { Power } from './devices.ts';

const HOUR_MS = 3_600_000;
/** A supply from the wall [V]. */
const MAINS_V = 13.6;
/** A full battery, one that is empty, and how fast it goes then [V]; invented, of the order of lead and gel. */
const FULL_V = 12.9;
const EMPTY_V = 11.4;
const COLLAPSES_V = 30;

/** Volts of a battery of which a share was taken. */
export const voltsOf = (share: number): number =>
  Math.max(0, share <= 1 ? FULL_V - (FULL_V - EMPTY_V) * share : EMPTY_V - COLLAPSES_V * (share - 1));

/** What everything runs on: from the wall, or from a battery that runs down while it is on. */
export class StandInSupply implements Power {
  private on: boolean;
  private takenWh = 0;
  private sinceMs: number;
  private readonly now: () => number;
  private readonly battery: { capacityWh: number; drawW: number } | null;
  constructor(
    now: () => number,
    { switched, battery }: { switched: boolean; battery: { capacityWh: number; drawW: number } | null },
  ) {
    [this.now, this.battery, this.on, this.sinceMs] = [now, battery, !switched, now()];
  }
  private taken(): number {
    const hours = (this.now() - this.sinceMs) / HOUR_MS;
    return this.takenWh + (this.on ? hours * (this.battery?.drawW ?? 0) : 0);
  }
  state(): { volts: number; on: boolean } {
    return { volts: this.battery ? voltsOf(this.taken() / this.battery.capacityWh) : MAINS_V, on: this.on };
  }
  async switchTo(on: boolean): Promise<void> {
    [this.takenWh, this.sinceMs, this.on] = [this.taken(), this.now(), on];
  }
}
