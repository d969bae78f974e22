import { lowerBound } from '../statistics/index.ts';
import type { Balancing, TubeState } from './arrangement.ts';
import type { MoveOption, TrimOption } from './options.ts';

/** Most linear programs solved, and most arrangements compared, in one search; beyond, it says that it was cut short. */
const MOST_PROGRAMS = 30_000;
const MOST_COMPARED = 1_500_000;

/** What a search has done so far, and whether it left something out. */
export class Effort {
  programs = 0;
  compared = 0;
  capped: boolean;
  constructor(capped: boolean) {
    this.capped = capped;
  }
  /** @returns whether no more linear programs may be solved; the answer then says that it was cut short */
  spent(): boolean {
    if (this.programs <= MOST_PROGRAMS) return false;
    this.capped = true;
    return true;
  }
  /** One arrangement more. @returns whether it was one too many */
  overCompared(): boolean {
    if (++this.compared <= MOST_COMPARED) return false;
    this.capped = true;
    return true;
  }
}

/** States without trims, or with fixed pieces on t points, whose sideways moment comes within the limit [kg·mm]. */
export function* fixedStates(
  balancing: Balancing,
  stockTrims: readonly TrimOption[][],
  effort: Effort,
  move: MoveOption,
  t: number,
  limit: number,
): Generator<TubeState> {
  if (t === 0) {
    yield balancing.state(move, []);
    return;
  }
  const group = stockTrims[t] ?? [];
  const y = balancing.tube.y + move.dy;
  for (let i = lowerBound(group, (o) => o.dy, -y - limit); i < group.length && group[i]!.dy <= -y + limit; i++) {
    if (effort.overCompared()) return;
    yield balancing.state(move, group[i]!.trims);
  }
}
