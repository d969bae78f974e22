import { phrase, type Phrase } from '../phrases/index.ts';
import { legWindow, moonSpells, type LegSky } from './legWindow.ts';
import type { Leg, Watches } from './nightPlan.ts';
import { timelineInputOf } from './plan.ts';
import type { LegRole } from './nightPlan.ts';
import type { Overheads, TimelineInput } from './schemas.ts';

/** A leg with its hours and what is to be done in them; without hours it says why. */
export interface PreparedLeg {
  id: string;
  projectId: string;
  role: LegRole;
  /** Null where the leg has no hours in this night. */
  input: TimelineInput | null;
  trouble: Phrase | null;
}

/** Without a guider nothing is started, and nothing moves the pointing between frames. */
export const unguided = <T extends { overheads: Overheads; dither: TimelineInput['dither'] }>(plan: T): T => ({
  ...plan,
  overheads: { ...plan.overheads, guideStartS: 0, ditherS: 0 },
  dither: { everyFrames: 0, perRound: false },
});

const iso = (ms: number) => new Date(Math.round(ms)).toISOString();
/** Spells as a timeline takes them, clipped to the window. */
const within = (spells: readonly (readonly [number, number])[] | null, startMs: number, endMs: number) =>
  spells
    ?.map(([a, b]) => [Math.max(a, startMs), Math.min(b, endMs)] as const)
    .filter(([a, b]) => b > a)
    .map(([a, b]) => ({ start: iso(a), end: iso(b) }));

/**
 * What one leg comes to in this night.
 * @param done accepted frames of its project, by filter
 */
export function prepareLeg(
  leg: Leg,
  sky: LegSky,
  of: { watches: Watches; overheads: Overheads; done: Record<string, number> },
): PreparedLeg {
  const window = legWindow(leg, sky, of.watches);
  const { id, projectId, role } = leg;
  if (window.trouble) return { id, projectId, role, input: null, trouble: window.trouble };
  const { startMs, endMs, flipAtMs } = window;
  const during = Object.fromEntries(
    leg.settings.filters.map((f) => [f.name, within(moonSpells(f.moon, sky), startMs, endMs)]),
  );
  const input = timelineInputOf({
    settings: leg.settings,
    start: iso(startMs),
    end: iso(endMs),
    flipAt: flipAtMs === null ? null : iso(flipAtMs),
    overheads: of.overheads,
    done: of.done,
    during,
  });
  const shut = leg.settings.filters.filter((f) => during[f.name]?.length === 0).map((f) => f.name);
  const trouble = shut.length ? phrase('plan.leg-moon-shuts', { filters: shut }) : null;
  return { id, projectId, role, input: leg.guiding ? input : unguided(input), trouble };
}
