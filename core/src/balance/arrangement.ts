import { shaftSide, tubeSide } from './assess.ts';
import { weightOptions, type MoveOption, type WeightOption } from './options.ts';
import { STANDARD_GRAVITY, type SolveInput, type TrimPoint } from './schemas.ts';
import { bestSlide, type Slide, type Span, type TubeMoments } from './trimProgram.ts';

/** Torques this near are one: rounding decides nothing [N·m]. */
export const SAME_TORQUE_NM = 1e-7;

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
export interface TubeState extends TubeMoments {
  move: MoveOption;
  trims: { point: number; massKg: number }[];
  trimKg: number;
}

/** What an arrangement may leave: either axis its torque, or both together. */
export type Allowed = { decNm: number; raNm: number } | { sumNm: number };

/** The same allowance as the most on either axis, and in all [N·m]. */
export function limitsOf(a: Allowed): { decNm: number; raNm: number; sumNm: number } {
  if ('sumNm' in a) return { decNm: a.sumNm, raNm: a.sumNm, sumNm: a.sumNm };
  return { ...a, sumNm: a.decNm + a.raNm };
}

export const torque = (s: Arrangement) => s.decTorqueNm + s.raTorqueNm;
/** What makes one of two feasible arrangements the better, in this order. */
export const FEASIBLE_KEYS = [
  (s: Arrangement) => s.interventions,
  (s: Arrangement) => s.addedKg,
  (s: Arrangement) => Math.abs(s.turnDeg),
  (s: Arrangement) => -s.turnDeg,
  torque,
];
/** The same where none is feasible. */
export const NEAREST_KEYS = [torque, ...FEASIBLE_KEYS.slice(0, 4)];
export const better = (a: Arrangement, b: Arrangement, keys: typeof FEASIBLE_KEYS): boolean => {
  for (const key of keys) {
    const d = key(a) - key(b);
    if (Math.abs(d) > 1e-7) return d < 0;
  }
  return false;
};

/** The rig that is to be balanced, and what any set of moves, trims and weights makes of it. */
export class Balancing {
  readonly tube: TubeMoments;
  readonly slide: Slide;
  readonly raPerMoment: number;
  readonly shaftMoment: number;
  readonly wantedX: number;
  readonly weights: WeightOption[][];
  /** Some sets of weights were left out: there are too many. */
  readonly cutShort: boolean;
  /** Moments that the least to the most of all sets of weights can take up. */
  readonly anySpan: Span;
  private readonly currentKg: number;

  readonly input: SolveInput;
  constructor(input: SolveInput) {
    this.input = input;
    const { m, x, y, z } = tubeSide(input.masses);
    this.tube = { m, x, y, z };
    this.slide = input.slide;
    this.shaftMoment = shaftSide([], input.shaft ?? { massKg: 0, centreMm: 0 });
    this.raPerMoment = (STANDARD_GRAVITY * Math.cos((Math.abs(input.latitudeDeg) * Math.PI) / 180)) / 1000;
    this.wantedX = input.biasNm === 0 ? 0 : input.biasNm / this.raPerMoment;
    this.currentKg = input.counterweights.reduce((s, w) => s + w.massKg, 0);
    const weights = weightOptions(input);
    [this.weights, this.cutShort] = [weights.groups, weights.capped];
    const kg = weights.groups.flatMap((g) => (g ?? []).map((w) => w.totalKg));
    const [least, most] = kg.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
    this.anySpan = { low: this.spanOf({ totalKg: least }).low, high: this.spanOf({ totalKg: most }).high };
  }

  moved(move: MoveOption): TubeMoments {
    const { m, x, y, z } = this.tube;
    return { m, x: x + move.dx, y: y + move.dy, z: z + move.dz };
  }

  state(move: MoveOption, trims: TubeState['trims']): TubeState {
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

  /** Moments that one set of weights can take up, as x of the tube side [kg·mm]; at a pole any. */
  spanOf(w: { totalKg: number }, widerBy = 0): Span {
    if (this.raPerMoment < 1e-12) return { low: -Infinity, high: Infinity };
    const { min, max } = this.input.shaftRangeMm;
    const about = this.shaftMoment + this.wantedX;
    return { low: about + w.totalKg * min - widerBy, high: about + w.totalKg * max + widerBy };
  }
  /** Least sum of torques by what each moment alone can be brought to: never above the truth. */
  boundNm(move: MoveOption): number {
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

  readonly points = (set?: readonly number[]): TrimPoint[] =>
    set ? set.map((i) => this.input.trimPoints[i]!) : this.input.trimPoints;

  arrange(s: TubeState, w: WeightOption, interventions: number): Arrangement {
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
}
