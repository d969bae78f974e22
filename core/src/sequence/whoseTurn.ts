import { stillWanted } from './choice.ts';
import { companionAt, companionRules } from './companion.ts';
import { applyEvent, wheelLeftAt, type Companion, type EngineState } from './engineState.ts';
import { nextStep } from './nextStep.ts';
import type { Rules } from './rules.ts';
import type { Conditions, Step } from './step.ts';
import type { Interval } from './intervals.ts';
import type { LegRole } from './nightPlan.ts';

/** A leg as the night needs to know it. Times are milliseconds since 1970, UTC. */
export interface LegInNight {
  role: LegRole;
  /** When it may work; none: it has no hours this night. */
  hours: readonly Interval[];
  /** What its frames count for. */
  goal: string;
  rules: Rules;
  /** Its own rule, whatever the opening focused already. */
  focusAtStart: boolean;
  state: EngineState;
  /** How long its turns are, and how many it has had; null: it is finished before the next main leg begins. */
  turnMs: number | null;
  turns: number;
}
/** Who is at work, and until when its turn lasts. */
export interface AtWork {
  legIndex: number | null;
  turnEndsMs: number;
}

type Waiting = (Step & { do: 'wait' })['why'] | 'fixed';
export type Next =
  /** One frame of a leg, with all that comes before it. */
  | {
      do: 'frame';
      legIndex: number;
      step: Step & { do: 'frame' | 'focus' };
      rules: Rules;
      /** What the second camera of the leg that is left has come to. */
      left?: Companion;
    }
  /** Nobody can take a whole frame now. `place`: the leg whose hours they are, null where no leg’s hours are open. */
  | { do: 'wait'; untilMs: number; legIndex: number | null; why: Waiting | 'leg'; companion?: Companion }
  | { do: 'close' };

export const turnsOf = (turnMin: number | null) => ({ turnMs: turnMin === null ? null : turnMin * 60_000, turns: 0 });

/** What a moment asks of one leg. */
type Now = Pick<Conditions, 'nowMs' | 'focusNow' | 'temperatureC'> &
  Partial<Pick<Conditions, 'shutUntilMs' | 'shutsAtMs'>>;

/**
 * Whose frame comes next. Asked after every frame: a fixed leg works from its first minute and nobody’s frame reaches into
 * it; main legs as listed, those with turns in turns; backups last. A leg that has to wait (for its meridian, for the Moon,
 * for its hours) leaves the time to the next that can take a whole frame, so no minute is idle while one could. The layout
 * of a night and the conductor both ask here.
 * @param nowOf what is known at this moment, for a leg
 */
export function whoseTurn(legs: readonly LegInNight[], at: AtWork, nowOf: (legIndex: number) => Now): Next {
  let untilMs = Infinity;
  let waiting: { legIndex: number; why: Waiting } | null = null;
  let fixedMs = Infinity;
  const later = (ms: number) => (untilMs = Math.min(untilMs, ms));
  const able: (Next & { do: 'frame' })[] = [];
  for (const legIndex of inOrder(legs)) {
    const leg = legs[legIndex]!;
    const now = nowOf(legIndex);
    const rules = withOthersFrames(legs, leg);
    if (satisfied(rules, leg.state)) continue;
    const open = leg.hours.find(([a, b]) => a <= now.nowMs && now.nowMs < b);
    const opens = leg.hours.find(([a]) => a > now.nowMs)?.[0] ?? Infinity;
    if (leg.role === 'fixed') fixedMs = Math.min(fixedMs, opensWithAFrame(leg, rules, now.nowMs));
    later(opens);
    if (!open) continue;
    const closesMs = Math.min(open[1], leg.role === 'fixed' ? Infinity : fixedMs);
    const step = nextStep(rules, leg.state, {
      nowMs: now.nowMs,
      focusNow: now.focusNow ?? false,
      shutUntilMs: now.shutUntilMs ?? null,
      shutsAtMs: Math.min(closesMs, now.shutsAtMs ?? Infinity),
      mayFill: !rules.follows,
      temperatureC: now.temperatureC,
      companionRules: sharedRules(legs, leg),
    });
    if (step.do === 'stop') continue;
    if (step.do === 'wait') {
      later(Math.min(step.untilMs, closesMs));
      const why =
        step.why !== 'shut-soon'
          ? step.why
          : step.untilMs === open[1]
            ? 'end'
            : step.untilMs === fixedMs
              ? 'fixed'
              : step.why;
      if (!waiting || legIndex === at.legIndex) waiting = { legIndex, why };
      // a fixed leg that waits has the hours again as soon as it can go on
      if (leg.role === 'fixed' && why !== 'end' && why !== 'shut-soon') fixedMs = Math.min(fixedMs, step.untilMs);
      // the mount is not moved under a second camera that is waited for
      if (step.why === 'second-camera' && legIndex === at.legIndex)
        return { do: 'wait', untilMs: step.untilMs, legIndex, why: step.why, companion: step.companion };
      continue;
    }
    const next: Next = { do: 'frame', legIndex, step, rules };
    if (leg.role !== 'main' || leg.turnMs === null) {
      if (able.length === 0) return leaving(legs, at, next, now.nowMs);
      break;
    }
    // of those in turns all are asked
    able.push(next);
  }
  if (able.length)
    return leaving(
      legs,
      at,
      whoseOfThese(legs, at, able, nowOf(able[0]!.legIndex).nowMs),
      nowOf(able[0]!.legIndex).nowMs,
    );
  if (untilMs === Infinity) return { do: 'close' };
  return { do: 'wait', untilMs, legIndex: waiting?.legIndex ?? null, why: waiting?.why ?? 'leg' };
}

const ORDER: readonly LegRole[] = ['fixed', 'main', 'backup'];
/** Fixed legs by their first hour, then main ones as listed, then backups as listed. */
function inOrder(legs: readonly LegInNight[]): number[] {
  const legIndices = legs.map((_l, i) => i);
  const first = (i: number) => (legs[i]!.role === 'fixed' ? (legs[i]!.hours[0]?.[0] ?? Infinity) : 0);
  return legIndices.sort(
    (a, b) => ORDER.indexOf(legs[a]!.role) - ORDER.indexOf(legs[b]!.role) || first(a) - first(b) || a - b,
  );
}

/** Who is at work goes on until its turn is over; then comes whoever had the fewest. */
function whoseOfThese(
  legs: readonly LegInNight[],
  at: AtWork,
  able: readonly (Next & { do: 'frame' })[],
  nowMs: number,
) {
  const present = able.find((n) => n.legIndex === at.legIndex);
  if (present && (nowMs < at.turnEndsMs || able.length === 1)) return present;
  return able.reduce((a, b) => (legs[b.legIndex]!.turns < legs[a.legIndex]!.turns ? b : a));
}

/** Before another leg is begun, the frame of a second camera that is waited for ends. */
function leaving(legs: readonly LegInNight[], at: AtWork, next: Next & { do: 'frame' }, nowMs: number): Next {
  const left = at.legIndex === null || at.legIndex === next.legIndex ? undefined : legs[at.legIndex]!;
  if (!left?.state.companion) return next;
  const { companion, busyUntilMs } = companionAt(left.state.companion, nowMs, sharedRules(legs, left));
  return busyUntilMs > nowMs
    ? { do: 'wait', untilMs: busyUntilMs, legIndex: at.legIndex, why: 'second-camera', companion }
    : { ...next, left: companion };
}
/** The rules of a leg’s second camera, with what those of other legs took for the same project. */
const sharedRules = (legs: readonly LegInNight[], { state }: LegInNight): Rules | undefined =>
  state.companion &&
  companionRules(
    state.companion,
    legs.map((l) => l.state.companion),
  );

const satisfied = (rules: Rules, state: EngineState): boolean =>
  rules.filters.every((f, i) => stillWanted(f, state.taken[i]!) <= 0);

/** From when on a fixed leg can take a frame: nobody else’s reaches beyond. Infinite where it is at work or never can. */
function opensWithAFrame({ hours, state }: LegInNight, rules: Rules, nowMs: number): number {
  const starts = rules.filters.flatMap((f, i) => {
    if (stillWanted(f, state.taken[i]!) <= 0) return [];
    const least = 1000 * f.exposureS + rules.takesMs.download;
    const during = rules.duringMs?.[i];
    const spells = during
      ? hours.flatMap(([a, b]) => during.map(([c, d]) => [Math.max(a, c), Math.min(b, d)] as const))
      : hours;
    return spells.filter(([a, b]) => a > nowMs && b - a >= least).map(([a]) => a);
  });
  return Math.min(Infinity, ...starts);
}

/** The legs with one of them changed. */
export const withLeg = <L extends LegInNight>(legs: readonly L[], legIndex: number, change: Partial<LegInNight>): L[] =>
  legs.map((l, i) => (i === legIndex ? { ...l, ...change } : l));

/** The legs once one of them takes the next frame, the mount leaving another for it, and who is at work from now on. */
export function beginTurn<L extends LegInNight>(
  legs: readonly L[],
  at: AtWork,
  { legIndex, left }: Pick<Next & { do: 'frame' }, 'legIndex' | 'left'>,
  nowMs: number,
): { legs: readonly L[]; at: AtWork } {
  let now = legs;
  if (at.legIndex !== null && at.legIndex !== legIndex) {
    const { state } = legs[at.legIndex]!;
    const known = left ? applyEvent(state, { what: 'second-camera', companion: left }) : state;
    now = withLeg(now, at.legIndex, { state: applyEvent(known, { what: 'elsewhere' }) });
  }
  const { turnMs, turns } = legs[legIndex]!;
  if (at.legIndex === legIndex && (turnMs === null || nowMs < at.turnEndsMs)) return { legs: now, at };
  return {
    legs: withLeg(now, legIndex, { turns: turns + 1 }),
    at: { legIndex, turnEndsMs: turnMs === null ? Infinity : nowMs + turnMs },
  };
}

/**
 * The legs that are not at work as they would find the rig: the wheel stands where it was left, a first focus is counted
 * from now, and the first leg of a night need not focus again what the opening focused.
 */
export function asFound<L extends LegInNight>(
  legs: readonly L[],
  at: AtWork,
  of: { nowMs: number; wheel: string; focused: boolean },
): readonly L[] {
  const begun = legs.some((l) => l.state.started);
  return legs.map((leg, legIndex) => {
    if (legIndex === at.legIndex) return leg;
    const left = of.wheel ? wheelLeftAt(leg.rules, leg.state, of.wheel) : leg.state;
    if (left.started) return left === leg.state ? leg : { ...leg, state: left };
    const state = begun ? { ...left, lastFocusEnd: of.nowMs } : left;
    const atStart = leg.focusAtStart && (begun || !of.focused);
    const rules =
      leg.rules.focus.atStart === atStart ? leg.rules : { ...leg.rules, focus: { ...leg.rules.focus, atStart } };
    return state === leg.state && rules === leg.rules ? leg : { ...leg, state, rules };
  });
}

/** A leg’s rules with the frames that other legs took tonight for the same project or panel, of the same length, counted as there. */
export function withOthersFrames(
  legs: readonly Pick<LegInNight, 'goal' | 'rules' | 'state'>[],
  leg: Pick<LegInNight, 'goal' | 'rules' | 'state'>,
): Rules {
  const others = legs.filter((l) => l !== leg && l.goal === leg.goal && l.state.started);
  if (others.length === 0) return leg.rules;
  const takenBy = (name: string, exposureS: number) =>
    others.reduce((sum, l) => {
      const i = l.rules.filters.findIndex((f) => f.name === name && f.exposureS === exposureS);
      return sum + (i < 0 ? 0 : l.state.taken[i]!);
    }, 0);
  const filters = leg.rules.filters.map((f) => ({ ...f, done: f.done + takenBy(f.name, f.exposureS) }));
  return { ...leg.rules, filters };
}
