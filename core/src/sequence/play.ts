import type { Preparation } from './choice.ts';
import { applyEvent, initialState, sideAt, type EngineState } from './engineState.ts';
import { nextStep } from './nextStep.ts';
import { frameMs, movesMount, preparedMs, type Rules } from './rules.ts';
import type { Conditions, Step } from './step.ts';

/** Takes a frame with durations that are known, focus by itself too. @returns the state after it, and when it is done [ms] */
export function takeStep(
  rules: Rules,
  before: EngineState,
  step: Step & { do: 'frame' | 'focus' },
  nowMs: number,
): { state: EngineState; endMs: number } {
  const { filterIndex, prepared } = step;
  if (step.do === 'focus') {
    const alone = { ...prepared, flip: false, slew: false };
    const atMs = nowMs + preparedMs(rules, alone, 'focus');
    return { state: applyEvent(before, { what: 'focused', atMs, filterIndex }), endMs: atMs };
  }
  let state = step.companion ? applyEvent(before, { what: 'second-camera', companion: step.companion }) : before;
  if (prepared.focus)
    state = applyEvent(state, { what: 'focused', atMs: nowMs + preparedMs(rules, prepared, 'focus') });
  if (movesMount(prepared)) state = applyEvent(state, { what: 'stands', atMs: nowMs + preparedMs(rules, prepared) });
  if (prepared.slew || prepared.flip) state = applyEvent(state, { what: 'pointed', side: sideAt(rules, nowMs) });
  state = applyEvent(state, { what: 'exposed', filterIndex, prepared, counts: true });
  return { state, endMs: nowMs + frameMs(rules, filterIndex, prepared) };
}

/** Somebody who wants to know what a played night is made of. */
export interface Listener {
  frame: (frame: { filterIndex: number; frame: number; prepared: Preparation }, startMs: number) => void;
  wait: (startMs: number, endMs: number, forSecondCamera?: boolean) => void;
  /** Focus by itself, after a turn of the wheel where there was one. */
  focus?: (step: { filterIndex: number; prepared: Preparation }, startMs: number) => void;
}

/**
 * Plays a plan with durations that are known, to its end.
 * @param shut spells in which the sky is shut, in order and apart from each other, inside the plan
 * @param before what went before, where the plan is gone on with
 * @returns the state at the end
 */
export function play(
  rules: Rules,
  shut: readonly (readonly [number, number])[],
  listener?: Listener,
  before: EngineState = initialState(rules),
  mayFill = false,
): EngineState {
  let state = before;
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
      if (step.companion) state = applyEvent(state, { what: 'second-camera', companion: step.companion });
      now = step.untilMs;
      if (inside) {
        spell++;
        state = applyEvent(state, { what: 'shut' });
      }
      continue;
    }
    if (step.do === 'focus') listener?.focus?.(step, now);
    else listener?.frame(step, now);
    ({ state, endMs: now } = takeStep(rules, state, step, now));
  }
  listener?.wait(now, rules.endMs);
  return state;
}
