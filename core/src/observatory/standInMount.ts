import type { MountState, PierSide } from './devices.ts';
import { axesOf, beforeLimitDeg, onTheWay, parkedAxes, pointingOf, sideOf, type Axes } from './mountAxes.ts';
import type { VirtualClock } from './virtualClock.ts';

/** Mean sidereal time to an arcminute [deg]. Source: IAU 1982 expression, leading terms, from memory. */
const siderealDeg = (ms: number, longitudeDeg: number) =>
  280.46061837 + 360.98564736629 * (ms / 86_400_000 + 2440587.5 - 2451545) + longitudeDeg;

/** A tube on two axes, either standing, following the sky or on its way. */
export class StandInMount {
  private axes: Axes;
  private way: { from: Axes; to: Axes; fromMs: number; untilMs: number } | null = null;
  private follows: { raDeg: number; decDeg: number } | null = null;
  private side: PierSide = 'west';
  private readonly clock: VirtualClock;
  private readonly longitudeDeg: number;
  readonly latitudeDeg: number;
  private readonly pastMeridianDeg: number;
  constructor(
    clock: VirtualClock,
    {
      longitudeDeg = 0,
      latitudeDeg = 45,
      pastMeridianDeg = Infinity,
    }: { longitudeDeg?: number; latitudeDeg?: number; pastMeridianDeg?: number },
  ) {
    [this.clock, this.longitudeDeg, this.latitudeDeg] = [clock, longitudeDeg, latitudeDeg];
    this.pastMeridianDeg = pastMeridianDeg;
    this.axes = parkedAxes(latitudeDeg);
  }
  haDeg(raDeg: number, ms = this.clock.now()): number {
    return siderealDeg(ms, this.longitudeDeg) - raDeg;
  }
  sideFor = (raDeg: number): PierSide => sideOf(this.haDeg(raDeg));
  pierSide = (): PierSide => this.side;
  private current(): Axes {
    const now = this.clock.now();
    if (this.way) {
      const { from, to, fromMs, untilMs } = this.way;
      return onTheWay(from, to, Math.min(1, (now - fromMs) / Math.max(1, untilMs - fromMs)));
    }
    if (!this.follows) return this.axes;
    const { raDeg, decDeg } = this.follows;
    const at = { haDeg: this.haDeg(raDeg), decDeg, side: this.side };
    const left = beforeLimitDeg(at, this.pastMeridianDeg);
    if (left >= 0) return axesOf(at, this.latitudeDeg);
    // it stopped there by itself
    this.axes = axesOf({ ...at, haDeg: at.haDeg + left }, this.latitudeDeg);
    this.follows = null;
    return this.axes;
  }
  /** @param follow what it follows once it is there; null: it stands */
  async go(to: Axes, seconds: number, follow: { raDeg: number; decDeg: number } | null): Promise<void> {
    const fromMs = this.clock.now();
    this.way = { from: this.current(), to, fromMs, untilMs: fromMs + 1000 * seconds };
    try {
      await this.clock.sleep(1000 * seconds);
      this.axes = to;
      this.follows = follow;
      this.side = pointingOf(to).side;
    } catch (e) {
      // stopped on the way: it stands where it was
      this.axes = this.current();
      this.follows = null;
      this.side = pointingOf(this.axes).side;
      throw e;
    } finally {
      this.way = null;
    }
  }
  towards(raDeg: number, decDeg: number, seconds: number, side: PierSide): Promise<void> {
    const haDeg = this.haDeg(raDeg, this.clock.now() + 1000 * seconds);
    return this.go(axesOf({ haDeg, decDeg, side }, this.latitudeDeg), seconds, { raDeg, decDeg });
  }
  state(): MountState {
    const axes = this.current();
    return { ...pointingOf(axes), moves: this.way !== null, follows: this.follows !== null };
  }
}
