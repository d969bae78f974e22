import * as Astronomy from 'astronomy-engine';
import type { Site } from './site.ts';
import { RAD } from '../quantities/index.ts';

/** Rotations of the Earth against the equinox per day of UT. */
export const SIDEREAL_RATE = 1.00273790935;
const DAY_MS = 86_400_000;
const AU_KM = 149_597_870.7;
const EARTH_RADIUS_KM = 6378.137;
const FLATTENING = 1 / 298.257223563;
/** Mean radius of the Moon [km] (IAU). */
export const MOON_RADIUS_KM = 1737.4;
/** Light travels this many AU in a day. */
const C_AU_PER_DAY = 173.1446326846693;

export type Vec = readonly [number, number, number];

const rotate = (r: Astronomy.RotationMatrix, v: Vec): Vec => [
  r.rot[0]![0]! * v[0] + r.rot[1]![0]! * v[1] + r.rot[2]![0]! * v[2],
  r.rot[0]![1]! * v[0] + r.rot[1]![1]! * v[1] + r.rot[2]![1]! * v[2],
  r.rot[0]![2]! * v[0] + r.rot[1]![2]! * v[1] + r.rot[2]![2]! * v[2],
];

export const unit = (v: Vec): Vec => {
  const n = Math.hypot(v[0], v[1], v[2]);
  return [v[0] / n, v[1] / n, v[2] / n];
};
export const dot = (a: Vec, b: Vec): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Angle between two directions [deg], good at small and large angles alike. */
export function angleDeg(a: Vec, b: Vec): number {
  const cross = Math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]);
  return Math.atan2(cross, dot(a, b)) / RAD;
}

/** Unit vector of right ascension and declination [deg]. */
export const direction = (raDeg: number, decDeg: number): Vec => {
  const c = Math.cos(decDeg * RAD);
  return [c * Math.cos(raDeg * RAD), c * Math.sin(raDeg * RAD), Math.sin(decDeg * RAD)];
};

/** Altitude and azimuth [deg], airless, azimuth from north through east. */
export interface AltAz {
  altitudeDeg: number;
  azimuthDeg: number;
}

/** Positions of a body at even steps since 1970, as seen from the Earth's centre: each is worked out once [km, J2000]. */
class Places {
  private readonly known = new Map<number, Vec>();
  constructor(
    private readonly body: Astronomy.Body,
    readonly stepMs: number,
  ) {}
  at(step: number): Vec {
    const before = this.known.get(step);
    if (before) return before;
    const v = Astronomy.GeoVector(this.body, Astronomy.MakeTime(new Date(step * this.stepMs)), true);
    const place: Vec = [v.x * AU_KM, v.y * AU_KM, v.z * AU_KM];
    // some ten years of nights; whoever asks for more begins anew
    if (this.known.size >= 20_000) this.known.clear();
    this.known.set(step, place);
    return place;
  }
}
const SUN = new Places(Astronomy.Body.Sun, DAY_MS);
const MOON = new Places(Astronomy.Body.Moon, DAY_MS / 4);

/** Values at even steps, read by Lagrange interpolation between the six nodes around. */
class Table {
  private readonly first: number;
  private readonly stepMs: number;
  private readonly nodes: Vec[];
  constructor(places: Places, toDate: Astronomy.RotationMatrix, fromMs: number, toMs: number) {
    this.stepMs = places.stepMs;
    this.first = Math.floor(fromMs / this.stepMs) - 2;
    const last = Math.floor(toMs / this.stepMs) + 3;
    this.nodes = Array.from({ length: last - this.first + 1 }, (_, i) => rotate(toDate, places.at(this.first + i)));
  }
  at(ms: number): Vec {
    const u = ms / this.stepMs - this.first;
    const i = Math.min(this.nodes.length - 4, Math.max(2, Math.floor(u)));
    const t = u - i;
    const a = t + 2;
    const b = t + 1;
    const c = t;
    const d = t - 1;
    const e = t - 2;
    const f = t - 3;
    // read some hundred thousand times a year of nights: written out, nothing is made on the way
    const p = b * c * d;
    const q = d * e * f;
    const r = a * b * c;
    const w0 = (p * e * f) / -120;
    const w1 = (a * c * q) / 24;
    const w2 = (a * b * q) / -12;
    const w3 = (r * e * f) / 12;
    const w4 = (r * d * f) / -24;
    const w5 = (r * d * e) / 120;
    const n = this.nodes;
    const n0 = n[i - 2]!;
    const n1 = n[i - 1]!;
    const n2 = n[i]!;
    const n3 = n[i + 1]!;
    const n4 = n[i + 2]!;
    const n5 = n[i + 3]!;
    return [
      w0 * n0[0] + w1 * n1[0] + w2 * n2[0] + w3 * n3[0] + w4 * n4[0] + w5 * n5[0],
      w0 * n0[1] + w1 * n1[1] + w2 * n2[1] + w3 * n3[1] + w4 * n4[1] + w5 * n5[1],
      w0 * n0[2] + w1 * n1[2] + w2 * n2[2] + w3 * n3[2] + w4 * n4[2] + w5 * n5[2],
    ];
  }
}

/**
 * The sky over one site for about a day: Sun and Moon tabulated once by astronomy-engine and interpolated, so that a
 * night's worth of positions costs little. Interpolation error: Moon and Sun below 0.001″.
 * UT1 = UTC. Places are apparent: precession, nutation, annual aberration.
 */
export class SkyWindow {
  private readonly sun: Table;
  private readonly moon: Table;
  private readonly gast0Deg: number;
  private readonly middleMs: number;
  private readonly toDate: Astronomy.RotationMatrix;
  private readonly aberration: Vec;
  private readonly site: Site;
  private readonly sinLat: number;
  private readonly cosLat: number;
  private readonly rhoSin: number;
  private readonly rhoCos: number;

  constructor(site: Site, middleMs: number, reachMs = 0.55 * DAY_MS) {
    this.site = site;
    this.middleMs = middleMs;
    const lat = site.latitudeDeg * RAD;
    this.sinLat = Math.sin(lat);
    this.cosLat = Math.cos(lat);
    const u = Math.atan2((1 - FLATTENING) * this.sinLat, this.cosLat);
    const h = site.elevationM / 1000 / EARTH_RADIUS_KM;
    this.rhoSin = (1 - FLATTENING) * Math.sin(u) + h * this.sinLat;
    this.rhoCos = Math.cos(u) + h * this.cosLat;
    const time = Astronomy.MakeTime(new Date(middleMs));
    this.gast0Deg = Astronomy.SiderealTime(time) * 15;
    this.toDate = Astronomy.Rotation_EQJ_EQD(time);
    const earth = Astronomy.BaryState(Astronomy.Body.Earth, time);
    this.aberration = [earth.vx / C_AU_PER_DAY, earth.vy / C_AU_PER_DAY, earth.vz / C_AU_PER_DAY];
    this.sun = new Table(SUN, this.toDate, middleMs - reachMs, middleMs + reachMs);
    this.moon = new Table(MOON, this.toDate, middleMs - reachMs, middleMs + reachMs);
  }

  /** Local apparent sidereal time [deg], not reduced. */
  siderealDeg(ms: number): number {
    return this.gast0Deg + this.site.longitudeDeg + ((ms - this.middleMs) / DAY_MS) * 360 * SIDEREAL_RATE;
  }

  /** Apparent direction, equator and equinox of date, of a J2000 place; held for the whole window. */
  apparent(raDeg: number, decDeg: number): Vec {
    const j = direction(raDeg, decDeg);
    const a = this.aberration;
    return rotate(this.toDate, unit([j[0] + a[0], j[1] + a[1], j[2] + a[2]]));
  }

  /** Zenith in the J2000 frame, for scanning catalogues without precessing each entry. */
  zenithJ2000(ms: number): { zenith: Vec; north: Vec; east: Vec } {
    const s = this.siderealDeg(ms) * RAD;
    const back = (v: Vec): Vec => {
      const r = this.toDate.rot;
      return [
        r[0]![0]! * v[0] + r[0]![1]! * v[1] + r[0]![2]! * v[2],
        r[1]![0]! * v[0] + r[1]![1]! * v[1] + r[1]![2]! * v[2],
        r[2]![0]! * v[0] + r[2]![1]! * v[1] + r[2]![2]! * v[2],
      ];
    };
    return {
      zenith: back([this.cosLat * Math.cos(s), this.cosLat * Math.sin(s), this.sinLat]),
      north: back([-this.sinLat * Math.cos(s), -this.sinLat * Math.sin(s), this.cosLat]),
      east: back([-Math.sin(s), Math.cos(s), 0]),
    };
  }

  /** Altitude and azimuth of a direction of date. */
  altAz(v: Vec, ms: number): AltAz {
    const s = this.siderealDeg(ms) * RAD;
    const cs = Math.cos(s);
    const ss = Math.sin(s);
    const toMeridian = v[0] * cs + v[1] * ss;
    const east = v[1] * cs - v[0] * ss;
    const up = toMeridian * this.cosLat + v[2] * this.sinLat;
    const north = v[2] * this.cosLat - toMeridian * this.sinLat;
    const az = Math.atan2(east, north) / RAD;
    return { altitudeDeg: Math.atan2(up, Math.hypot(east, north)) / RAD, azimuthDeg: az < 0 ? az + 360 : az };
  }

  private topocentric(geocentric: Vec, ms: number): Vec {
    const s = this.siderealDeg(ms) * RAD;
    const r = EARTH_RADIUS_KM;
    return [
      geocentric[0] - r * this.rhoCos * Math.cos(s),
      geocentric[1] - r * this.rhoCos * Math.sin(s),
      geocentric[2] - r * this.rhoSin,
    ];
  }

  /** Geocentric places, equator of date [km]. */
  sunGeocentric = (ms: number): Vec => this.sun.at(ms);
  moonGeocentric = (ms: number): Vec => this.moon.at(ms);
  /** As seen from the site, equator of date [km]. */
  sunVector = (ms: number): Vec => this.topocentric(this.sun.at(ms), ms);
  moonVector = (ms: number): Vec => this.topocentric(this.moon.at(ms), ms);

  sunAltitudeDeg = (ms: number): number => this.altAz(this.sunVector(ms), ms).altitudeDeg;
  moonAltitudeDeg = (ms: number): number => this.altAz(this.moonVector(ms), ms).altitudeDeg;

  /** Above 0: some of the Moon is up, with 34′ of refraction at the horizon. */
  moonUpDeg(ms: number): number {
    const v = this.moonVector(ms);
    const semidiameter = Math.asin(MOON_RADIUS_KM / Math.hypot(v[0], v[1], v[2])) / RAD;
    return this.altAz(v, ms).altitudeDeg + 34 / 60 + semidiameter;
  }
}

/** Instant between a and b [ms] where f crosses 0, by bisection to a hundredth of a second; f(a) and f(b) differ in sign. */
export function crossing(f: (ms: number) => number, a: number, b: number): number {
  let low = a;
  let high = b;
  const rising = f(a) < 0;
  for (let i = 0; i < 60 && high - low > 10; i++) {
    const mid = (low + high) / 2;
    if (f(mid) < 0 === rising) low = mid;
    else high = mid;
  }
  return (low + high) / 2;
}

/** Spells within [from, to] where f ≥ 0; grazing ones between samples are searched for. Step and times in ms. */
export function spellsAbove(f: (ms: number) => number, from: number, to: number, step: number): [number, number][] {
  const n = Math.max(2, Math.ceil((to - from) / step));
  const t = (i: number) => from + ((to - from) * i) / n;
  const times: number[] = [];
  const values: number[] = [];
  const add = (ms: number, v: number) => {
    times.push(ms);
    values.push(v);
  };
  let before = f(t(0));
  add(t(0), before);
  let now = f(t(1));
  for (let i = 1; i <= n; i++) {
    const after = i < n ? f(t(i + 1)) : now;
    add(t(i), now);
    const grazing = Math.abs(now) < 2 && i < n && now < 0 === before < 0 && now < 0 === after < 0;
    if (grazing && (now < 0 ? now >= before && now >= after : now <= before && now <= after)) {
      const extreme = extremum(f, t(i - 1), t(i + 1), now < 0 ? 1 : -1);
      const v = f(extreme);
      if (v < 0 !== now < 0) {
        add(extreme, v);
      }
    }
    before = now;
    now = after;
  }
  const order = times.map((_, i) => i).sort((a, b) => times[a]! - times[b]!);
  const spells: [number, number][] = [];
  let open: number | null = values[order[0]!]! >= 0 ? from : null;
  for (let k = 1; k < order.length; k++) {
    const [a, b] = [order[k - 1]!, order[k]!];
    if (values[a]! >= 0 === values[b]! >= 0) continue;
    const at = crossing(f, times[a]!, times[b]!);
    if (open === null) open = at;
    else {
      spells.push([open, at]);
      open = null;
    }
  }
  if (open !== null) spells.push([open, to]);
  return spells;
}

/** Golden-section search for the greatest (sign 1) or least (−1) value. */
function extremum(f: (ms: number) => number, from: number, to: number, sign: number): number {
  const ratio = (Math.sqrt(5) - 1) / 2;
  let a = from;
  let b = to;
  for (let i = 0; i < 40 && b - a > 20; i++) {
    const c = b - ratio * (b - a);
    const d = a + ratio * (b - a);
    if (sign * f(c) > sign * f(d)) b = d;
    else a = c;
  }
  return (a + b) / 2;
}
