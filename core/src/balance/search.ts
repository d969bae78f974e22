import { lowerBound } from '../statistics/index.ts';
import { shaftSide, tubeSide } from './assess.ts';
import { beyondSlide, bestSlide, convexMinimum, freeTrim } from './freeTrim.ts';
import {
  relocationOptions,
  trimStockOptions,
  weightOptions,
  type RelocationOption,
  type WeightOption,
} from './options.ts';
import { STANDARD_GRAVITY, type SolveInput, type TrimPoint } from './schemas.ts';

/** Residual torque below which an axis counts as balanced [N·m]; common practice, no source. */
export const FEASIBLE_NM = 0.05;
/** Most trim sets worked out by general descent; beyond it the search says that it was cut short. */
const DESCENT_BUDGET = 400;
/** Most arrangements compared when nothing is feasible. */
const COMPARE_BUDGET = 1_500_000;

export interface Arrangement {
  moves: { mass: string; to: string }[];
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

/** Tube side after relocations and trims, before slide and shaft. */
interface TubeState {
  move: RelocationOption;
  trims: { point: number; massKg: number }[];
  trimKg: number;
  m: number;
  x: number;
  y: number;
  z: number;
  decMoment: number;
}

export interface SearchResult {
  best: Arrangement;
  feasible: boolean;
  alternatives: Arrangement[];
  capped: boolean;
}

function* subsets(n: number, size: number, from = 0): Generator<number[]> {
  if (size === 0) {
    yield [];
    return;
  }
  for (let i = from; i <= n - size; i++) for (const rest of subsets(n, size - 1, i + 1)) yield [i, ...rest];
}

const better = (a: Arrangement, b: Arrangement, feasible: boolean): boolean => {
  const torque = (s: Arrangement) => s.decTorqueNm + s.raTorqueNm;
  const keys: ((s: Arrangement) => number)[] = feasible
    ? [(s) => s.interventions, (s) => s.addedKg, torque]
    : [torque, (s) => s.interventions, (s) => s.addedKg];
  for (const key of keys) {
    const d = key(a) - key(b);
    if (Math.abs(d) > 1e-7) return d < 0;
  }
  return false;
};

/**
 * Looks through relocations × trims × sets of weights by rising number of interventions. For each, slide and shaft
 * follow in closed form. The first level that has a feasible arrangement holds the answer; if no level has one, the
 * arrangement with the least sum of both torques is returned.
 */
export class BalanceSearch {
  private readonly tube;
  private readonly shaftMoment: number;
  private readonly wantedX: number;
  private readonly raPerMoment: number;
  private readonly currentKg: number;
  private readonly relocations;
  private readonly weights: WeightOption[][];
  private readonly stockTrims;
  private readonly free: boolean;
  private readonly maxTrims: number;
  private descents = 0;
  private capped = false;
  private readonly balanced = new Map<string, TubeState[]>();

  private readonly input: SolveInput;
  constructor(input: SolveInput) {
    this.input = input;
    this.tube = tubeSide(input.masses);
    this.shaftMoment = shaftSide([], input.shaft ?? { massKg: 0, centreMm: 0 });
    this.raPerMoment = (STANDARD_GRAVITY * Math.cos((Math.abs(input.latitudeDeg) * Math.PI) / 180)) / 1000;
    this.wantedX = input.biasNm === 0 ? 0 : input.biasNm / this.raPerMoment;
    this.currentKg = input.counterweights.reduce((s, w) => s + w.massKg, 0);
    this.relocations = relocationOptions(input);
    this.weights = weightOptions(input);
    this.free = input.trimStockKg.length === 0;
    const stock = this.free ? { groups: [], capped: false } : trimStockOptions(input);
    this.stockTrims = stock.groups;
    this.capped = stock.capped;
    this.maxTrims = this.free ? input.trimPoints.length : this.stockTrims.length - 1;
  }

  run(): SearchResult {
    const levels = this.relocations.length - 1 + this.maxTrims + this.weights.length - 1;
    for (let level = 0; level <= levels; level++) {
      const found = this.feasibleAt(level);
      if (found.length) {
        found.sort((a, b) => (better(a, b, true) ? -1 : better(b, a, true) ? 1 : 0));
        const next = this.small(level + 1) ? this.feasibleAt(level + 1) : [];
        next.sort((a, b) => (better(a, b, true) ? -1 : 1));
        return {
          best: found[0]!,
          feasible: true,
          alternatives: [...found.slice(1), ...next].slice(0, 5),
          capped: this.capped,
        };
      }
    }
    return this.leastTorque();
  }

  /** Whether a level is cheap enough to be listed for alternatives only. */
  private small(level: number): boolean {
    return this.relocations.slice(0, level + 1).reduce((s, g) => s + g.length, 0) <= 300;
  }

  /** Best feasible arrangement of every tube state and number of weight changes at one level, one per way of doing it. */
  private feasibleAt(level: number): Arrangement[] {
    const bySignature = new Map<string, Arrangement>();
    for (let r = 0; r < this.relocations.length && r <= level; r++) {
      for (let t = 0; t <= this.maxTrims && r + t <= level; t++) {
        const options = this.weights[level - r - t];
        if (!options?.length) continue;
        for (const state of this.balancedStates(r, t)) {
          const a = this.withWeights(state, options, level, true);
          if (!a) continue;
          const key = `${a.moves.map((m) => `${m.mass}>${m.to}`).join()}|${a.trims.map((x) => x.point).join()}|${a.pieces.join()}`;
          const old = bySignature.get(key);
          if (!old || better(a, old, true)) bySignature.set(key, a);
        }
      }
    }
    return [...bySignature.values()];
  }

  private state(move: RelocationOption, trims: TubeState['trims']): TubeState {
    const { tube, input } = this;
    const s = {
      move,
      trims,
      trimKg: 0,
      m: tube.m,
      x: tube.x + move.dx,
      y: tube.y + move.dy,
      z: tube.z + move.dz,
      decMoment: 0,
    };
    for (const t of trims) {
      const p = input.trimPoints[t.point]!;
      s.trimKg += t.massKg;
      s.m += t.massKg;
      s.x += t.massKg * p.xMm;
      s.y += t.massKg * p.yMm;
      s.z += t.massKg * p.zMm;
    }
    s.decMoment = Math.hypot(s.y, beyondSlide(s.m, s.z, input.slide.minMm, input.slide.maxMm));
    return s;
  }

  /** States with r masses moved and t points used whose declination axis can be balanced. */
  private balancedStates(r: number, t: number): TubeState[] {
    const key = `${r}/${t}`;
    let list = this.balanced.get(key);
    if (!list) {
      const limit = (FEASIBLE_NM * 1000) / STANDARD_GRAVITY;
      list = [];
      for (const move of this.relocations[r]!)
        for (const s of this.trimmed(move, t, limit)) if (s.decMoment < limit) list.push(s);
      this.balanced.set(key, list);
    }
    return list;
  }

  /** Trimmed states; with fixed pieces only those whose sideways moment comes within the limit. */
  private *trimmed(move: RelocationOption, t: number, limit: number): Generator<TubeState> {
    if (t === 0) {
      yield this.state(move, []);
      return;
    }
    if (!this.free) {
      const group = this.stockTrims[t] ?? [];
      const y = this.tube.y + move.dy;
      for (let i = lowerBound(group, (o) => o.dy, -y - limit); i < group.length && group[i]!.dy <= -y + limit; i++)
        yield this.state(move, group[i]!.trims);
      return;
    }
    const { trimPoints, slide } = this.input;
    const dec = {
      m: this.tube.m,
      y: this.tube.y + move.dy,
      z: this.tube.z + move.dz,
      slideMin: slide.minMm,
      slideMax: slide.maxMm,
    };
    for (const set of subsets(trimPoints.length, t)) {
      if (t >= 3 && ++this.descents > DESCENT_BUDGET) {
        this.capped = true;
        return;
      }
      const points: TrimPoint[] = set.map((i) => trimPoints[i]!);
      const masses = freeTrim(dec, points);
      if (masses)
        yield this.state(
          move,
          set.map((point, i) => ({ point, massKg: masses[i]! })),
        );
      if (t === 1) yield* this.trimmedForRa(move, set[0]!);
    }
  }

  /** One free trim hung to help right ascension, where weights alone fall short. */
  private *trimmedForRa(move: RelocationOption, point: number): Generator<TubeState> {
    const p = this.input.trimPoints[point]!;
    const target = this.tube.x + move.dx - this.shaftMoment - this.wantedX;
    const heaviest = Math.max(...this.weights.flat().map((w) => w.totalKg));
    const short = target - heaviest * this.input.shaftRangeMm.max;
    const over = this.weights.flat().some((w) => w.totalKg * this.input.shaftRangeMm.min <= target) ? 0 : target;
    if (!((short > 0 && p.xMm < 0) || (over < 0 && p.xMm > 0))) return;
    const cost = (m: number) => {
      const s = this.state(move, [{ point, massKg: m }]);
      const gap = Math.max(0, s.x - this.shaftMoment - this.wantedX - heaviest * this.input.shaftRangeMm.max);
      const under = Math.max(0, -(s.x - this.shaftMoment - this.wantedX));
      return (STANDARD_GRAVITY / 1000) * s.decMoment + this.raPerMoment * (gap + under);
    };
    const massKg = convexMinimum(cost, 0, p.maxMassKg, 1e-6);
    if (massKg > 1e-6) yield this.state(move, [{ point, massKg }]);
  }

  /** Lightest (or, when not required to be feasible, nearest) set of weights for a state. Options rise in mass. */
  private withWeights(
    s: TubeState,
    options: readonly WeightOption[],
    interventions: number,
    feasibleOnly: boolean,
  ): Arrangement | null {
    const { min, max } = this.input.shaftRangeMm;
    const target = s.x - this.shaftMoment - this.wantedX;
    const slack = this.raPerMoment > 1e-12 ? (FEASIBLE_NM / this.raPerMoment) * (1 - 1e-9) : Infinity;
    if (feasibleOnly) {
      const i = slack === Infinity ? 0 : lowerBound(options, (w) => w.totalKg * max, target - slack);
      const w = options[i];
      return w && w.totalKg * min <= target + slack ? this.arrange(s, w, interventions) : null;
    }
    const i = lowerBound(options, (w) => w.totalKg * max, target);
    const near = [options[i - 1], options[i]].flatMap((w) => (w ? [this.arrange(s, w, interventions)] : []));
    return near.reduce<Arrangement | null>((b, a) => (!b || better(a, b, false) ? a : b), null);
  }

  private arrange(s: TubeState, w: WeightOption, interventions: number): Arrangement {
    const { slide, shaftRangeMm } = this.input;
    const target = s.x - this.shaftMoment - this.wantedX;
    const held = Math.min(shaftRangeMm.max, Math.max(shaftRangeMm.min, w.totalKg > 0 ? target / w.totalKg : 0));
    const slideMm = bestSlide(s.m, s.z, slide.minMm, slide.maxMm);
    const x = s.x - this.shaftMoment - w.totalKg * held;
    const z = s.z + s.m * slideMm;
    return {
      moves: s.move.moves,
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
    let best = undefined as Arrangement | undefined;
    let compared = 0;
    const others: Arrangement[] = [];
    for (let r = 0; r < this.relocations.length; r++) {
      for (let t = 0; t <= Math.min(this.maxTrims, this.free ? 2 : this.maxTrims); t++) {
        for (const move of this.relocations[r]!) {
          const limit: number = best ? ((best.decTorqueNm + best.raTorqueNm) * 1000) / STANDARD_GRAVITY : Infinity;
          for (const s of this.trimmed(move, t, limit)) {
            if (best && (s.decMoment * STANDARD_GRAVITY) / 1000 > best.decTorqueNm + best.raTorqueNm + 1e-7) continue;
            this.weights.forEach((options, c) => {
              if (++compared > COMPARE_BUDGET) return;
              const a = this.withWeights(s, options, r + t + c, false);
              if (!a || (best && !better(a, best, false))) return;
              if (best) others.unshift(best);
              best = a;
            });
          }
        }
      }
    }
    if (compared > COMPARE_BUDGET) this.capped = true;
    return { best: best!, feasible: false, alternatives: others.slice(0, 3), capped: this.capped };
  }
}
