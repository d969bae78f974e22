import { type Gathered, goalKey } from '../record/index.ts';
import { phrase, type Phrase } from '../phrases/index.ts';
import { both, joined, type Interval } from './intervals.ts';
import { legHours, moonSpells, type LegSky } from './legHours.ts';
import { followingOverheads } from './follower.ts';
import { type Follower, type Leg, type LegRole, type Watches } from './nightPlan.ts';
import { timelineInputOf, type PlanSettings } from './plan.ts';
import type { Overheads, TimelineInput } from './schemas.ts';

/** A leg with its hours and what is to be done in them; without hours it says why. */
export interface PreparedLeg {
  id: string;
  projectId: string;
  /** What its frames count for, by its goal key. */
  goal: string;
  role: LegRole;
  turnMin: number | null;
  /** When it may work; none where it has no hours in this night. */
  hours: readonly Interval[];
  /** For what it keeps the rig: its hours, or those a clock names for it though nothing can be taken in them. */
  claims: readonly Interval[];
  /** Null where the leg has no hours in this night. */
  input: TimelineInput | null;
  trouble: Phrase | null;
  /** What a second camera is to do in the same hours; null without one. */
  follower: { projectId: string; input: TimelineInput; waitedFor: boolean } | null;
}
/** What a follower’s share depends on besides the sky. */
export interface FollowerFacts {
  overheads: Overheads;
  /** Accepted frames of its project. */
  done: readonly Gathered[];
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

/** The hours between two clocks, whatever the sky does in them, as far as they are still to come. */
function clockHours({ from, until }: Pick<Leg, 'from' | 'until'>, nowMs = -Infinity): Interval[] {
  if (from.by !== 'clock' || until.by !== 'clock') return [];
  return joined([[Math.max(Date.parse(from.at), nowMs), Date.parse(until.at)]]);
}

/**
 * What one leg comes to in this night.
 * @param done accepted frames of its project, or of its panel, by filter and length
 */
export function prepareLeg(
  leg: Leg,
  sky: LegSky,
  of: {
    watches: Watches;
    overheads: Overheads;
    done: readonly Gathered[];
    follower?: FollowerFacts | null;
    /** Nothing before it is offered [ms]; left out: the whole night. */
    nowMs?: number;
  },
): PreparedLeg {
  const when = legHours(leg, sky, of.watches, of.nowMs);
  const { hours } = when;
  const { id, projectId, role, turnMin } = leg;
  const who = {
    id,
    projectId,
    goal: goalKey(leg),
    role,
    turnMin,
    hours,
    claims: hours.length ? hours : clockHours(leg, of.nowMs),
  };
  if (when.trouble) return { ...who, input: null, trouble: when.trouble, follower: null };
  const { flipAtMs } = when;
  const [startMs, endMs] = [hours[0]![0], hours.at(-1)![1]];
  // where its hours are several pieces they bound every filter, so that whoever plays the leg alone keeps them too
  const allowed = (moon: readonly Interval[] | null) => (hours.length === 1 ? moon : moon ? both(moon, hours) : hours);
  const duringOf = (s: PlanSettings) =>
    Object.fromEntries(s.filters.map((f) => [f.name, within(allowed(moonSpells(f.moon, sky)), startMs, endMs)]));
  const [start, end] = [iso(startMs), iso(endMs)];
  const during = duringOf(leg.settings);
  const input = timelineInputOf({
    settings: leg.settings,
    start,
    end,
    flipAt: flipAtMs === null ? null : iso(flipAtMs),
    overheads: of.overheads,
    done: of.done,
    during,
  });
  const beside =
    leg.follower && of.follower
      ? followerOf(leg.follower, of.follower, { start, end, during: duringOf(leg.follower.settings) })
      : null;
  const shut = leg.settings.filters.filter((f) => during[f.name]?.length === 0).map((f) => f.name);
  const trouble = shut.length ? phrase('plan.leg-moon-shuts', { filters: shut }) : when.remark;
  return { ...who, input: leg.guiding ? input : unguided(input), trouble, follower: beside };
}

/** A follower’s plan in the hours of its leg: the mount is not its own. */
function followerOf(
  { projectId, settings, waitedFor }: Follower,
  { overheads, done }: FollowerFacts,
  hours: Pick<Parameters<typeof timelineInputOf>[0], 'start' | 'end' | 'during'>,
): PreparedLeg['follower'] {
  const still = { ...settings, dither: { everyFrames: 0, perRound: false } };
  return {
    projectId,
    waitedFor,
    input: timelineInputOf({ settings: still, ...hours, overheads: followingOverheads(overheads), done }),
  };
}
