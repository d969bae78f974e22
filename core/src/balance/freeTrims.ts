import { exactTrim, leftOver, nearestTrim, type Span } from './trimProgram.ts';
import { limitsOf, SAME_TORQUE_NM, type Allowed, type Arrangement, type Balancing } from './arrangement.ts';
import type { Effort } from './effort.ts';
import type { MoveOption, WeightOption } from './options.ts';
import { STANDARD_GRAVITY, type TrimPoint } from './schemas.ts';

/** A trim lighter than this is none [kg]. */
export const NO_TRIM_KG = 1e-6;
/** What is to be least: the torques left on either axis, and mass. */
interface Weigh {
  dec: number;
  ra: number;
  mass: number;
}
export const MASS: Weigh = { dec: 0, ra: 0, mass: 1 };
export const BOTH: Weigh = { dec: 1, ra: 1, mass: 0 };

/** Trims of any mass: linear programs find them. */
export class FreeTrims {
  private readonly rig: Balancing;
  private readonly effort: Effort;
  constructor(rig: Balancing, effort: Effort) {
    this.rig = rig;
    this.effort = effort;
  }

  /** Masses on points that keep what is allowed, with the least of what is weighed. */
  nearest(move: MoveOption, points: readonly TrimPoint[], span: Span, allowed: Allowed, weigh: Weigh) {
    this.effort.programs++;
    const most =
      'sumNm' in allowed
        ? { sum: { dec: STANDARD_GRAVITY / 1000, ra: this.rig.raPerMoment, most: allowed.sumNm } }
        : { dec: (1000 * allowed.decNm) / STANDARD_GRAVITY, ra: allowed.raNm / Math.max(this.rig.raPerMoment, 1e-12) };
    const scaled = {
      dec: (weigh.dec * STANDARD_GRAVITY) / 1000,
      ra: weigh.ra * this.rig.raPerMoment,
      mass: weigh.mass,
    };
    return nearestTrim(points, this.rig.moved(move), this.rig.slide, span, { weigh: scaled, most });
  }

  /** One move and one set of points, each with something on it: the least mass, trims and weights together. */
  freelyTrimmed(
    move: MoveOption,
    set: readonly number[],
    options: readonly WeightOption[],
    level: number,
    allowed: Allowed,
  ): Arrangement | null {
    const points = this.rig.points(set);
    const tube = this.rig.moved(move);
    const trim = (span: Span | null, wanted?: 'least-x' | 'greatest-x') => {
      this.effort.programs++;
      return exactTrim(points, tube, this.rig.slide, span, wanted);
    };
    const xOf = (masses: readonly number[]) => tube.x + points.reduce((s, p, i) => s + masses[i]! * p.xMm, 0);
    const kgOf = (masses: readonly number[]) => masses.reduce((s, m) => s + m, 0);
    let best: { masses: readonly number[]; w: WeightOption } | null = null;
    const bestKg = () => (best ? kgOf(best.masses) + best.w.totalKg : Infinity);
    const take = (masses: readonly number[] | null, w: WeightOption) => {
      if (masses && kgOf(masses) + w.totalKg < bestKg() - 1e-9) best = { masses, w };
    };
    const lightest = trim(null);
    if (lightest) {
      const [kg, x] = [kgOf(lightest), xOf(lightest)];
      let ends: [number, number] | null = null;
      for (const w of options) {
        if (w.totalKg + kg >= bestKg() - 1e-9) break;
        const span = this.rig.spanOf(w);
        if (x >= span.low - 1e-9 && x <= span.high + 1e-9) take(lightest, w);
        else {
          ends ??= [xOf(trim(null, 'least-x') ?? lightest), xOf(trim(null, 'greatest-x') ?? lightest)];
          if (ends[1] >= span.low && ends[0] <= span.high) take(trim(span), w);
        }
      }
      // nothing takes up all of it: what is left about right ascension may be allowed
      const slack = limitsOf(allowed).raNm / Math.max(this.rig.raPerMoment, 1e-12);
      if (!best && ends)
        for (const w of options) {
          const span = this.rig.spanOf(w);
          const miss = Math.max(span.low - ends[1], ends[0] - span.high, 0);
          if (miss > slack * (1 - 1e-9) || w.totalKg + kg >= bestKg() - 1e-9) continue;
          take(trim(this.rig.spanOf(w, miss + 1e-7)), w);
        }
    }
    if (!best) {
      const within = this.nearest(move, points, this.rig.anySpan, allowed, MASS);
      if (!within) return null;
      for (const w of options) {
        if (kgOf(within.masses) + w.totalKg >= bestKg() - 1e-9) break;
        const near = this.nearestWith(move, points, this.rig.spanOf(w), allowed);
        if (near) take(near, w);
      }
    }
    const got = best as { masses: readonly number[]; w: WeightOption } | null;
    // an empty point: a smaller set does the same with one intervention less
    if (!got || got.masses.some((m) => m < NO_TRIM_KG)) return null;
    const s = this.rig.state(
      move,
      set.map((point, i) => ({ point, massKg: got.masses[i]! })),
    );
    return this.rig.arrange(s, got.w, level);
  }

  /** What is allowed, as little left as may be, and then as light as may be. */
  private nearestWith(move: MoveOption, points: readonly TrimPoint[], span: Span, allowed: Allowed): number[] | null {
    if ('sumNm' in allowed) return this.nearest(move, points, span, allowed, MASS)?.masses ?? null;
    const first = this.nearest(move, points, span, allowed, { dec: 1, ra: 1, mass: 0 });
    if (!first) return null;
    const left = leftOver(points, this.rig.moved(move), this.rig.slide, span, first.masses);
    const sumNm = (STANDARD_GRAVITY * left.dec) / 1000 + this.rig.raPerMoment * left.ra + SAME_TORQUE_NM;
    const lean = this.nearest(move, points, span, { sumNm }, MASS)?.masses;
    const kept = lean && leftOver(points, this.rig.moved(move), this.rig.slide, span, lean);
    const fine =
      kept && (STANDARD_GRAVITY * kept.dec) / 1000 < allowed.decNm && this.rig.raPerMoment * kept.ra < allowed.raNm;
    return fine ? lean : first.masses;
  }
}
