import { lowerBound } from '../statistics/index.ts';
import {
  better,
  NEAREST_KEYS,
  SAME_TORQUE_NM,
  torque,
  type Allowed,
  type Arrangement,
  type Balancing,
} from './arrangement.ts';
import { fixedStates, type Effort } from './effort.ts';
import { BOTH, NO_TRIM_KG, type FreeTrims } from './freeTrims.ts';
import type { MoveOption, TrimOption, WeightOption } from './options.ts';
import { STANDARD_GRAVITY } from './schemas.ts';

/** What is looked through, and how. */
export interface Ways {
  rig: Balancing;
  effort: Effort;
  trims: FreeTrims;
  moves: readonly MoveOption[][];
  stockTrims: readonly TrimOption[][];
  /** Trims may have any mass. */
  free: boolean;
  maxTrims: number;
}

/** Least sum of both torques over everything, when nothing is feasible. */
export function leastTorque(
  ways: Ways,
  fewest: (allowed: Allowed) => Arrangement[] | null,
): { best: Arrangement; others: Arrangement[] } {
  const { rig, effort, free, moves } = ways;
  const all = rig.weights
    .flatMap((g, c) => (g ?? []).map((w) => ({ w, c })))
    .sort((a, b) => a.w.totalKg - b.w.totalKg || a.c - b.c);
  const byBound = moves.flatMap((g, r) => (g ?? []).map((move) => ({ move, r, bound: free ? rig.boundNm(move) : 0 })));
  byBound.sort((a, b) => a.bound - b.bound || a.r - b.r);
  let best = undefined as Arrangement | undefined;
  const others: Arrangement[] = [];
  const consider = (a: Arrangement) => {
    if (best && !better(a, best, NEAREST_KEYS)) return;
    if (best) others.unshift(best);
    best = a;
  };
  const most = free ? 0 : ways.maxTrims;
  [effort.compared, effort.programs] = [0, 0];
  for (const { move, r, bound } of byBound) {
    if (best && bound > torque(best) + SAME_TORQUE_NM) break;
    for (let t = 0; t <= most; t++) {
      const limit: number = best ? (1000 * torque(best)) / STANDARD_GRAVITY : Infinity;
      for (const s of fixedStates(rig, ways.stockTrims, effort, move, t, limit))
        for (const { w, c } of neighbours(rig, all, s.x)) consider(rig.arrange(s, w, r + t + c));
    }
    if (!free || !rig.input.trimPoints.length) continue;
    if (effort.spent()) break;
    considerFree(ways, move, r, all, best ? torque(best) : Infinity, consider);
  }
  const least = torque(best!);
  // of all that leave as little, the one with the fewest interventions and the least mass
  if (free && rig.input.trimPoints.length) {
    const same = fewest({ sumNm: least + SAME_TORQUE_NM });
    for (const a of same?.slice(0, 1) ?? []) consider(a);
  }
  return { best: best!, others };
}

/** Sets of weights on either side of a moment: with the others more would be left. */
function neighbours<W extends { w: WeightOption }>(rig: Balancing, all: readonly W[], x: number): W[] {
  const i = lowerBound(all, ({ w }) => rig.spanOf(w).high, x);
  const at = [all[i - 1], all[i]].filter((w): w is W => w !== undefined);
  // equal masses with fewer changes stand before
  return at.map((a) => all[lowerBound(all, (b) => b.w.totalKg, a.w.totalKg - 1e-9)]!);
}

/** Every point may carry something: as little torque as can be. The best weights stand beside where any weights would lead. */
function considerFree(
  { rig, trims: freeTrims }: Ways,
  move: MoveOption,
  r: number,
  all: readonly { w: WeightOption; c: number }[],
  beatNm: number,
  consider: (a: Arrangement) => void,
): void {
  const free = freeTrims.nearest(
    move,
    rig.points(),
    rig.anySpan,
    { sumNm: Math.min(beatNm + SAME_TORQUE_NM, 1e9) },
    BOTH,
  );
  if (!free) return;
  const x = rig.tube.x + move.dx + rig.points().reduce((s, p, i) => s + free.masses[i]! * p.xMm, 0);
  for (const { w, c } of neighbours(rig, all, x)) {
    const got = freeTrims.nearest(move, rig.points(), rig.spanOf(w), { sumNm: 1e9 }, BOTH);
    if (!got) continue;
    const trims = got.masses.flatMap((massKg, point) => (massKg >= NO_TRIM_KG ? [{ point, massKg }] : []));
    consider(rig.arrange(rig.state(move, trims), w, r + trims.length + c));
  }
}
