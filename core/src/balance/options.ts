import type { SolveInput } from './schemas.ts';

/** The discrete choices the solver combines: which masses move, which weights are on the shaft, which trims hang. */

/** Shift of the tube side's moments [kg·mm] by moving masses. */
export interface RelocationOption {
  dx: number;
  dy: number;
  dz: number;
  moves: { mass: string; to: string }[];
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

/** All relocations, grouped by how many masses they move: group[r] moves r. */
export function relocationOptions(input: SolveInput): RelocationOption[][] {
  const groups: RelocationOption[][] = [[{ dx: 0, dy: 0, dz: 0, moves: [] }]];
  for (const r of input.relocations) {
    const m = input.masses.find((p) => p.name === r.mass)!;
    for (let n = groups.length - 1; n >= 0; n--) {
      for (const base of groups[n]!) {
        for (const place of r.to) {
          (groups[n + 1] ??= []).push({
            dx: base.dx + m.massKg * (place.xMm - m.xMm),
            dy: base.dy + m.massKg * (place.yMm - m.yMm),
            dz: base.dz + m.massKg * (place.zMm - m.zMm),
            moves: [...base.moves, { mass: r.mass, to: place.name }],
          });
        }
      }
    }
  }
  return groups;
}

const grams = (kg: number) => Math.round(kg * 1e6);

/**
 * All sets of weights, grouped by how many pieces are put on or taken off, each group lightest first.
 * Sets of equal mass and equal number of changes are one option.
 */
export function weightOptions(input: SolveInput): WeightOption[][] {
  const current = new Map<number, number>();
  for (const w of input.counterweights) current.set(grams(w.massKg), (current.get(grams(w.massKg)) ?? 0) + 1);
  const given = input.counterweights.map((w) => w.massKg).sort((a, b) => b - a);
  const sum = (v: number[]) => v.reduce((s, x) => s + x, 0);
  if (input.counterweightStock.length === 0) return [[{ totalKg: sum(given), pieces: given }]];
  const stock = new Map<number, number>();
  for (const s of input.counterweightStock) stock.set(grams(s.massKg), (stock.get(grams(s.massKg)) ?? 0) + s.count);
  // a weight on the shaft that the stock list forgets is still there
  for (const [mass, n] of current) if (mass > 0) stock.set(mass, Math.max(n, stock.get(mass) ?? 0));
  let partial = new Map<string, { changes: number; total: number; pieces: number[] }>([
    ['0/0', { changes: 0, total: 0, pieces: [] }],
  ]);
  for (const [mass, count] of [...stock].sort((a, b) => b[0] - a[0])) {
    const next: typeof partial = new Map();
    for (const p of partial.values()) {
      for (let n = 0; n <= count; n++) {
        const changes = p.changes + Math.abs(n - (current.get(mass) ?? 0));
        const total = p.total + n * mass;
        const key = `${changes}/${total}`;
        if (!next.has(key))
          next.set(key, { changes, total, pieces: [...p.pieces, ...new Array<number>(n).fill(mass / 1e6)] });
      }
    }
    partial = next;
  }
  const groups: WeightOption[][] = [];
  for (const p of partial.values()) (groups[p.changes] ??= []).push({ totalKg: p.total / 1e6, pieces: p.pieces });
  for (let i = 0; i < groups.length; i++) (groups[i] ??= []).sort((a, b) => a.totalKg - b.totalKg);
  return groups;
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
