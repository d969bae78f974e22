import { lowerBound } from '../statistics/index.ts';
import {
  Balancing,
  better,
  FEASIBLE_KEYS,
  limitsOf,
  SAME_TORQUE_NM,
  type Allowed,
  type Arrangement,
  type TubeState,
} from './arrangement.ts';
import { Effort, fixedStates } from './effort.ts';
import { FreeTrims, MASS } from './freeTrims.ts';
import { FEASIBLE_NM } from './limits.ts';
import { leastTorque } from './leastTorque.ts';
import { moveOptions, trimStockOptions, type MoveOption, type TrimOption, type WeightOption } from './options.ts';
import { STANDARD_GRAVITY, type SolveInput } from './schemas.ts';
import { beyondSlide } from './trimProgram.ts';

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

/**
 * Looks through moved parts, turns in the rings, trims and sets of weights by rising number of interventions; slide and
 * shaft follow in closed form, trims of any mass by a linear program. The first level that has a feasible arrangement holds
 * the answer; if none has, the arrangement with the least sum of both torques is returned.
 */
export class BalanceSearch {
  private readonly rig: Balancing;
  private readonly moves: MoveOption[][];
  private readonly stockTrims: TrimOption[][];
  private readonly free: boolean;
  private readonly maxTrims: number;
  private readonly effort: Effort;
  private readonly trims: FreeTrims;
  /** Whether a move can be allowed at all, with every point and the best of all weights. */
  private hopeful = new Map<MoveOption, boolean>();

  constructor(input: SolveInput) {
    this.rig = new Balancing(input);
    const moves = moveOptions(input);
    this.free = input.trimStockKg.length === 0;
    const stock = this.free ? { groups: [], capped: false } : trimStockOptions(input);
    [this.moves, this.stockTrims] = [moves.groups, stock.groups];
    this.effort = new Effort(moves.capped || this.rig.cutShort || stock.capped);
    this.trims = new FreeTrims(this.rig, this.effort);
    this.maxTrims = this.free ? input.trimPoints.length : this.stockTrims.length - 1;
  }

  run(): SearchResult {
    const found = this.fewest({ decNm: FEASIBLE_NM, raNm: FEASIBLE_NM });
    if (found) return { best: found[0]!, feasible: true, alternatives: found.slice(1, 6), capped: this.effort.capped };
    const { rig, effort, trims, moves, stockTrims, free, maxTrims } = this;
    const nearest = leastTorque({ rig, effort, trims, moves, stockTrims, free, maxTrims }, (a) => this.fewest(a));
    return { best: nearest.best, feasible: false, alternatives: nearest.others.slice(0, 3), capped: effort.capped };
  }

  /** Allowed arrangements of the first level that has any, best first, and some of the next. */
  private fewest(allowed: Allowed): Arrangement[] | null {
    this.hopeful = new Map();
    const levels = this.moves.length - 1 + this.maxTrims + this.rig.weights.length - 1;
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
          const options = this.rig.weights[level - r - t];
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
      for (const s of fixedStates(this.rig, this.stockTrims, this.effort, move, t, 1000 * decLimit)) {
        const a = this.lightest(s, options, level, allowed);
        if (a) yield a;
      }
      return;
    }
    for (const set of subsets(this.rig.input.trimPoints.length, t)) {
      if (this.effort.spent()) return;
      const a = this.trims.freelyTrimmed(move, set, options, level, allowed);
      if (a) yield a;
    }
  }

  /** A move is left when not even every point together, with weights of any mass between the least and the most, allows it. */
  private mayDo(move: MoveOption, allowed: Allowed): boolean {
    if (!this.free) return true;
    let may = this.hopeful.get(move);
    if (may === undefined) {
      // not looked at is not “cannot”: the answer says that it was cut short
      if (this.effort.spent()) return false;
      may =
        this.rig.boundNm(move) <= limitsOf(allowed).sumNm + SAME_TORQUE_NM &&
        this.trims.nearest(move, this.rig.points(), this.rig.anySpan, allowed, MASS) !== null;
      this.hopeful.set(move, may);
    }
    return may;
  }

  /** Lightest set of weights that leaves no more than is allowed. Options rise in mass. */
  private lightest(
    s: TubeState,
    options: readonly WeightOption[],
    level: number,
    allowed: Allowed,
  ): Arrangement | null {
    const decNm = (STANDARD_GRAVITY * Math.hypot(s.y, beyondSlide(s.m, s.z, this.rig.slide))) / 1000;
    const raNm = 'sumNm' in allowed ? allowed.sumNm - decNm : decNm < allowed.decNm ? allowed.raNm * (1 - 1e-9) : -1;
    if (raNm < 0) return null;
    if (this.rig.raPerMoment < 1e-12) return options[0] ? this.rig.arrange(s, options[0], level) : null;
    const { min, max } = this.rig.input.shaftRangeMm;
    const target = s.x - this.rig.shaftMoment - this.rig.wantedX;
    const slack = raNm / this.rig.raPerMoment;
    const w = options[lowerBound(options, (o) => o.totalKg * max, target - slack)];
    return w && w.totalKg * min <= target + slack ? this.rig.arrange(s, w, level) : null;
  }
}
