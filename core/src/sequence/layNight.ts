import type { SpokenVerdict } from '../calculation/index.ts';
import { judge, phrase, type Phrase } from '../phrases/index.ts';
import type { NightOutput } from '../sky/index.ts';
import { stillWanted } from './choice.ts';
import { companionOf, followLead } from './follower.ts';
import { beginning, happened, play, rulesOf, wheelLeftAt, type EngineState, type Rules } from './engine.ts';
import { twilightMs } from './legWindow.ts';
import type { PreparedLeg } from './legTimeline.ts';
import type { ClosingStep, NightPlan, OpeningStep } from './nightPlan.ts';
import type { TimelineInput, TimelineOutput } from './schemas.ts';
import { nextStretch, turnsOf, withOthersFrames, type LegHours } from './stretches.ts';
import { recorder, summarise, type Span as EventSpan } from './timeline.ts';

/** A piece of the night; they follow each other without gap from its start to its end. Times in ms. */
export type Piece = { startMs: number; endMs: number } & (
  | { part: 'opening'; step: OpeningStep['step'] }
  | { part: 'leg'; place: number }
  | { part: 'closing'; step: ClosingStep['step'] }
  /** Until the Sun is low enough, until a leg may begin, until the dawn is bright enough, or nothing is left to do. */
  | { part: 'wait'; why: 'dusk' | 'leg' | 'dawn' | 'spare' }
);
export interface LaidLeg {
  id: string;
  /** Its frames and minutes; null where it has no hours or nobody’s turn came. */
  laid: TimelineOutput | null;
  /** First and last moment it may use. */
  startMs: number | null;
  endMs: number | null;
  trouble: Phrase | null;
  /** What the second camera takes beside it; null without one. */
  follower: TimelineOutput | null;
}
export interface LaidNight {
  startMs: number;
  endMs: number;
  pieces: Piece[];
  legs: LaidLeg[];
  troubles: Phrase[];
  verdict: SpokenVerdict;
}

const MIN_MS = 60_000;
const total = (steps: readonly { minutes: number }[]) => steps.reduce((s, x) => s + x.minutes, 0) * MIN_MS;

/** Lays steps one after the other from a moment, each not before its twilight. */
function laySteps<S extends OpeningStep | ClosingStep>(
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

/** One leg while the night is laid out. */
interface Playing {
  work: string;
  rules: Rules;
  state: EngineState;
  events: EventSpan[];
  /** Length of the stretches it was given [ms]. */
  givenMs: number;
  hours: LegHours;
}

const focusedAlready = (input: TimelineInput): TimelineInput => ({
  ...input,
  focus: { ...input.focus, atStart: false },
});
const played = (prepared: PreparedLeg): Playing | null => {
  if (!prepared.input) return null;
  const rules = rulesOf(prepared.input);
  const beside = prepared.follower;
  const companion = beside?.waitedFor ? companionOf(beside.input, rules) : undefined;
  return {
    work: prepared.work,
    rules,
    state: { ...beginning(rules), companion },
    events: [],
    givenMs: 0,
    hours: {
      startMs: rules.startMs,
      endMs: rules.endMs,
      role: prepared.role,
      finished: false,
      ...turnsOf(prepared.turnMin),
    },
  };
};
/** A leg without hours: never its turn. */
const NEVER: LegHours = { startMs: Infinity, endMs: -Infinity, role: 'main', finished: true, turnMs: null, turns: 0 };

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
): Span | null {
  const hours = prepared.flatMap((p) =>
    p.input ? [{ from: Date.parse(p.input.start), until: Date.parse(p.input.end), backup: p.role === 'backup' }] : [],
  );
  if (hours.length === 0) return null;
  const firm = hours.filter((h) => !h.backup);
  const firstMs = Math.min(...(firm.length ? firm : hours).map((h) => h.from));
  const opening = laySteps(plan.opening, firstMs - total(plan.opening), night, 'dusk', (step, startMs, endMs) => ({ part: 'opening', step, startMs, endMs }), troubles); // prettier-ignore
  const openedMs = opening.at(-1)?.endMs ?? firstMs;
  const lastMs = Math.max(openedMs, ...hours.map((h) => h.until));
  return {
    startMs: opening[0]?.startMs ?? firstMs,
    endMs: close(plan, lastMs, night, []).at(-1)?.endMs ?? lastMs,
    opening,
  };
}
const close = (plan: NightPlan, fromMs: number, night: NightOutput, troubles: Phrase[]): Piece[] =>
  laySteps(plan.closing, fromMs, night, 'dawn', (step, startMs, endMs) => ({ part: 'closing', step, startMs, endMs }), troubles); // prettier-ignore

/**
 * Lays a whole night out: the opening before the first leg, the legs as their turn comes, the closing after the last.
 * Every minute from the first step to the last belongs to one piece.
 * @returns null when no leg has any hours
 */
export function layNight(plan: NightPlan, prepared: readonly PreparedLeg[], night: NightOutput): LaidNight | null {
  const troubles: Phrase[] = [];
  const span = nightSpan(plan, prepared, night, troubles);
  if (!span) return null;
  const { startMs, endMs } = span;
  const pieces = [...span.opening];
  const focused = plan.opening.some((s) => s.step === 'focus');
  // the opening focuses through the first filter of the first leg that has hours
  let wheel = focused ? (prepared.find((p) => p.input)?.input!.filters[0]!.name ?? '') : '';
  const legs = prepared.map(played);
  let now = pieces.at(-1)?.endMs ?? startMs;
  for (;;) {
    const next = nextStretch(legs.map((l) => l?.hours ?? NEVER), now); // prettier-ignore
    if (next.do === 'close') break;
    if (next.do === 'wait') {
      pieces.push({ part: 'wait', why: 'leg', startMs: now, endMs: next.untilMs });
      now = next.untilMs;
      continue;
    }
    const leg = legs[next.place]!;
    // what the opening focused need not be focused again before the first frame
    if (focused && !legs.some((l) => l?.state.started))
      leg.rules = rulesOf(focusedAlready(prepared[next.place]!.input!));
    if (wheel) wheelLeftAt(leg.rules, leg.state, wheel);
    const eventsBefore = leg.events.length;
    now = stretch(leg, withOthersFrames(legs, leg), now, next, (from, to) => pieces.push({ part: 'leg', place: next.place, startMs: from, endMs: to })); // prettier-ignore
    // a turn in which no frame fitted left the wheel where it was
    wheel = leg.events.slice(eventsBefore).findLast((e) => e.kind === 'expose')?.filter ?? wheel;
  }
  pieces.push(...close(plan, now, night, troubles));
  const closedMs = pieces.at(-1)?.endMs ?? now;
  if (closedMs < endMs) pieces.push({ part: 'wait', why: 'spare', startMs: closedMs, endMs });
  const laidLegs = withFollowers(
    prepared,
    prepared.map((p, i) => laidLeg(p, legs[i]!)),
  );
  return { startMs, endMs, pieces, legs: laidLegs, troubles, verdict: verdictOf(laidLegs, troubles, endMs - startMs) };
}

/** Plays a leg from now; the piece ends when nothing of it is wanted any more. */
function stretch(
  leg: Playing,
  rules: Rules,
  fromMs: number,
  { untilMs, inTurns }: { untilMs: number; inTurns: boolean },
  piece: (from: number, to: number) => void,
): number {
  const { state, events } = leg;
  const resumed = events.length > 0;
  leg.hours.turns++;
  if (resumed) happened(state, { what: 'shut' });
  else state.lastFocusEnd = fromMs;
  play({ ...rules, startMs: fromMs, endMs: untilMs }, [], recorder(rules, events), state, inTurns);
  const leftMs = inTurns ? (events.at(-1)?.end ?? untilMs) : untilMs;
  leg.givenMs += leftMs - fromMs;
  const satisfied = rules.filters.every((f, i) => stillWanted(f, state.taken[i]!) <= 0);
  const last = events.at(-1);
  const workedMs = satisfied && last?.kind === 'wait' ? Math.max(fromMs, last.start) : leftMs;
  leg.hours.finished = satisfied || untilMs >= leg.hours.endMs;
  if (workedMs > fromMs) piece(fromMs, workedMs);
  return workedMs;
}

function laidLeg(prepared: PreparedLeg, leg: Playing | null): LaidLeg {
  const { id, trouble } = prepared;
  if (!leg) return { id, laid: null, startMs: null, endMs: null, trouble, follower: null };
  const { startMs, endMs } = leg.hours;
  if (leg.givenMs === 0) {
    const crowded = prepared.role === 'backup' ? phrase('plan.leg-not-needed') : phrase('plan.leg-crowded-out');
    return { id, laid: null, startMs, endMs, trouble: trouble ?? crowded, follower: null };
  }
  return {
    id,
    laid: summarise(prepared.input!, leg.events, leg.state, leg.givenMs),
    startMs,
    endMs,
    trouble,
    follower: null,
  };
}

/** Adds what a second camera takes beside each leg; where two legs are followed for the same goals, each frame counts once. */
function withFollowers(prepared: readonly PreparedLeg[], legs: readonly LaidLeg[]): LaidLeg[] {
  // frames of another length count for another goal
  const taken = new Map<string, number>();
  return legs.map((l, i) => {
    const beside = prepared[i]!.follower;
    if (!l.laid || !beside) return l;
    const goal = (f: { name: string; exposureS: number }) => `${beside.projectId} ${f.name} ${f.exposureS}`;
    const filters = beside.input.filters.map((f) => ({ ...f, done: f.done + (taken.get(goal(f)) ?? 0) }));
    const follower = followLead({ ...beside.input, filters }, l.laid);
    for (const f of filters) taken.set(goal(f), (taken.get(goal(f)) ?? 0) + (follower.frames[f.name] ?? 0));
    return { ...l, follower };
  });
}

function verdictOf(legs: readonly LaidLeg[], troubles: readonly Phrase[], spanMs: number): SpokenVerdict {
  const worked = legs.flatMap((l) => (l.laid ? [l.laid] : []));
  if (legs.length === 1 && worked[0]) return worked[0].verdict;
  const frames = worked.reduce((s, l) => s + Object.values(l.frames).reduce((a, n) => a + n, 0), 0);
  if (frames === 0) return judge('bad', phrase('sequence.nothing-fits'));
  const openPercent = (100 * worked.reduce((s, l) => s + l.openShutterS, 0)) / (spanMs / 1000);
  const stuck = legs.filter((l) => l.trouble && l.trouble.code !== 'plan.leg-not-needed');
  const level = stuck.length || troubles.length || worked.some((l) => l.verdict.level !== 'good') ? 'caution' : 'good';
  const first = phrase('plan.night-frames', { frames, legs: legs.length, openPercent });
  return stuck.length ? judge(level, first, phrase('plan.night-stuck', { n: stuck.length })) : judge(level, first);
}
