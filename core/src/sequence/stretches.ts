import type { EngineState, Rules } from './engine.ts';
import type { LegRole } from './nightPlan.ts';

/** A leg as the night needs to know it. Times are milliseconds since 1970, UTC. */
export interface LegHours {
  startMs: number;
  endMs: number;
  role: LegRole;
  /** Every quota is reached, or the leg was given up. */
  finished: boolean;
}

export type Stretch =
  | { do: 'leg'; place: number; untilMs: number }
  /** Nobody can work: until the next leg may begin. */
  | { do: 'wait'; untilMs: number }
  | { do: 'close' };

/** A gap shorter than this is not worth slewing and centring for a backup [ms]; common practice, no source. */
export const SHORTEST_BACKUP_MS = 15 * 60_000;

/**
 * Whose turn it is. A fixed leg works from its first minute to its last and cuts short whoever is at work; main legs follow
 * each other as listed, each when its window is open; a backup fills a gap that is long enough. The layout of a night and
 * the conductor both ask here.
 */
export function nextStretch(legs: readonly LegHours[], nowMs: number): Stretch {
  const ahead = (l: LegHours) => !l.finished && l.endMs > nowMs;
  const fixed = legs
    .map((leg, place) => ({ leg, place }))
    .filter(({ leg }) => leg.role === 'fixed' && ahead(leg))
    .sort((a, b) => a.leg.startMs - b.leg.startMs)[0];
  if (fixed && fixed.leg.startMs <= nowMs) return { do: 'leg', place: fixed.place, untilMs: fixed.leg.endMs };
  const yieldsMs = fixed?.leg.startMs ?? Infinity;
  const place = legs.findIndex((l) => l.role === 'main' && ahead(l));
  const main = legs[place];
  if (main && main.startMs <= nowMs) return { do: 'leg', place, untilMs: Math.min(main.endMs, yieldsMs) };
  const gapEndsMs = Math.min(yieldsMs, main?.startMs ?? Infinity);
  const worth = (l: LegHours, fromMs: number) => Math.min(l.endMs, gapEndsMs) - fromMs >= SHORTEST_BACKUP_MS;
  const backups = legs.map((leg, at) => ({ leg, at })).filter(({ leg }) => leg.role === 'backup' && ahead(leg));
  const filler = backups.find(({ leg }) => leg.startMs <= nowMs && worth(leg, nowMs));
  if (filler) return { do: 'leg', place: filler.at, untilMs: Math.min(filler.leg.endMs, gapEndsMs) };
  const opens = backups
    .filter(({ leg }) => leg.startMs > nowMs && worth(leg, leg.startMs))
    .map(({ leg }) => leg.startMs);
  const untilMs = Math.min(gapEndsMs, ...opens);
  return untilMs === Infinity ? { do: 'close' } : { do: 'wait', untilMs };
}

/** A leg at work, as the others of its project need to know it. */
export interface SharedLeg {
  projectId: string;
  rules: Rules;
  state: EngineState;
}

/** A leg’s rules with the frames that other legs of the same project took tonight, of the same length, counted as there. */
export function withOthersFrames<L extends SharedLeg>(legs: readonly (L | null)[], leg: L): Rules {
  const others = legs.filter((l): l is L => l !== null && l !== leg && l.projectId === leg.projectId);
  if (others.every((l) => !l.state.started)) return leg.rules;
  const takenBy = (name: string, exposureS: number) =>
    others.reduce((sum, l) => {
      const i = l.rules.filters.findIndex((f) => f.name === name && f.exposureS === exposureS);
      return sum + (i < 0 ? 0 : l.state.taken[i]!);
    }, 0);
  const filters = leg.rules.filters.map((f) => ({ ...f, done: f.done + takenBy(f.name, f.exposureS) }));
  return { ...leg.rules, filters };
}
