import { horizonAt, SkyWindow, SUN_ALTITUDE, type AltAz, type Site } from '../sky/index.ts';
import type { RunLeg } from './run.ts';

/** What the plan’s times may be wrong by: rounding to seconds moves an object by less [deg]. */
const SLACK_DEG = 0.02;

/** Why an exposure is forbidden. */
export type Outside =
  | { code: 'low'; altitudeDeg: number; wantedDeg: number }
  | { code: 'horizon' }
  | { code: 'bright' };

/** Looks at altitude, horizon and Sun by itself before a frame: whatever a plan believes of the hours, the sky decides. */
export class SkyWatch {
  private readonly sky: SkyWindow;
  private readonly site: Site;
  constructor(site: Site, middleMs: number) {
    this.site = site;
    this.sky = new SkyWindow(site, middleMs);
  }

  /** Where the Sun stands [deg]. */
  sun(ms: number): AltAz {
    return this.sky.altAz(this.sky.sunVector(ms), ms);
  }
  /** How far a place of the sky is past the meridian [deg]. */
  hourAngleDeg(raDeg: number, ms: number): number {
    return this.sky.siderealDeg(ms) - raDeg;
  }

  /** What forbids an exposure between two moments [ms], looked at where it begins and where it ends; null where nothing does. */
  outside(
    target: RunLeg['target'],
    limits: NonNullable<RunLeg['limits']>,
    fromMs: number,
    untilMs: number,
  ): Outside | null {
    const star = this.sky.apparent(target.raDeg, target.decDeg);
    for (const ms of [fromMs, untilMs]) {
      const { altitudeDeg, azimuthDeg } = this.sky.altAz(star, ms);
      if (altitudeDeg < limits.minimumAltitudeDeg - SLACK_DEG)
        return { code: 'low', altitudeDeg, wantedDeg: limits.minimumAltitudeDeg };
      if (altitudeDeg < horizonAt(this.site.horizon, azimuthDeg) - SLACK_DEG) return { code: 'horizon' };
      if (this.sky.sunAltitudeDeg(ms) > SUN_ALTITUDE[limits.darkness] + SLACK_DEG) return { code: 'bright' };
    }
    return null;
  }
}
