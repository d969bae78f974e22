import type { Random } from '../statistics/index.ts';
import type { Clock, PierSide, Rotator } from './devices.ts';

const turn = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;
/** Turning, and the solving that shows the angle, take so long of a pointing at most [s], and of the time that takes; invented. */
const TURNS_S = 30;
const SHARE = 1 / 3;
/** What is left when it has been corrected [deg]; invented. */
const LEFT_DEG = 0.6;

/** How much of a pointing is the rotator’s [s]: the time an act takes is said for both together. */
export const turningS = (wholeS: number): number => Math.min(TURNS_S, SHARE * wholeS);

/** Places at which a picture stands as it should, of those the cables let it reach: by its own angle [deg]. */
export function reachable(atDeg: number, eitherWay: boolean, reachDeg: number): number[] {
  const ways = eitherWay ? [atDeg, atDeg + 180] : [atDeg];
  return ways.flatMap((w) => [-360, 0, 360].map((k) => turn(w) + k)).filter((a) => Math.abs(a) <= reachDeg);
}

/** A camera on a ring that turns: past the meridian what it shows stands upside down. */
export class StandInRotator implements Rotator {
  private deg = 0;
  private readonly clock: Clock;
  private readonly of: { reachDeg: number; northDeg: number };
  private readonly side: () => PierSide;
  private readonly random: Random;
  private readonly seconds: () => number;
  /** @param side  of the pier on which the tube is */
  constructor(
    clock: Clock,
    of: { reachDeg: number; northDeg: number },
    by: { side: () => PierSide; random: Random; seconds: () => number },
  ) {
    [this.clock, this.of, this.side, this.random, this.seconds] = [clock, of, by.side, by.random, by.seconds];
  }
  angleDeg(): number {
    return this.deg;
  }
  /** At which position angle the picture’s top stands now [deg]. */
  paDeg(): number {
    return (turn(this.deg + this.of.northDeg + (this.side() === 'east' ? 180 : 0)) + 360) % 360;
  }
  async turnTo({ paDeg, eitherWay }: { paDeg: number; eitherWay: boolean }): Promise<number> {
    const wanted = turn(paDeg - this.of.northDeg - (this.side() === 'east' ? 180 : 0));
    const [nearest] = reachable(wanted, eitherWay, this.of.reachDeg).sort(
      (a, b) => Math.abs(a - this.deg) - Math.abs(b - this.deg),
    );
    const end = Math.sign(wanted || 1) * this.of.reachDeg;
    await this.clock.sleep(1000 * this.seconds());
    this.deg = (nearest ?? end) + LEFT_DEG * (2 * this.random.next() - 1);
    const off = Math.abs(turn(this.paDeg() - paDeg));
    return eitherWay ? Math.min(off, 180 - off) : off;
  }
}
