import * as Astronomy from 'astronomy-engine';
import type { Leg } from '../sequence/index.ts';

/**
 * Holds a laid-out night against the sky by brute force. Shares nothing with the planner: altitudes from the ephemeris
 * library’s own rotation, minute by minute, bounds read from the plan’s own words.
 */
export interface CheckedSite {
  latitudeDeg: number;
  longitudeDeg: number;
  horizon: { azimuthDeg: number; altitudeDeg: number }[];
}
export interface CheckedLeg {
  leg: Leg;
  raDeg: number;
  decDeg: number;
  minimumAltitudeDeg: number;
}
const RAD = Math.PI / 180;
const SUN = { sunset: -0.833, civil: -6, nautical: -12, astronomical: -18 };

export class SkyByHand {
  private readonly observer: Astronomy.Observer;
  private readonly site: CheckedSite;
  private readonly rotations = new Map<number, Astronomy.RotationMatrix>();
  constructor(site: CheckedSite) {
    this.site = site;
    this.observer = new Astronomy.Observer(site.latitudeDeg, site.longitudeDeg, 0);
  }
  private toHorizon(ms: number): Astronomy.RotationMatrix {
    let r = this.rotations.get(ms);
    if (!r) this.rotations.set(ms, (r = Astronomy.Rotation_EQJ_HOR(Astronomy.MakeTime(new Date(ms)), this.observer)));
    return r;
  }
  star(raDeg: number, decDeg: number, ms: number): { altitudeDeg: number; azimuthDeg: number } {
    const v = new Astronomy.Vector(
      Math.cos(decDeg * RAD) * Math.cos(raDeg * RAD),
      Math.cos(decDeg * RAD) * Math.sin(raDeg * RAD),
      Math.sin(decDeg * RAD),
      Astronomy.MakeTime(new Date(ms)),
    );
    const h = Astronomy.RotateVector(this.toHorizon(ms), v);
    // x north, y west, z up
    return {
      altitudeDeg: Math.asin(Math.max(-1, Math.min(1, h.z))) / RAD,
      azimuthDeg: (Math.atan2(-h.y, h.x) / RAD + 360) % 360,
    };
  }
  private body(body: Astronomy.Body, ms: number) {
    const at = Astronomy.Equator(body, new Date(ms), this.observer, true, true);
    return { ...Astronomy.Horizon(new Date(ms), this.observer, at.ra, at.dec), vec: at.vec };
  }
  sunDeg = (ms: number): number => this.body(Astronomy.Body.Sun, ms).altitude;
  sun(ms: number): { altitudeDeg: number; azimuthDeg: number } {
    const { altitude, azimuth } = this.body(Astronomy.Body.Sun, ms);
    return { altitudeDeg: altitude, azimuthDeg: azimuth };
  }
  /** Altitude of the Moon’s upper limb with refraction at the horizon [deg], and its distance from a star. */
  moon(raDeg: number, decDeg: number, ms: number): { limbDeg: number; apartDeg: number } {
    const at = Astronomy.Equator(Astronomy.Body.Moon, new Date(ms), this.observer, false, true);
    const h = this.body(Astronomy.Body.Moon, ms);
    const [ra, dec] = [at.ra * 15 * RAD, at.dec * RAD];
    const cos =
      Math.sin(dec) * Math.sin(decDeg * RAD) + Math.cos(dec) * Math.cos(decDeg * RAD) * Math.cos(ra - raDeg * RAD);
    return { limbDeg: h.altitude + 0.27 + 34 / 60, apartDeg: Math.acos(Math.max(-1, Math.min(1, cos))) / RAD };
  }
  wallDeg(azimuthDeg: number): number {
    const h = this.site.horizon;
    if (h.length === 0) return 0;
    for (let i = 0; i < h.length; i++) {
      const [a, b] = [h[i]!, h[(i + 1) % h.length]!];
      const span = (b.azimuthDeg - a.azimuthDeg + 360) % 360 || 360;
      const along = (azimuthDeg - a.azimuthDeg + 360) % 360;
      if (along <= span) return a.altitudeDeg + ((b.altitudeDeg - a.altitudeDeg) * along) / span;
    }
    return 0;
  }

  /**
   * What forbids a leg to expose at a moment; null where nothing does.
   * @param slackDeg  positive: only what is forbidden beyond doubt; negative: allowed only beyond doubt
   */
  forbids({ leg, raDeg, decDeg, minimumAltitudeDeg }: CheckedLeg, ms: number, slackDeg: number): string | null {
    const slackMs = slackDeg * 240_000;
    const ends = [leg.from, leg.until] as const;
    if (leg.from.by === 'clock' && ms < Date.parse(leg.from.at) - slackMs) return 'before its clock';
    if (leg.until.by === 'clock' && ms > Date.parse(leg.until.at) + slackMs) return 'after its clock';
    const sun = this.sunDeg(ms);
    const named = ends.flatMap((e) => (e.by === 'darkness' ? [SUN[e.which]] : []));
    const evening = this.sunDeg(ms + 60_000) < sun;
    const own = evening ? leg.from : leg.until;
    const limit = leg.darkness
      ? Math.min(SUN[leg.darkness], ...(own.by === 'darkness' ? [SUN[own.which]] : []))
      : own.by === 'darkness'
        ? SUN[own.which]
        : SUN.astronomical;
    if (sun > limit + slackDeg) return `Sun at ${sun.toFixed(1)}°, ${named.join()}`;
    const { altitudeDeg, azimuthDeg } = this.star(raDeg, decDeg, ms);
    if (altitudeDeg < minimumAltitudeDeg - slackDeg) return `object at ${altitudeDeg.toFixed(1)}°`;
    if (altitudeDeg < this.wallDeg(azimuthDeg) - 3 * slackDeg) return 'behind the horizon';
    const [rise, sink] = ends.map((e) => (e.by === 'altitude' ? e.deg : null)) as [number | null, number | null];
    if (rise !== null || sink !== null) {
      const least = Math.min(rise ?? sink!, sink ?? rise!);
      if (altitudeDeg < least - slackDeg) return `object at ${altitudeDeg.toFixed(1)}°, its end asks for ${least}°`;
    }
    if (ends.some((e) => e.by === 'moon') && this.moon(raDeg, decDeg, ms).limbDeg > slackDeg) return 'the Moon is up';
    return null;
  }
}
