import type { EngineState, Rules } from './engine.ts';
import type { LegRole } from './nightPlan.ts';

/** A leg as the night needs to know it. Times are milliseconds since 1970, UTC. */
export interface LegHours {
  startMs: number;
  endMs: number;
  role: LegRole;
  /** Every quota is reached, or the leg was given up. */
  finished: boolean;
  /** How long its turns are, and how many it has had; null: it is finished before the next main leg begins. */
  turnMs: number | null;
  turns: number;
}

export type Stretch =
  /** In turns, one that has taken frames leaves early when no whole one fits any more. */
  | { do: 'leg'; place: number; untilMs: number; inTurns: boolean }
  /** Nobody can work: until the next leg may begin. */
  | { do: 'wait'; untilMs: number }
  | { do: 'close' };

/** How a leg that has had no turn yet stands. */
export const turnsOf = (turnMin: number | null) => ({ turnMs: turnMin === null ? null : turnMin * 60_000, turns: 0 });

/** A gap shorter than this is not worth slewing and centring for a backup [ms]; common practice, no source. */
export const SHORTEST_BACKUP_MS = 15 * 60_000;

/**
 * Whose turn it is. A fixed leg works from its first minute to its last and cuts short whoever is at work; main legs follow
 * each other as listed, each when its window is open, those with turns in turns; a backup fills a gap that is long enough. The layout of a night and
 * the conductor both ask here.
 */
export function nextStretch(legs: readonly LegHours[], nowMs: number): Stretch {
  const ahead = (l: LegHours) => !l.finished && l.endMs > nowMs;
  const fixed = legs
    .map((leg, place) => ({ leg, place }))
    .filter(({ leg }) => leg.role === 'fixed' && ahead(leg))
    .sort((a, b) => a.leg.startMs - b.leg.startMs)[0];
  const leg = (place: number, untilMs: number, inTurns = false): Stretch => ({ do: 'leg', place, untilMs, inTurns });
  if (fixed && fixed.leg.startMs <= nowMs) return leg(fixed.place, fixed.leg.endMs);
  const yieldsMs = fixed?.leg.startMs ?? Infinity;
  const together = mainTogether(legs.map((l, place) => ({ leg: l, place })).filter(({ leg: l }) => l.role === 'main' && ahead(l))); // prettier-ignore
  const open = together.filter((m) => m.leg.startMs <= nowMs);
  if (open.length) {
    const { leg: main, place } = open.reduce((a, b) => (b.leg.turns < a.leg.turns ? b : a));
    const stopMs = Math.min(main.endMs, yieldsMs);
    if (together.length === 1) return leg(place, stopMs);
    // alone for now, until the next of them may begin
    const joinedMs = open.length > 1 ? nowMs + main.turnMs! : Math.min(...together.filter((m) => m.leg.startMs > nowMs).map((m) => m.leg.startMs)); // prettier-ignore
    return leg(place, Math.min(stopMs, joinedMs), joinedMs < stopMs);
  }
  const gapEndsMs = Math.min(yieldsMs, ...together.map((m) => m.leg.startMs));
  const worth = (l: LegHours, fromMs: number) => Math.min(l.endMs, gapEndsMs) - fromMs >= SHORTEST_BACKUP_MS;
  const backups = legs.map((leg, at) => ({ leg, at })).filter(({ leg }) => leg.role === 'backup' && ahead(leg));
  const filler = backups.find(({ leg }) => leg.startMs <= nowMs && worth(leg, nowMs));
  if (filler) return leg(filler.at, Math.min(filler.leg.endMs, gapEndsMs));
  const opens = backups
    .filter(({ leg }) => leg.startMs > nowMs && worth(leg, leg.startMs))
    .map(({ leg }) => leg.startMs);
  const untilMs = Math.min(gapEndsMs, ...opens);
  return untilMs === Infinity ? { do: 'close' } : { do: 'wait', untilMs };
}

/** The next main leg, with those listed right after it where all of them take turns. */
function mainTogether<M extends { leg: LegHours }>(ahead: readonly M[]): M[] {
  const alone = ahead.findIndex((m) => m.leg.turnMs === null);
  return alone === 0 ? ahead.slice(0, 1) : ahead.slice(0, alone < 0 ? undefined : alone);
}

/** A leg at work, as the others that take frames for the same thing need to know it. */
export interface SharedLeg {
  work: string;
  rules: Rules;
  state: EngineState;
}

/** A leg’s rules with the frames that other legs took tonight for the same project or panel, of the same length, counted as there. */
export function withOthersFrames<L extends SharedLeg>(legs: readonly (L | null)[], leg: L): Rules {
  const others = legs.filter((l): l is L => l !== null && l !== leg && l.work === leg.work);
  if (others.every((l) => !l.state.started)) return leg.rules;
  const takenBy = (name: string, exposureS: number) =>
    others.reduce((sum, l) => {
      const i = l.rules.filters.findIndex((f) => f.name === name && f.exposureS === exposureS);
      return sum + (i < 0 ? 0 : l.state.taken[i]!);
    }, 0);
  const filters = leg.rules.filters.map((f) => ({ ...f, done: f.done + takenBy(f.name, f.exposureS) }));
  return { ...leg.rules, filters };
}
