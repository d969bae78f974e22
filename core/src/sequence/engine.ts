import {
  focusLifetimeMs,
  nextFilter,
  preparation,
  stillWanted,
  type Preparation,
  type SequenceState,
} from './choice.ts';
import type { EventKind, FilterPlan, Order, Overheads, TimelineInput } from './schemas.ts';

/**
 * The one place that knows what a night does next. State and conditions give the next step; what happened gives the next
 * state. The timeline and the risk play it with durations that are known, the rehearsal and a run with what devices report.
 * Times are milliseconds since 1970, UTC.
 */
export interface Rules {
  startMs: number;
  endMs: number;
  /** When the target crosses the meridian; null when it does not inside the plan. */
  flipAtMs: number | null;
  filters: readonly FilterPlan[];
  order: Order;
  dither: TimelineInput['dither'];
  focus: TimelineInput['focus'];
  /** What each thing takes [ms]. */
  takesMs: Record<Prepare | 'download', number>;
  /** How long a focus run holds by time or by cooling [ms]. */
  focusHoldsMs: number;
  /** By place, the spells in which a filter may be used [ms], null: always. Left out where every filter always may. */
  duringMs: readonly (readonly (readonly [number, number])[] | null)[] | null;
  /** The mount is another camera’s: what does not fit before its next move is not waited for, and focus comes by itself. */
  follows?: boolean;
}
/** What may have to come before a frame, in the order it is done in. */
const PREPARE = ['flip', 'slew', 'filter', 'focus', 'guide', 'dither'] as const;
type Prepare = (typeof PREPARE)[number];

export interface EngineState extends SequenceState {
  /** From which side of its meridian flip the mount points at this object; none before it was first pointed, or since it went elsewhere. */
  side: 'before' | 'after' | null;
  /** Exposures begun in this run, by place: what counts and what was refused. */
  shot: number[];
  /** Focus was renewed without a frame after it: the next one begins with it. */
  focusedAlone?: boolean;
  /** A second camera whose frame is waited for before the mount moves; none where nobody is waited for. */
  companion?: Companion;
}

/** A second camera on the same mount, as the lead knows it. */
export interface Companion {
  /** When the frame it is at is read out; now or before where it is at none. */
  busyUntilMs: (nowMs: number) => number;
  /** The mount stands still from then on: it may begin. */
  stands: (atMs: number) => void;
  /** What it is at is lost: the sky shut, or the mount went elsewhere. */
  lost: () => void;
  /** Frames of a filter and length that it took so far. */
  taken: (name: string, exposureS: number) => number;
  /** The second cameras of other legs for the same project. */
  share: (others: readonly Companion[]) => void;
}

/** What is known of the sky at this moment. */
export interface Conditions {
  nowMs: number;
  /** Shut now until then; null where the sky is open. A watcher who cannot know says when to look again. */
  shutUntilMs: number | null;
  /** The next moment at which it will be shut, where that is known beforehand; infinite where it is not. */
  shutsAtMs: number;
  /** The last frames came out wide: focus before the next, whatever the rule says. */
  focusNow?: boolean;
  /** A filter out of its turn may use what is left before the next barrier; a timeline keeps its order whatever comes. */
  mayFill?: boolean;
}

export interface Part {
  kind: Exclude<EventKind, 'wait'>;
  ms: number;
}

export type Step =
  /** Nothing to do until then: the sky is shut, or no whole frame fits before the meridian or the end. */
  | { do: 'wait'; untilMs: number; why: 'cloud' | 'meridian' | 'end' | 'shut-soon' | 'moon' | 'second-camera' }
  /** One frame with all that must come before it, in this order. */
  | { do: 'frame'; place: number; frame: number; prepared: Preparation }
  /** Focus alone, for a frame that comes after the lead’s next move. */
  | { do: 'focus'; place: number; prepared: Preparation }
  /** Nothing is wanted any more. */
  | { do: 'stop' };

/** Rounding of sums of milliseconds: a frame that ends exactly at a barrier fits. */
const SLACK_MS = 1e-3;

export function rulesOf(input: TimelineInput): Rules {
  const [startMs, endMs] = [Date.parse(input.start), Date.parse(input.end)];
  const flip = input.flipAt ? Date.parse(input.flipAt) : null;
  return {
    startMs,
    endMs,
    flipAtMs: flip !== null && flip > startMs && flip < endMs ? flip : null,
    filters: input.filters,
    order: input.order,
    dither: input.dither,
    focus: input.focus,
    takesMs: takesMs(input.overheads),
    focusHoldsMs: focusLifetimeMs(input.focus),
    duringMs: input.filters.some((f) => f.during)
      ? input.filters.map((f) => f.during?.map((s) => [Date.parse(s.start), Date.parse(s.end)] as const) ?? null)
      : null,
  };
}
const takesMs = (o: Overheads): Rules['takesMs'] => ({
  flip: 1000 * o.flipS,
  slew: 1000 * o.slewCentreS,
  filter: 1000 * o.filterChangeS,
  focus: 1000 * o.autofocusS,
  guide: 1000 * o.guideStartS,
  dither: 1000 * o.ditherS,
  download: 1000 * o.downloadS,
});

/** Before anything was done. */
export const initialState = (r: Rules): EngineState => ({
  taken: r.filters.map(() => 0),
  shot: r.filters.map(() => 0),
  last: -1,
  wheel: -1,
  needsSlew: true,
  side: null,
  started: false,
  lastFocusEnd: r.startMs,
  framesSinceDither: 0,
});

/** Whether something before the frame turns the mount away from where it stands, if only by some pixels. */
export const movesMount = (p: Preparation): boolean => p.dither || p.slew || p.flip;

/** All the parts of a frame with their lengths, in the order they happen. */
export function partsOf(rules: Rules, frame: { place: number; prepared: Preparation }): Part[] {
  const before = PREPARE.filter((kind) => frame.prepared[kind]).map((kind): Part => ({
    kind,
    ms: rules.takesMs[kind],
  }));
  return [
    ...before,
    { kind: 'expose', ms: 1000 * rules.filters[frame.place]!.exposureS },
    { kind: 'download', ms: rules.takesMs.download },
  ];
}

/** When a frame begun now is read out: step by step, as the parts are. */
function endOf({ takesMs: t, filters }: Rules, p: Preparation, place: number, nowMs: number): number {
  let ms = nowMs;
  if (p.flip) ms += t.flip;
  if (p.slew) ms += t.slew;
  if (p.filter) ms += t.filter;
  if (p.focus) ms += t.focus;
  if (p.guide) ms += t.guide;
  if (p.dither) ms += t.dither;
  return ms + 1000 * filters[place]!.exposureS + t.download;
}

/** Until when a filter may be used, begun now; −Infinity where it may not. */
function openUntil(rules: Rules, place: number, nowMs: number): number {
  const spells = rules.duringMs?.[place];
  if (!spells) return Infinity;
  return spells.find(([a, b]) => nowMs >= a && nowMs < b)?.[1] ?? -Infinity;
}
/** When the next filter that is still wanted may be used; infinite where none will. */
function opensAt(rules: Rules, state: EngineState, nowMs: number): number {
  const later = rules.filters.flatMap((f, i) =>
    stillWanted(f, state.taken[i]!) > 0 ? (rules.duringMs?.[i] ?? []).map(([a]) => a).filter((a) => a > nowMs) : [],
  );
  return Math.min(Infinity, ...later);
}

/** What to do now. The state is only looked at: what came of it is for `happened`. */
export function nextStep(rules: Rules, state: EngineState, c: Conditions): Step {
  if (c.nowMs >= rules.endMs) return { do: 'stop' };
  if (c.shutUntilMs !== null) return { do: 'wait', untilMs: Math.min(c.shutUntilMs, rules.endMs), why: 'cloud' };
  if (rules.follows) return followingStep(rules, state, c);
  // nothing stands on the wrong side before the first frame: the first slew goes to the right one
  const flip = rules.flipAtMs !== null && c.nowMs >= rules.flipAtMs && state.side === 'before';
  const prepared = (i: number): Preparation => {
    const asked = preparation(rules, state, i, c.nowMs, flip, rules.focusHoldsMs);
    return c.focusNow ? { ...asked, focus: true } : asked;
  };
  // a filter whose spell ends before its frame would is as good as shut
  const open = rules.duringMs
    ? (i: number) => c.nowMs + endOf(rules, prepared(i), i, 0) <= openUntil(rules, i, c.nowMs) + SLACK_MS
    : undefined;
  const place = nextFilter(rules.order, rules.filters, state.taken, state.last, open);
  if (place < 0) {
    const opens = rules.duringMs ? opensAt(rules, state, c.nowMs) : Infinity;
    return opens < rules.endMs ? { do: 'wait', untilMs: opens, why: 'moon' } : { do: 'stop' };
  }
  const flipMs = rules.flipAtMs !== null && c.nowMs < rules.flipAtMs ? rules.flipAtMs : Infinity;
  const barrierMs = Math.min(rules.endMs, flipMs, c.shutsAtMs);
  const fits = (i: number) => c.nowMs + endOf(rules, prepared(i), i, 0) <= barrierMs + SLACK_MS;
  const frame = (i: number): Step => {
    const asked = prepared(i);
    const busyMs = state.companion && movesMount(asked) ? state.companion.busyUntilMs(c.nowMs) : -Infinity;
    if (busyMs > c.nowMs) return { do: 'wait', untilMs: Math.min(busyMs, rules.endMs), why: 'second-camera' };
    return { do: 'frame', place: i, frame: rules.filters[i]!.done + state.shot[i]! + 1, prepared: asked };
  };
  if (fits(place)) return frame(place);
  const filler = c.mayFill
    ? nextFilter(rules.order, rules.filters, state.taken, state.last, (i) => fits(i) && (!open || open(i)))
    : -1;
  if (filler >= 0) return frame(filler);
  return {
    do: 'wait',
    untilMs: barrierMs,
    why: barrierMs === flipMs ? 'meridian' : barrierMs === c.shutsAtMs ? 'shut-soon' : 'end',
  };
}

/** The same for a camera that follows: of the filters that are wanted, one whose frame ends before the lead moves. */
function followingStep(rules: Rules, state: EngineState, c: Conditions): Step {
  const usable = (i: number) => openUntil(rules, i, c.nowMs) > c.nowMs;
  const wanted = nextFilter(rules.order, rules.filters, state.taken, state.last, usable);
  if (wanted < 0) {
    const opens = opensAt(rules, state, c.nowMs);
    return opens < rules.endMs ? { do: 'wait', untilMs: opens, why: 'moon' } : { do: 'stop' };
  }
  const asked = (i: number): Preparation => {
    const p = preparation(rules, state, i, c.nowMs, false, rules.focusHoldsMs);
    // what was focused by itself through this filter need not be focused again before its frame
    const due =
      p.focus && !(state.focusedAlone && state.wheel === i && c.nowMs - state.lastFocusEnd < rules.focusHoldsMs);
    return { ...p, focus: due || c.focusNow === true };
  };
  const barrierMs = Math.min(rules.endMs, c.shutsAtMs) + SLACK_MS;
  const fits = (i: number) =>
    c.nowMs + endOf(rules, asked(i), i, 0) <= Math.min(barrierMs, openUntil(rules, i, c.nowMs) + SLACK_MS);
  const place = nextFilter(rules.order, rules.filters, state.taken, state.last, (i) => usable(i) && fits(i));
  if (place >= 0)
    return { do: 'frame', place, frame: rules.filters[place]!.done + state.shot[place]! + 1, prepared: asked(place) };
  const prepared = asked(wanted);
  const { filter, focus } = rules.takesMs;
  if (prepared.focus && c.nowMs + (prepared.filter ? filter : 0) + focus <= barrierMs)
    return { do: 'focus', place: wanted, prepared };
  return {
    do: 'wait',
    untilMs: Math.min(rules.endMs, c.shutsAtMs),
    why: c.shutsAtMs < rules.endMs ? 'shut-soon' : 'end',
  };
}

/** What the state needs to hear of. */
export type Happening =
  /** The sky was shut: what was pointed and guided must be so again. */
  | { what: 'shut' }
  /** The mount went to another object: it is pointed anew, from whichever side is right by then. */
  | { what: 'elsewhere' }
  /** The mount points at it from this side now, whether or not a frame follows. */
  | { what: 'pointed'; side: EngineState['side'] }
  /** A focus run ended, usable or not; through which filter, where the wheel turned for it and no frame follows. */
  | { what: 'focused'; atMs: number; place?: number }
  /** An exposure was taken after this preparation; one that was refused does not count towards its quota. */
  | { what: 'exposed'; place: number; prepared: Preparation; counts: boolean };

/** Brings the state up to date, in place: a night has many thousand of these. */
export function applyEvent(state: EngineState, h: Happening): void {
  switch (h.what) {
    case 'shut':
      state.needsSlew = true;
      state.companion?.lost();
      return;
    case 'elsewhere':
      state.needsSlew = true;
      state.side = null;
      state.companion?.lost();
      return;
    case 'pointed':
      state.side = h.side;
      return;
    case 'focused':
      state.lastFocusEnd = h.atMs;
      if (h.place !== undefined) {
        state.wheel = h.place;
        state.focusedAlone = true;
      }
      return;
    case 'exposed': {
      const { place, prepared } = h;
      state.shot[place]! += 1;
      if (h.counts) state.taken[place]! += 1;
      state.last = place;
      state.wheel = place;
      state.started = true;
      state.focusedAlone = false;
      state.needsSlew = false;
      state.framesSinceDither = prepared.dither || prepared.slew || prepared.flip ? 1 : state.framesSinceDither + 1;
    }
  }
}

/** From which side of its flip an object is pointed at, at a moment. */
export const sideAt = (rules: Pick<Rules, 'flipAtMs'>, ms: number): EngineState['side'] =>
  rules.flipAtMs === null ? null : ms < rules.flipAtMs ? 'before' : 'after';

/** Takes a frame with durations that are known, focus by itself too. @returns when it is done [ms] */
export function takeStep(
  rules: Rules,
  state: EngineState,
  step: Step & { do: 'frame' | 'focus' },
  nowMs: number,
): number {
  const { place, prepared } = step;
  const t = rules.takesMs;
  if (step.do === 'focus') {
    const atMs = nowMs + (prepared.filter ? t.filter : 0) + t.focus;
    applyEvent(state, { what: 'focused', atMs, place });
    return atMs;
  }
  if (prepared.focus) {
    // everything up to the end of the focus run
    const before =
      nowMs + (prepared.flip ? t.flip : 0) + (prepared.slew ? t.slew : 0) + (prepared.filter ? t.filter : 0);
    applyEvent(state, { what: 'focused', atMs: before + t.focus });
  }
  const endMs = endOf(rules, prepared, place, nowMs);
  if (movesMount(prepared)) state.companion?.stands(endMs - 1000 * rules.filters[place]!.exposureS - t.download);
  if (prepared.slew || prepared.flip) applyEvent(state, { what: 'pointed', side: sideAt(rules, nowMs) });
  applyEvent(state, { what: 'exposed', place, prepared, counts: true });
  return endMs;
}

/** Tells a leg that is begun where the wheel was left by another: at one of its own filters, or somewhere else. */
export function wheelLeftAt(rules: Rules, state: EngineState, filter: string): void {
  const place = rules.filters.findIndex((f) => f.name === filter);
  state.wheel = place >= 0 ? place : rules.filters.length;
}

/** Somebody who wants to know what a played night is made of. */
export interface Listener {
  frame: (frame: { place: number; frame: number; prepared: Preparation }, startMs: number) => void;
  wait: (startMs: number, endMs: number, forSecondCamera?: boolean) => void;
  /** Focus by itself, after a turn of the wheel where there was one. */
  focus?: (step: { place: number; prepared: Preparation }, startMs: number) => void;
}

/**
 * Plays a plan with durations that are known, to its end.
 * @param shut spells in which the sky is shut, in order and apart from each other, inside the plan
 * @param state what went before, where the plan is gone on with
 * @returns the state at the end
 */
export function play(
  rules: Rules,
  shut: readonly (readonly [number, number])[],
  listener?: Listener,
  state: EngineState = initialState(rules),
  mayFill = false,
): EngineState {
  const conditions: Conditions = { nowMs: rules.startMs, shutUntilMs: null, shutsAtMs: Infinity, mayFill };
  let spell = 0;
  let now = rules.startMs;
  for (;;) {
    const next = shut[spell];
    const inside = next !== undefined && now >= next[0];
    conditions.nowMs = now;
    conditions.shutUntilMs = inside ? next[1] : null;
    conditions.shutsAtMs = inside || next === undefined ? Infinity : next[0];
    const step = nextStep(rules, state, conditions);
    if (step.do === 'stop') break;
    if (step.do === 'wait') {
      listener?.wait(now, step.untilMs, step.why === 'second-camera');
      now = step.untilMs;
      if (inside) {
        spell++;
        applyEvent(state, { what: 'shut' });
      }
      continue;
    }
    if (step.do === 'focus') listener?.focus?.(step, now);
    else listener?.frame(step, now);
    now = takeStep(rules, state, step, now);
  }
  listener?.wait(now, rules.endMs);
  return state;
}
