import { lowerBound } from '../statistics/index.ts';
import { shaftSide, tubeSide } from './assess.ts';
import {
  moveOptions,
  trimStockOptions,
  weightOptions,
  type MoveOption,
  type TrimOption,
  type WeightOption,
} from './options.ts';
import { STANDARD_GRAVITY, type SolveInput, type TrimPoint } from './schemas.ts';
import {
  beyondSlide,
  bestSlide,
  exactTrim,
  leftOver,
  nearestTrim,
  type Slide,
  type Span,
  type TubeMoments,
} from './trimProgram.ts';

/** Residual torque below which an axis counts as balanced [N·m]; common practice, no source. */
export const FEASIBLE_NM = 0.05;
/** Most linear programs solved, and most arrangements compared, in one search; beyond, it says that it was cut short. */
const MOST_PROGRAMS = 30_000;
const MOST_COMPARED = 1_500_000;
/** A trim lighter than this is none [kg]. */
const NO_TRIM_KG = 1e-6;
/** Torques this near are one: rounding decides nothing [N·m]. */
const SAME_TORQUE_NM = 1e-7;

export interface Arrangement {
  moves: { mass: string; to: string }[];
  turnDeg: number;
  trims: { point: number; massKg: number }[];
  pieces: number[];
  distanceMm: number;
  slideMm: number;
  /** Moment left [kg·mm]; x is the whole, not the part beyond the wanted bias. */
  left: { x: number; y: number; z: number };
  decTorqueNm: number;
  raTorqueNm: number;
  interventions: number;
  addedKg: number;
}

/** Tube side after moves and trims, before slide and shaft. */
interface TubeState extends TubeMoments {
  move: MoveOption;
  trims: { point: number; massKg: number }[];
  trimKg: number;
}

export interface SearchResult {
  best: Arrangement;
  feasible: boolean;
  alternatives: Arrangement[];
  capped: boolean;
}

/** What an arrangement may leave: either axis its torque, or both together. */
type Allowed = { decNm: number; raNm: number } | { sumNm: number };

function* subsets(n: number, size: number, from = 0): Generator<number[]> {
  if (size === 0) {
    yield [];
    return;
  }
  for (let i = from; i <= n - size; i++) for (const rest of subsets(n, size - 1, i + 1)) yield [i, ...rest];
}

const torque = (s: Arrangement) => s.decTorqueNm + s.raTorqueNm;
const FEASIBLE_KEYS = [
  (s: Arrangement) => s.interventions,
  (s: Arrangement) => s.addedKg,
  (s: Arrangement) => Math.abs(s.turnDeg),
  (s: Arrangement) => -s.turnDeg,
  torque,
];
const NEAREST_KEYS = [torque, ...FEASIBLE_KEYS.slice(0, 4)];
const better = (a: Arrangement, b: Arrangement, keys: typeof FEASIBLE_KEYS): boolean => {
  for (const key of keys) {
    const d = key(a) - key(b);
    if (Math.abs(d) > 1e-7) return d < 0;
  }
  return false;
};

/**
 * Looks through moved parts, turns in the rings, trims and sets of weights by rising number of interventions; slide and
 * shaft follow in closed form, trims of any mass by a linear program. The first level that has a feasible arrangement holds
 * the answer; if none has, the arrangement with the least sum of both torques is returned.
 */
export class BalanceSearch {
  private readonly tube: TubeMoments;
  private readonly slide: Slide;
  private readonly shaftMoment: number;
  private readonly wantedX: number;
  private readonly raPerMoment: number;
  private readonly currentKg: number;
  private readonly moves: MoveOption[][];
  private readonly weights: WeightOption[][];
  private readonly stockTrims: TrimOption[][];
  private readonly free: boolean;
  private readonly maxTrims: number;
  private programs = 0;
  private compared = 0;
  private capped: boolean;
  /** Whether a move can be allowed at all, with every point and the best of all weights. */
  private hopeful = new Map<MoveOption, boolean>();

  private readonly input: SolveInput;
  constructor(input: SolveInput) {
    this.input = input;
    const { m, x, y, z } = tubeSide(input.masses);
    this.tube = { m, x, y, z };
    this.slide = input.slide;
    this.shaftMoment = shaftSide([], input.shaft ?? { massKg: 0, centreMm: 0 });
    this.raPerMoment = (STANDARD_GRAVITY * Math.cos((Math.abs(input.latitudeDeg) * Math.PI) / 180)) / 1000;
    this.wantedX = input.biasNm === 0 ? 0 : input.biasNm / this.raPerMoment;
    this.currentKg = input.counterweights.reduce((s, w) => s + w.massKg, 0);
    const moves = moveOptions(input);
    const weights = weightOptions(input);
    const kg = weights.groups.flatMap((g) => (g ?? []).map((w) => w.totalKg));
    const [least, most] = kg.reduce(([a, b], m) => [Math.min(a, m), Math.max(b, m)], [Infinity, -Infinity]);
    this.anySpan = { low: this.spanOf({ totalKg: least }).low, high: this.spanOf({ totalKg: most }).high };
    this.free = input.trimStockKg.length === 0;
    const stock = this.free ? { groups: [], capped: false } : trimStockOptions(input);
    [this.moves, this.weights, this.stockTrims] = [moves.groups, weights.groups, stock.groups];
    this.capped = moves.capped || weights.capped || stock.capped;
    this.maxTrims = this.free ? input.trimPoints.length : this.stockTrims.length - 1;
  }

  run(): SearchResult {
    const found = this.fewest({ decNm: FEASIBLE_NM, raNm: FEASIBLE_NM });
    if (found) return { best: found[0]!, feasible: true, alternatives: found.slice(1, 6), capped: this.capped };
    return this.leastTorque();
  }

  /** Allowed arrangements of the first level that has any, best first, and some of the next. */
  private fewest(allowed: Allowed): Arrangement[] | null {
    this.hopeful = new Map();
    const levels = this.moves.length - 1 + this.maxTrims + this.weights.length - 1;
    const sorted = (list: Arrangement[]) =>
      list.sort((a, b) => (better(a, b, FEASIBLE_KEYS) ? -1 : better(b, a, FEASIBLE_KEYS) ? 1 : 0));
    for (let level = 0; level <= levels; level++) {
      const found = this.atLevel(level, allowed);
      if (!found.length) continue;
      const next = this.small(level + 1) ? this.atLevel(level + 1, allowed) : [];
      return [...sorted(found), ...sorted(next)];
    }
    return null;
  }

  /** Whether a level is cheap enough to be listed for alternatives only. */
  private small(level: number): boolean {
    return this.moves.slice(0, level + 1).reduce((s, g) => s + (g?.length ?? 0), 0) <= 300;
  }

  /** Best allowed arrangement of every move, set of points and number of weight changes at one level. */
  private atLevel(level: number, allowed: Allowed): Arrangement[] {
    const bySignature = new Map<string, Arrangement>();
    for (let r = 0; r < this.moves.length && r <= level; r++)
      for (const move of this.moves[r] ?? []) {
        if (!this.mayDo(move, allowed)) continue;
        for (let t = 0; t <= this.maxTrims && r + t <= level; t++) {
          const options = this.weights[level - r - t];
          if (!options?.length) continue;
          for (const a of this.trimmedWith(move, t, options, level, allowed)) {
            const key = `${a.turnDeg}|${a.moves.map((m) => `${m.mass}>${m.to}`).join()}|${a.trims.map((x) => x.point).join()}|${a.pieces.join()}`;
            const old = bySignature.get(key);
            if (!old || better(a, old, FEASIBLE_KEYS)) bySignature.set(key, a);
          }
        }
      }
    return [...bySignature.values()];
  }

  /** Arrangements with one move and t points in use, the lightest weights for each. */
  private *trimmedWith(
    move: MoveOption,
    t: number,
    options: readonly WeightOption[],
    level: number,
    allowed: Allowed,
  ): Generator<Arrangement> {
    const decLimit = limitsOf(allowed).decNm / STANDARD_GRAVITY;
    if (t === 0 || !this.free) {
      for (const s of this.fixedStates(move, t, 1000 * decLimit)) {
        const a = this.lightest(s, options, level, allowed);
        if (a) yield a;
      }
      return;
    }
    for (const set of subsets(this.input.trimPoints.length, t)) {
      if (this.programs > MOST_PROGRAMS) {
        this.capped = true;
        return;
      }
      const a = this.freelyTrimmed(move, set, options, level, allowed);
      if (a) yield a;
    }
  }

  private moved(move: MoveOption): TubeMoments {
    const { m, x, y, z } = this.tube;
    return { m, x: x + move.dx, y: y + move.dy, z: z + move.dz };
  }

  private state(move: MoveOption, trims: TubeState['trims']): TubeState {
    const s: TubeState = { move, trims, trimKg: 0, ...this.moved(move) };
    for (const t of trims) {
      const p = this.input.trimPoints[t.point]!;
      s.trimKg += t.massKg;
      s.m += t.massKg;
      s.x += t.massKg * p.xMm;
      s.y += t.massKg * p.yMm;
      s.z += t.massKg * p.zMm;
    }
    return s;
  }

  /** States without trims, or with fixed pieces on t points, whose sideways moment comes within the limit [kg·mm]. */
  private *fixedStates(move: MoveOption, t: number, limit: number): Generator<TubeState> {
    if (t === 0) {
      yield this.state(move, []);
      return;
    }
    const group = this.stockTrims[t] ?? [];
    const y = this.tube.y + move.dy;
    for (let i = lowerBound(group, (o) => o.dy, -y - limit); i < group.length && group[i]!.dy <= -y + limit; i++) {
      if (++this.compared > MOST_COMPARED) {
        this.capped = true;
        return;
      }
      yield this.state(move, group[i]!.trims);
    }
  }

  /** Moments that one set of weights can take up, as x of the tube side [kg·mm]; at a pole any. */
  private spanOf(w: { totalKg: number }, widerBy = 0): Span {
    if (this.raPerMoment < 1e-12) return { low: -Infinity, high: Infinity };
    const { min, max } = this.input.shaftRangeMm;
    const about = this.shaftMoment + this.wantedX;
    return { low: about + w.totalKg * min - widerBy, high: about + w.totalKg * max + widerBy };
  }
  /** The same from the least of all sets of weights to the most. */
  private readonly anySpan: Span;

  /** A move is left when not even every point together, with weights of any mass between the least and the most, allows it. */
  private mayDo(move: MoveOption, allowed: Allowed): boolean {
    if (!this.free) return true;
    let may = this.hopeful.get(move);
    if (may === undefined) {
      // not looked at is not “cannot”: the answer says that it was cut short
      if (this.programs > MOST_PROGRAMS) {
        this.capped = true;
        return false;
      }
      may =
        this.boundNm(move) <= limitsOf(allowed).sumNm + SAME_TORQUE_NM &&
        this.nearest(move, this.points(), this.anySpan, allowed, MASS) !== null;
      this.hopeful.set(move, may);
    }
    return may;
  }

  /** Least sum of torques by what each moment alone can be brought to: never above the truth. */
  private boundNm(move: MoveOption): number {
    const reach = { y: [0, 0], front: 0, back: 0, x: [0, 0] };
    for (const p of this.input.trimPoints) {
      const [y, x] = [p.maxMassKg * p.yMm, p.maxMassKg * p.xMm];
      reach.y = [reach.y[0]! + Math.min(0, y), reach.y[1]! + Math.max(0, y)];
      reach.x = [reach.x[0]! + Math.min(0, x), reach.x[1]! + Math.max(0, x)];
      reach.front += Math.min(0, p.maxMassKg * (p.zMm + this.slide.minMm));
      reach.back += Math.max(0, p.maxMassKg * (p.zMm + this.slide.maxMm));
    }
    const s = this.moved(move);
    const from = (low: number, high: number) => Math.max(0, low, -high);
    const y = from(s.y + reach.y[0]!, s.y + reach.y[1]!);
    const z = from(s.z + s.m * this.slide.minMm + reach.front, s.z + s.m * this.slide.maxMm + reach.back);
    const span = this.anySpan;
    const x = Math.max(0, s.x + reach.x[0]! - span.high, span.low - s.x - reach.x[1]!);
    return (STANDARD_GRAVITY * Math.hypot(y, z)) / 1000 + (this.raPerMoment < 1e-12 ? 0 : this.raPerMoment * x);
  }

  private readonly points = (set?: readonly number[]): TrimPoint[] =>
    set ? set.map((i) => this.input.trimPoints[i]!) : this.input.trimPoints;

  /** Masses on points that keep what is allowed, with the least of what is weighed. */
  private nearest(move: MoveOption, points: readonly TrimPoint[], span: Span, allowed: Allowed, weigh: Weigh) {
    this.programs++;
    const most =
      'sumNm' in allowed
        ? { sum: { dec: STANDARD_GRAVITY / 1000, ra: this.raPerMoment, most: allowed.sumNm } }
        : { dec: (1000 * allowed.decNm) / STANDARD_GRAVITY, ra: allowed.raNm / Math.max(this.raPerMoment, 1e-12) };
    const scaled = { dec: (weigh.dec * STANDARD_GRAVITY) / 1000, ra: weigh.ra * this.raPerMoment, mass: weigh.mass };
    return nearestTrim(points, this.moved(move), this.slide, span, { weigh: scaled, most });
  }

  /** One move and one set of points, each with something on it: the least mass, trims and weights together. */
  private freelyTrimmed(
    move: MoveOption,
    set: readonly number[],
    options: readonly WeightOption[],
    level: number,
    allowed: Allowed,
  ): Arrangement | null {
    const points = this.points(set);
    const tube = this.moved(move);
    const trim = (span: Span | null, wanted?: 'least-x' | 'greatest-x') => {
      this.programs++;
      return exactTrim(points, tube, this.slide, span, wanted);
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
        const span = this.spanOf(w);
        if (x >= span.low - 1e-9 && x <= span.high + 1e-9) take(lightest, w);
        else {
          ends ??= [xOf(trim(null, 'least-x') ?? lightest), xOf(trim(null, 'greatest-x') ?? lightest)];
          if (ends[1] >= span.low && ends[0] <= span.high) take(trim(span), w);
        }
      }
      // nothing takes up all of it: what is left about right ascension may be allowed
      const slack = limitsOf(allowed).raNm / Math.max(this.raPerMoment, 1e-12);
      if (!best && ends)
        for (const w of options) {
          const span = this.spanOf(w);
          const miss = Math.max(span.low - ends[1], ends[0] - span.high, 0);
          if (miss > slack * (1 - 1e-9) || w.totalKg + kg >= bestKg() - 1e-9) continue;
          take(trim(this.spanOf(w, miss + 1e-7)), w);
        }
    }
    if (!best) {
      const within = this.nearest(move, points, this.anySpan, allowed, MASS);
      if (!within) return null;
      for (const w of options) {
        if (kgOf(within.masses) + w.totalKg >= bestKg() - 1e-9) break;
        const near = this.nearestWith(move, points, this.spanOf(w), allowed);
        if (near) take(near, w);
      }
    }
    const got = best as { masses: readonly number[]; w: WeightOption } | null;
    // an empty point: a smaller set does the same with one intervention less
    if (!got || got.masses.some((m) => m < NO_TRIM_KG)) return null;
    const s = this.state(
      move,
      set.map((point, i) => ({ point, massKg: got.masses[i]! })),
    );
    return this.arrange(s, got.w, level);
  }

  /** What is allowed, as little left as may be, and then as light as may be. */
  private nearestWith(move: MoveOption, points: readonly TrimPoint[], span: Span, allowed: Allowed): number[] | null {
    if ('sumNm' in allowed) return this.nearest(move, points, span, allowed, MASS)?.masses ?? null;
    const first = this.nearest(move, points, span, allowed, { dec: 1, ra: 1, mass: 0 });
    if (!first) return null;
    const left = leftOver(points, this.moved(move), this.slide, span, first.masses);
    const sumNm = (STANDARD_GRAVITY * left.dec) / 1000 + this.raPerMoment * left.ra + SAME_TORQUE_NM;
    const lean = this.nearest(move, points, span, { sumNm }, MASS)?.masses;
    const kept = lean && leftOver(points, this.moved(move), this.slide, span, lean);
    const fine =
      kept && (STANDARD_GRAVITY * kept.dec) / 1000 < allowed.decNm && this.raPerMoment * kept.ra < allowed.raNm;
    return fine ? lean : first.masses;
  }

  /** Lightest set of weights that leaves no more than is allowed. Options rise in mass. */
  private lightest(
    s: TubeState,
    options: readonly WeightOption[],
    level: number,
    allowed: Allowed,
  ): Arrangement | null {
    const decNm = (STANDARD_GRAVITY * Math.hypot(s.y, beyondSlide(s.m, s.z, this.slide))) / 1000;
    const raNm = 'sumNm' in allowed ? allowed.sumNm - decNm : decNm < allowed.decNm ? allowed.raNm * (1 - 1e-9) : -1;
    if (raNm < 0) return null;
    if (this.raPerMoment < 1e-12) return options[0] ? this.arrange(s, options[0], level) : null;
    const { min, max } = this.input.shaftRangeMm;
    const target = s.x - this.shaftMoment - this.wantedX;
    const slack = raNm / this.raPerMoment;
    const w = options[lowerBound(options, (o) => o.totalKg * max, target - slack)];
    return w && w.totalKg * min <= target + slack ? this.arrange(s, w, level) : null;
  }

  private arrange(s: TubeState, w: WeightOption, interventions: number): Arrangement {
    const { shaftRangeMm } = this.input;
    const target = s.x - this.shaftMoment - this.wantedX;
    const held = Math.min(shaftRangeMm.max, Math.max(shaftRangeMm.min, w.totalKg > 0 ? target / w.totalKg : 0));
    const slideMm = bestSlide(s.m, s.z, this.slide);
    const x = s.x - this.shaftMoment - w.totalKg * held;
    const z = s.z + s.m * slideMm;
    return {
      moves: s.move.moves,
      turnDeg: s.move.turnDeg,
      trims: s.trims,
      pieces: w.pieces,
      distanceMm: held,
      slideMm,
      left: { x, y: s.y, z },
      decTorqueNm: (STANDARD_GRAVITY * Math.hypot(s.y, z)) / 1000,
      raTorqueNm: this.raPerMoment * Math.abs(x - this.wantedX),
      interventions,
      addedKg: s.trimKg + w.totalKg - this.currentKg,
    };
  }

  /** Least sum of both torques over everything, when nothing is feasible. */
  private leastTorque(): SearchResult {
    const all = this.weights
      .flatMap((g, c) => (g ?? []).map((w) => ({ w, c })))
      .sort((a, b) => a.w.totalKg - b.w.totalKg || a.c - b.c);
    const ways = this.moves.flatMap((g, r) =>
      (g ?? []).map((move) => ({ move, r, bound: this.free ? this.boundNm(move) : 0 })),
    );
    ways.sort((a, b) => a.bound - b.bound || a.r - b.r);
    let best = undefined as Arrangement | undefined;
    const others: Arrangement[] = [];
    const consider = (a: Arrangement) => {
      if (best && !better(a, best, NEAREST_KEYS)) return;
      if (best) others.unshift(best);
      best = a;
    };
    const most = this.free ? 0 : this.maxTrims;
    [this.compared, this.programs] = [0, 0];
    for (const { move, r, bound } of ways) {
      if (best && bound > torque(best) + SAME_TORQUE_NM) break;
      for (let t = 0; t <= most; t++) {
        const limit: number = best ? (1000 * torque(best)) / STANDARD_GRAVITY : Infinity;
        for (const s of this.fixedStates(move, t, limit))
          for (const { w, c } of this.neighbours(all, s.x)) consider(this.arrange(s, w, r + t + c));
      }
      if (!this.free || !this.input.trimPoints.length) continue;
      if (this.programs > MOST_PROGRAMS) {
        this.capped = true;
        break;
      }
      this.considerFree(move, r, all, best ? torque(best) : Infinity, consider);
    }
    const least = torque(best!);
    // of all that leave as little, the one with the fewest interventions and the least mass
    if (this.free && this.input.trimPoints.length) {
      const same = this.fewest({ sumNm: least + SAME_TORQUE_NM });
      for (const a of same?.slice(0, 1) ?? []) consider(a);
    }
    return { best: best!, feasible: false, alternatives: others.slice(0, 3), capped: this.capped };
  }

  /** Sets of weights on either side of a moment: with the others more would be left. */
  private neighbours<W extends { w: WeightOption }>(all: readonly W[], x: number): W[] {
    const i = lowerBound(all, ({ w }) => this.spanOf(w).high, x);
    const at = [all[i - 1], all[i]].filter((w): w is W => w !== undefined);
    // equal masses with fewer changes stand before
    return at.map((a) => all[lowerBound(all, (b) => b.w.totalKg, a.w.totalKg - 1e-9)]!);
  }

  /** Every point may carry something: as little torque as can be. The best weights stand beside where any weights would lead. */
  private considerFree(
    move: MoveOption,
    r: number,
    all: readonly { w: WeightOption; c: number }[],
    beatNm: number,
    consider: (a: Arrangement) => void,
  ): void {
    const free = this.nearest(
      move,
      this.points(),
      this.anySpan,
      { sumNm: Math.min(beatNm + SAME_TORQUE_NM, 1e9) },
      BOTH,
    );
    if (!free) return;
    const x = this.tube.x + move.dx + this.points().reduce((s, p, i) => s + free.masses[i]! * p.xMm, 0);
    for (const { w, c } of this.neighbours(all, x)) {
      const got = this.nearest(move, this.points(), this.spanOf(w), { sumNm: 1e9 }, BOTH);
      if (!got) continue;
      const trims = got.masses.flatMap((massKg, point) => (massKg >= NO_TRIM_KG ? [{ point, massKg }] : []));
      consider(this.arrange(this.state(move, trims), w, r + trims.length + c));
    }
  }
}

interface Weigh {
  dec: number;
  ra: number;
  mass: number;
}
const MASS: Weigh = { dec: 0, ra: 0, mass: 1 };
const BOTH: Weigh = { dec: 1, ra: 1, mass: 0 };

/** The same allowance as the most on either axis, and in all [N·m]. */
function limitsOf(a: Allowed): { decNm: number; raNm: number; sumNm: number } {
  if ('sumNm' in a) return { decNm: a.sumNm, raNm: a.sumNm, sumNm: a.sumNm };
  return { ...a, sumNm: a.decNm + a.raNm };
}
