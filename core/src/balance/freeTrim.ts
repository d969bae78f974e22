import type { TrimPoint } from './schemas.ts';

/**
 * Trim weights of any mass: how much to hang on a given set of points.
 * With masses m_i the sideways moment is linear, and the slide reaches an interval of fore-and-aft moments whose ends
 * are linear in m; the moment left, hypot(y, distance of 0 from that interval), is convex, so descent finds its least.
 */
export interface DecState {
  /** Tube-side mass [kg] and moments [kg·mm] before trimming and sliding. */
  m: number;
  y: number;
  z: number;
  slideMin: number;
  slideMax: number;
}

/** Fore-and-aft moment the slide cannot take away [kg·mm], signed; 0 when it can. */
export function beyondSlide(m: number, z: number, slideMin: number, slideMax: number): number {
  const low = z + m * slideMin;
  const high = z + m * slideMax;
  return low > 0 ? low : high < 0 ? high : 0;
}

/** Slide that leaves the least |z| [mm]. */
export const bestSlide = (m: number, z: number, slideMin: number, slideMax: number): number =>
  m > 0 ? Math.min(slideMax, Math.max(slideMin, -z / m)) : Math.min(slideMax, Math.max(slideMin, 0));

const left = (s: DecState, points: readonly TrimPoint[], masses: readonly number[]) => {
  let { m, y, z } = s;
  points.forEach((p, i) => {
    m += masses[i]!;
    y += masses[i]! * p.yMm;
    z += masses[i]! * p.zMm;
  });
  return { y, z: beyondSlide(m, z, s.slideMin, s.slideMax) };
};

/** Golden-section search for the least of a convex function; ties go to the lower end. */
export function convexMinimum(f: (x: number) => number, low: number, high: number, tolerance: number): number {
  const ratio = (Math.sqrt(5) - 1) / 2;
  let a = low;
  let b = high;
  let c = b - ratio * (b - a);
  let d = a + ratio * (b - a);
  let fc = f(c);
  let fd = f(d);
  for (let i = 0; i < 80 && b - a > tolerance; i++) {
    if (fc <= fd) {
      b = d;
      d = c;
      fd = fc;
      c = b - ratio * (b - a);
      fc = f(c);
    } else {
      a = c;
      c = d;
      fc = fd;
      d = a + ratio * (b - a);
      fd = f(d);
    }
  }
  const x = (a + b) / 2;
  return [low, high].reduce((best, end) => (f(end) < f(best) - 1e-12 ? end : best), x);
}

/** Masses on two points that bring y to 0 and z within the slide with the least total; null when there are none. */
function exactPair(s: DecState, a: TrimPoint, b: TrimPoint): number[] | null {
  // along the line y = 0 everything is linear in the mass at b: keep the admissible interval
  if (Math.abs(a.yMm) < 1e-9) return Math.abs(b.yMm) < 1e-9 ? null : (exactPair(s, b, a)?.reverse() ?? null);
  const m0 = -s.y / a.yMm;
  const slope = -b.yMm / a.yMm;
  let low = 0;
  let high = b.maxMassKg;
  const atLeast = (c0: number, c1: number) => {
    // c0 + c1·t ≥ 0
    if (Math.abs(c1) < 1e-15) {
      if (c0 < -1e-9) high = -1;
    } else if (c1 > 0) low = Math.max(low, -c0 / c1);
    else high = Math.min(high, -c0 / c1);
  };
  atLeast(m0, slope);
  atLeast(a.maxMassKg - m0, -slope);
  // z + slide·M at its lowest must be ≤ 0, at its highest ≥ 0
  const along = (slide: number): [number, number] => [
    s.z + s.m * slide + m0 * (a.zMm + slide),
    slope * (a.zMm + slide) + b.zMm + slide,
  ];
  const [l0, l1] = along(s.slideMin);
  const [h0, h1] = along(s.slideMax);
  atLeast(-l0, -l1);
  atLeast(h0, h1);
  if (low > high + 1e-12) return null;
  const t = 1 + slope >= 0 ? low : high; // total mass m0 + (1 + slope)·t
  return [Math.max(0, m0 + slope * t), Math.max(0, t)];
}

/**
 * Masses for every point of the set, each within its limit, that leave the least declination moment, and of those
 * (nearly) the least mass.
 * @returns null when a point of the set would stay empty: then a smaller set does the same
 */
export function freeTrim(s: DecState, points: readonly TrimPoint[]): number[] | null {
  const cost = (masses: readonly number[]) => {
    const r = left(s, points, masses);
    return r.y * r.y + r.z * r.z;
  };
  let masses: number[];
  if (points.length === 1) {
    const p = points[0]!;
    const f = (m: number) => cost([m]);
    const direct = Math.abs(p.yMm) > 1e-9 ? -s.y / p.yMm : Number.NaN;
    const found =
      direct > 0 && direct <= p.maxMassKg && f(direct) < 1e-9 ? direct : convexMinimum(f, 0, p.maxMassKg, 1e-7);
    masses = [leanest(f, found)];
  } else {
    const exact = points.length === 2 ? exactPair(s, points[0]!, points[1]!) : null;
    masses = exact ?? descend(cost, points);
  }
  return masses.some((m) => m < 1e-6) ? null : masses;
}

/** The smallest mass that does as well as the one found. */
function leanest(f: (m: number) => number, found: number): number {
  const target = f(found) + 1e-9;
  let low = 0;
  let high = found;
  if (f(low) <= target) return 0;
  for (let i = 0; i < 60; i++) {
    const mid = (low + high) / 2;
    if (f(mid) <= target) high = mid;
    else low = mid;
  }
  return found - high < 1e-5 * Math.max(1, found) ? found : high;
}

/** Coordinate descent from bare points. */
function descend(cost: (m: number[]) => number, points: readonly TrimPoint[]): number[] {
  const masses = points.map(() => 0);
  let before = cost(masses);
  for (let sweep = 0; sweep < 40; sweep++) {
    points.forEach((p, i) => {
      masses[i] = convexMinimum((m) => cost(masses.with(i, m)), 0, p.maxMassKg, 1e-6);
    });
    const now = cost(masses);
    if (before - now < 1e-9) break;
    before = now;
  }
  return masses;
}
