import { playLegs, type IdleWhy } from './playLegs.ts';
import type { SpokenVerdict } from '../calculation/index.ts';
import { makeVerdict, phrase, type Code, type Phrase } from '../phrases/index.ts';
import type { NightOutput } from '../sky/index.ts';
import { followLead } from './follower.ts';
import { legInNight, openingLeaves } from './legInNight.ts';
import { twilightMs } from './legHours.ts';
import type { Interval } from './intervals.ts';
import type { PreparedLeg } from './legTimeline.ts';
import { stepsMs, type ClosingStep, type NightPlan, type OpeningStep } from './nightPlan.ts';
import type { TimelineOutput } from './schemas.ts';
import type { LegInNight } from './whoseTurn.ts';
import { recorder, summarise, type Span as EventSpan } from './timeline.ts';

/** A piece of the night; they follow each other without gap from its start to its end. Times in ms. */
export type Piece = { startMs: number; endMs: number } & (
  | { part: 'opening'; step: OpeningStep['step'] }
  | { part: 'leg'; legIndex: number }
  | { part: 'closing'; step: ClosingStep['step'] }
  /** Until the Sun is low enough, until a leg may begin, until the dawn is bright enough, or nothing is left to do. */
  | { part: 'wait'; why: 'dusk' | 'leg' | 'dawn' | 'spare' }
);
export interface LegSchedule {
  id: string;
  /** Its frames and minutes; null where it has no hours or nobody’s turn came. */
  schedule: TimelineOutput | null;
  /** When it may work; first and last moment of that. */
  hours: readonly Interval[];
  startMs: number | null;
  endMs: number | null;
  trouble: Phrase | null;
  /** What the second camera takes beside it; null without one. */
  follower: TimelineOutput | null;
}
export interface NightSchedule {
  startMs: number;
  endMs: number;
  /** When the last step of the closing is done; until the end the rig may be needed longer than laid out. */
  closedMs: number;
  pieces: Piece[];
  legs: LegSchedule[];
  troubles: Phrase[];
  /** For what nobody could take a frame between the opening and the last leg’s end, and how long [ms]; longest first. */
  idle: { why: IdleWhy; ms: number }[];
  verdict: SpokenVerdict;
}

const MIN_MS = 60_000;

/** Lays steps one after the other from a moment, each not before its twilight. */
function scheduleSteps<S extends OpeningStep | ClosingStep>(
  steps: readonly S[],
  fromMs: number,
  night: NightOutput,
  side: 'dusk' | 'dawn',
  make: (step: S['step'], startMs: number, endMs: number) => Piece,
  troubles: Phrase[],
): Piece[] {
  const pieces: Piece[] = [];
  let now = fromMs;
  for (const s of steps) {
    const earliest = s.notBefore ? twilightMs(night, s.notBefore, side) : now;
    if (earliest === null) troubles.push(phrase('plan.step-no-twilight'));
    else if (earliest > now) {
      pieces.push({ part: 'wait', why: side, startMs: now, endMs: earliest });
      now = earliest;
    }
    const end = now + s.minutes * MIN_MS;
    if (end > now) pieces.push(make(s.step, now, end));
    now = end;
  }
  return pieces;
}

/** First and last moment of a night for which the rig is taken, and what opens it [ms]. */
interface Span {
  startMs: number;
  endMs: number;
  opening: Piece[];
}

/**
 * For how long a night holds the rig: from the first step of the opening, which ends when the first leg may begin, to the
 * last step of the closing, were every leg to use its window to the end.
 * @returns null when no leg has any hours
 */
export function nightSpan(
  plan: NightPlan,
  prepared: readonly PreparedLeg[],
  night: NightOutput,
  troubles: Phrase[] = [],
  nowMs = -Infinity,
): Span | null {
  const hours = prepared.flatMap((p) =>
    p.claims.map(([from, until]) => ({ from, until, backup: p.role === 'backup' })),
  );
  if (hours.length === 0) return null;
  const firm = hours.filter((h) => !h.backup);
  const firstMs = Math.min(...(firm.length ? firm : hours).map((h) => h.from));
  // what opens the night has to be done first, however late it is
  const fromMs = Math.max(nowMs, firstMs - stepsMs(plan.opening));
  const opening = scheduleSteps(
    plan.opening,
    fromMs,
    night,
    'dusk',
    (step, startMs, endMs) => ({ part: 'opening', step, startMs, endMs }),
    troubles,
  );
  const openedMs = opening.at(-1)?.endMs ?? fromMs;
  const lastMs = Math.max(openedMs, ...hours.map((h) => h.until));
  return {
    startMs: opening[0]?.startMs ?? openedMs,
    endMs: close(plan, lastMs, night, []).at(-1)?.endMs ?? lastMs,
    opening,
  };
}
const close = (plan: NightPlan, fromMs: number, night: NightOutput, troubles: Phrase[]): Piece[] =>
  scheduleSteps(
    plan.closing,
    fromMs,
    night,
    'dawn',
    (step, startMs, endMs) => ({ part: 'closing', step, startMs, endMs }),
    troubles,
  );

/**
 * Lays a whole night out: the opening before the first leg, the legs as their turn comes, the closing after the last.
 * Every minute from the first step to the last belongs to one piece.
 * @param nowMs nothing is laid before it; left out: the whole night
 * @returns null when no leg has any hours
 */
export function scheduleNight(
  plan: NightPlan,
  prepared: readonly PreparedLeg[],
  night: NightOutput,
  nowMs?: number,
): NightSchedule | null {
  const troubles: Phrase[] = [];
  const span = nightSpan(plan, prepared, night, troubles, nowMs);
  if (!span) return null;
  const { startMs, endMs } = span;
  const pieces = [...span.opening];
  const openedMs = pieces.at(-1)?.endMs ?? startMs;
  const waits = new Map<IdleWhy, number>();
  const worked = scheduleLegs(plan, prepared, openedMs, pieces, waits);
  const idle = [...waits].map(([why, ms]) => ({ why, ms })).sort((a, b) => b.ms - a.ms);
  pieces.push(...close(plan, worked.endMs, night, troubles));
  const closedMs = pieces.at(-1)?.endMs ?? worked.endMs;
  if (closedMs < endMs) pieces.push({ part: 'wait', why: 'spare', startMs: closedMs, endMs });
  const legSchedules = withFollowers(
    prepared,
    prepared.map((p, i) => legSchedule(p, worked.legs[i]!)),
  );
  return {
    startMs,
    endMs,
    closedMs,
    pieces,
    legs: legSchedules,
    troubles,
    idle,
    verdict: verdictOf(legSchedules, troubles, idle, closedMs - startMs),
  };
}

/** A leg as its night left it; null where it has no hours. */
type Worked = { leg: LegInNight; events: EventSpan[]; givenMs: number } | null;

/** Lays the legs frame by frame. @returns each as its night left it, and when the last one is done [ms] */
function scheduleLegs(
  plan: NightPlan,
  prepared: readonly PreparedLeg[],
  openedMs: number,
  pieces: Piece[],
  waits: Map<IdleWhy, number>,
): { legs: Worked[]; endMs: number } {
  const all = prepared.map((p) => legInNight(p, openedMs));
  const legIndices = all.flatMap((l, i) => (l ? [i] : []));
  const started = legIndices.map((i) => all[i]!);
  const given = started.map(() => 0);
  const events = started.map((): EventSpan[] => []);
  const { legs, endMs } = playLegs(
    started,
    { openedMs, ...openingLeaves(plan.opening, prepared) },
    {
      frame: (i, rules, step, startMs) => recorder(rules, events[i]!).frame(step, startMs),
      wait: (i, why, from, to) => {
        if (i !== null) recorder(started[i]!.rules, events[i]!).wait(from, to, why === 'second-camera');
        waits.set(why, (waits.get(why) ?? 0) + to - from);
      },
      spent: (i, from, to) => {
        if (i !== null) given[i]! += to - from;
        addPiece(pieces, i === null ? null : legIndices[i]!, from, to);
      },
    },
  );
  const worked = legs.map((leg, i) => ({ leg, events: events[i]!, givenMs: given[i]! }));
  return { legs: all.map((l, i) => (l ? worked[legIndices.indexOf(i)]! : null)), endMs };
}

/** Time of a leg, or of none, after the last piece; what goes on is one piece. */
function addPiece(pieces: Piece[], legIndex: number | null, from: number, to: number): void {
  const last = pieces.at(-1);
  const goesOn =
    last?.endMs === from &&
    (legIndex === null
      ? last.part === 'wait' && last.why === 'leg'
      : last.part === 'leg' && last.legIndex === legIndex);
  if (goesOn) last.endMs = to;
  else if (to > from)
    pieces.push(
      legIndex === null
        ? { part: 'wait', why: 'leg', startMs: from, endMs: to }
        : { part: 'leg', legIndex, startMs: from, endMs: to },
    );
}

function legSchedule(prepared: PreparedLeg, worked: Worked): LegSchedule {
  const { id, trouble } = prepared;
  if (!worked) return { id, schedule: null, hours: [], startMs: null, endMs: null, trouble, follower: null };
  const { leg, events, givenMs } = worked;
  const [startMs, endMs] = [leg.hours[0]![0], leg.hours.at(-1)![1]];
  if (!leg.state.started) {
    const crowded = prepared.role === 'backup' ? phrase('plan.leg-not-needed') : phrase('plan.leg-crowded-out');
    return { id, schedule: null, hours: leg.hours, startMs, endMs, trouble: trouble ?? crowded, follower: null };
  }
  return {
    id,
    schedule: summarise(prepared.input!, events, leg.state, givenMs),
    hours: leg.hours,
    startMs,
    endMs,
    trouble,
    follower: null,
  };
}

/** Adds what a second camera takes beside each leg; where two legs are followed for the same goals, each frame counts once. */
function withFollowers(prepared: readonly PreparedLeg[], legs: readonly LegSchedule[]): LegSchedule[] {
  // frames of another length count for another goal
  const taken = new Map<string, number>();
  return legs.map((l, i) => {
    const beside = prepared[i]!.follower;
    if (!l.schedule || !beside) return l;
    const goal = (f: { name: string; exposureS: number }) => `${beside.projectId} ${f.name} ${f.exposureS}`;
    const filters = beside.input.filters.map((f) => ({ ...f, done: f.done + (taken.get(goal(f)) ?? 0) }));
    const follower = followLead({ ...beside.input, filters }, l.schedule);
    for (const f of filters) taken.set(goal(f), (taken.get(goal(f)) ?? 0) + (follower.frames[f.name] ?? 0));
    return { ...l, follower };
  });
}

/** Less idle time than this is not worth a word [ms]; common practice, no source. */
const IDLE_WORTH_MS = 20 * MIN_MS;
const IDLE_CODES = {
  leg: 'plan.idle-leg',
  moon: 'plan.idle-moon',
  meridian: 'plan.idle-meridian',
  end: 'plan.idle-end',
  'shut-soon': 'plan.idle-end',
  fixed: 'plan.idle-fixed',
  'second-camera': 'plan.idle-second-camera',
  cloud: 'plan.idle-end',
} as const satisfies Record<IdleWhy, Code>;

function verdictOf(
  legs: readonly LegSchedule[],
  troubles: readonly Phrase[],
  idle: NightSchedule['idle'],
  spanMs: number,
): SpokenVerdict {
  const worked = legs.flatMap((l) => (l.schedule ? [l.schedule] : []));
  const why = idle
    .filter((i) => i.ms >= IDLE_WORTH_MS)
    .slice(0, 1)
    .map((i) => phrase(IDLE_CODES[i.why], { idleMin: i.ms / MIN_MS }));
  const only = legs.length === 1 ? legs[0]! : null;
  if (only && worked[0]) {
    const { verdict } = worked[0];
    if (!only.trouble && why.length === 0) return verdict;
    const level = only.trouble && verdict.level === 'good' ? 'caution' : verdict.level;
    return makeVerdict(level, ...(verdict as SpokenVerdict).phrases, ...(only.trouble ? [only.trouble] : why));
  }
  const frames = worked.reduce((s, l) => s + Object.values(l.frames).reduce((a, n) => a + n, 0), 0);
  if (frames === 0) return makeVerdict('bad', only?.trouble ?? phrase('sequence.nothing-fits'));
  const openPercent = (100 * worked.reduce((s, l) => s + l.openShutterS, 0)) / (spanMs / 1000);
  const stuck = legs.filter((l) => l.trouble && l.trouble.code !== 'plan.leg-not-needed');
  const level = stuck.length || troubles.length || worked.some((l) => l.verdict.level !== 'good') ? 'caution' : 'good';
  const first = phrase('plan.night-frames', { frames, legs: legs.length, openPercent });
  const remarks = stuck.length ? [phrase('plan.night-stuck', { n: stuck.length })] : [];
  return makeVerdict(level, first, ...remarks, ...why);
}
