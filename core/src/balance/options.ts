import type { RingTurn, SolveInput } from './schemas.ts';

/** The discrete choices the solver combines: which masses move, which weights are on the shaft, which trims hang. */

/** Shift of the tube side's moments [kg·mm] by moving masses and turning the tube in its rings. */
export interface MoveOption {
  dx: number;
  dy: number;
  dz: number;
  moves: { mass: string; to: string }[];
  turnDeg: number;
}

/** One set of weights on the shaft. */
export interface WeightOption {
  totalKg: number;
  /** Pieces, heaviest first [kg]. */
  pieces: number[];
}

/** Pieces hung on trim points, for a stock of fixed pieces. */
export interface TrimOption {
  dx: number;
  dy: number;
  dz: number;
  massKg: number;
  trims: { point: number; massKg: number }[];
}

/** Turns of the tube that may be tried, without none: multiples of the step, small ones first, the positive before the negative. */
export function turnsOf(t: RingTurn | undefined): number[] {
  if (!t) return [];
  const turns: number[] = [];
  for (let k = Math.ceil(t.minDeg / t.stepDeg - 1e-9); k * t.stepDeg <= t.maxDeg + 1e-9; k++)
    if (k !== 0 && k * t.stepDeg > t.minDeg + 1e-9) turns.push(k * t.stepDeg);
  return turns.sort((a, b) => Math.abs(a) - Math.abs(b) || b - a);
}

/** Most ways of moving parts that are listed; ways with more parts than that holds are left out, and the search says so. */
const MOST_MOVES = 40_000;

/**
 * All ways of moving masses and turning the tube, grouped by how many interventions they are: group[r] moves r masses, or
 * turns the tube and moves r − 1. A mass that is moved and turns with the tube turns from its new place.
 */
export function moveOptions(input: SolveInput): { groups: MoveOption[][]; capped: boolean } {
  const turning = new Set(input.ringTurn?.masses ?? []);
  const [ax, ay] = [input.ringTurn?.axisXMm ?? 0, input.ringTurn?.axisYMm ?? 0];
  /** Moments of what turns, about the rings' axis, and of what does not: both add up over masses. */
  const parts = input.relocations.map((r) => ({
    m: input.masses.find((p) => p.name === r.mass)!,
    turns: turning.has(r.mass),
    to: r.to,
  }));
  interface Way {
    dx: number;
    dy: number;
    dz: number;
    u: number;
    v: number;
    moves: MoveOption['moves'];
  }
  let [u0, v0] = [0, 0];
  for (const m of input.masses)
    if (turning.has(m.name)) [u0, v0] = [u0 + m.massKg * (m.xMm - ax), v0 + m.massKg * (m.yMm - ay)];
  const ways: Way[][] = [[{ dx: 0, dy: 0, dz: 0, u: u0, v: v0, moves: [] }]];
  const turns = turnsOf(input.ringTurn);
  const most = Math.floor(MOST_MOVES / (1 + turns.length));
  let [listed, capped] = [1, false];
  // one more part at a time, each after those already moved, so that no set is listed twice
  const last = [[-1]];
  for (let r = 1; r <= parts.length && !capped; r++) {
    const [next, at]: [Way[], number[]] = [[], []];
    grow: for (const [i, base] of ways[r - 1]!.entries())
      for (let k = last[r - 1]![i]! + 1; k < parts.length; k++) {
        const { m, to, turns: along } = parts[k]!;
        for (const p of to) {
          if (++listed > most) {
            capped = true;
            break grow;
          }
          const [dx, dy] = [m.massKg * (p.xMm - m.xMm), m.massKg * (p.yMm - m.yMm)];
          next.push({
            dx: base.dx + dx,
            dy: base.dy + dy,
            dz: base.dz + m.massKg * (p.zMm - m.zMm),
            u: base.u + (along ? dx : 0),
            v: base.v + (along ? dy : 0),
            moves: [...base.moves, { mass: m.name, to: p.name }],
          });
          at.push(k);
        }
      }
    if (!capped && next.length) [ways[r], last[r]] = [next, at];
  }
  const groups: MoveOption[][] = ways.map((g) => g.map(({ dx, dy, dz, moves }) => ({ dx, dy, dz, moves, turnDeg: 0 })));
  for (const turnDeg of turns) {
    const a = (turnDeg * Math.PI) / 180;
    const [c, s] = [Math.cos(a) - 1, Math.sin(a)];
    ways.forEach((g, r) => {
      for (const w of g)
        (groups[r + 1] ??= []).push({
          dx: w.dx + w.u * c - w.v * s,
          dy: w.dy + w.u * s + w.v * c,
          dz: w.dz,
          moves: w.moves,
          turnDeg,
        });
    });
  }
  return { groups, capped };
}

const grams = (kg: number) => Math.round(kg * 1e6);

/** Most sets of weights kept while they are put together; beyond it those with the most changes are left out. */
const MOST_WEIGHT_SETS = 5_000;

/**
 * All sets of weights, grouped by how many pieces are put on or taken off, each group lightest first.
 * Sets of equal mass and equal number of changes are one option.
 */
export function weightOptions(input: SolveInput): { groups: WeightOption[][]; capped: boolean } {
  const current = new Map<number, number>();
  for (const w of input.counterweights) current.set(grams(w.massKg), (current.get(grams(w.massKg)) ?? 0) + 1);
  const given = input.counterweights.map((w) => w.massKg).sort((a, b) => b - a);
  const sum = (v: number[]) => v.reduce((s, x) => s + x, 0);
  if (input.counterweightStock.length === 0)
    return { groups: [[{ totalKg: sum(given), pieces: given }]], capped: false };
  const stock = new Map<number, number>();
  for (const s of input.counterweightStock) stock.set(grams(s.massKg), (stock.get(grams(s.massKg)) ?? 0) + s.count);
  // a weight on the shaft that the stock list forgets is still there
  for (const [mass, n] of current) if (mass > 0) stock.set(mass, Math.max(n, stock.get(mass) ?? 0));
  /** From so many changes on, sets are missing. */
  let fewest = Infinity;
  interface Some {
    changes: number;
    total: number;
    mass: number;
    n: number;
    before: Some | null;
  }
  let partial = new Map<string, Some>([['0/0', { changes: 0, total: 0, mass: 0, n: 0, before: null }]]);
  for (const [mass, count] of [...stock].sort((a, b) => b[0] - a[0])) {
    const next: typeof partial = new Map();
    for (const p of partial.values()) {
      for (let n = 0; n <= count; n++) {
        const changes = p.changes + Math.abs(n - (current.get(mass) ?? 0));
        const total = p.total + n * mass;
        const key = `${changes}/${total}`;
        if (changes < fewest && !next.has(key)) next.set(key, { changes, total, mass, n, before: p });
      }
    }
    partial = next;
    if (partial.size > MOST_WEIGHT_SETS) {
      // changes only grow from kind to kind: what has the most already is what the search would reach last
      const sorted = [...partial].sort((a, b) => a[1].changes - b[1].changes);
      const first = sorted[MOST_WEIGHT_SETS]![1].changes;
      partial = new Map(sorted.filter(([, p]) => p.changes < first));
      fewest = Math.min(fewest, first);
    }
  }
  const piecesOf = (s: Some): number[] =>
    s.before ? [...piecesOf(s.before), ...new Array<number>(s.n).fill(s.mass / 1e6)] : [];
  const groups: WeightOption[][] = [];
  for (const p of partial.values())
    if (p.changes < fewest) (groups[p.changes] ??= []).push({ totalKg: p.total / 1e6, pieces: piecesOf(p) });
  for (let i = 0; i < groups.length; i++) (groups[i] ??= []).sort((a, b) => a.totalKg - b.totalKg);
  return { groups, capped: fewest < Infinity };
}

/** Most piece-to-point assignments listed; beyond it only the fewest points are combined. */
const MAX_TRIM_OPTIONS = 60_000;

/** Trims from fixed pieces, grouped by how many points they use, each group sorted by dy. */
export function trimStockOptions(input: SolveInput): { groups: TrimOption[][]; capped: boolean } {
  const { trimPoints, trimStockKg } = input;
  let all: TrimOption[] = [{ dx: 0, dy: 0, dz: 0, massKg: 0, trims: [] }];
  let capped = false;
  const pieces = [...trimStockKg].sort((a, b) => b - a);
  for (const kg of pieces) {
    const seen = new Map<string, TrimOption>();
    const keep = (o: TrimOption) => {
      const key = o.trims.map((t) => `${t.point}:${grams(t.massKg)}`).join();
      if (!seen.has(key)) seen.set(key, o);
    };
    all.forEach(keep);
    for (const base of all) {
      if (seen.size >= MAX_TRIM_OPTIONS) {
        capped = true;
        break;
      }
      trimPoints.forEach((p, point) => {
        const there = base.trims.find((t) => t.point === point);
        const massKg = (there?.massKg ?? 0) + kg;
        if (massKg > p.maxMassKg + 1e-9) return;
        const trims = [...base.trims.filter((t) => t.point !== point), { point, massKg }].sort(
          (a, b) => a.point - b.point,
        );
        keep({
          dx: base.dx + kg * p.xMm,
          dy: base.dy + kg * p.yMm,
          dz: base.dz + kg * p.zMm,
          massKg: base.massKg + kg,
          trims,
        });
      });
    }
    all = [...seen.values()];
  }
  const groups: TrimOption[][] = [];
  for (const o of all) (groups[o.trims.length] ??= []).push(o);
  for (let i = 0; i < groups.length; i++) (groups[i] ??= []).sort((a, b) => a.dy - b.dy);
  return { groups, capped };
}
