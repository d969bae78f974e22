import { applyEvent, initialState, type Companion, type EngineState } from './engineState.ts';
import { frameMs, preparedMs, rulesOf, type Rules } from './rules.ts';
import type { TimelineInput } from './schemas.ts';
import { followingStep } from './step.ts';

/** Left to a waited-for frame beyond its length: no read-out takes the same time twice. Common practice, no source. */
const SPARE_MS = 1000;

/**
 * What a lead knows of a second camera it waits for: how it exposes frame after frame while the mount stands still. After
 * the first, a frame is begun only if half of it is done when the lead wants to move: else waiting for it costs more than
 * it brings. Frames that would reach across the lead’s meridian or end are not begun, so neither is ever waited past.
 * @param input the follower’s plan in the hours of its leg
 * @param lead end of the leg and its flip, if there is one [ms]
 */
export function companionOf(input: TimelineInput, lead: Companion['lead'], goal = ''): Companion {
  const rules = { ...rulesOf(input), follows: true };
  const { endMs, flipAtMs } = lead;
  return {
    rules,
    lead: { endMs, flipAtMs },
    goal,
    state: initialState(rules),
    freeMs: null,
    held: false,
    firstSinceMove: true,
  };
}

/** Its rules with the frames that the second cameras of other legs took for the same project counted as there. */
export function companionRules(companion: Companion, all: readonly (Companion | undefined)[]): Rules {
  const others = all.filter((c): c is Companion => c !== undefined && c !== companion && c.goal === companion.goal);
  if (others.length === 0) return companion.rules;
  const takenBy = (f: { name: string; exposureS: number }) =>
    others.reduce((s, c) => {
      const i = c.rules.filters.findIndex((g) => g.name === f.name && g.exposureS === f.exposureS);
      return s + (i < 0 ? 0 : c.state.taken[i]!);
    }, 0);
  return { ...companion.rules, filters: companion.rules.filters.map((f) => ({ ...f, done: f.done + takenBy(f) })) };
}

/** What it has done until a moment at which the lead wants to move, and until when it is busy then; nowMs where it is free. */
export function companionAt(
  before: Companion,
  nowMs: number,
  rules: Rules = before.rules,
): { companion: Companion; busyUntilMs: number } {
  let { freeMs, firstSinceMove } = before;
  let state: EngineState = before.state;
  const until = (busyUntilMs: number, held: boolean) => ({
    companion: { ...before, state, freeMs, firstSinceMove, held },
    busyUntilMs,
  });
  if (freeMs === null) return until(nowMs, before.held);
  while (freeMs < nowMs && !before.held) {
    const { endMs, flipAtMs } = before.lead;
    const flipMs = flipAtMs !== null && flipAtMs > freeMs ? flipAtMs : Infinity;
    const step = followingStep(rules, state, { nowMs: freeMs, shutUntilMs: null, shutsAtMs: Math.min(endMs, flipMs) });
    // with nothing to begin it is free
    if (step.do === 'wait' || step.do === 'stop' || freeMs >= rules.endMs) return until(nowMs, false);
    const focusedMs: number = freeMs + preparedMs(rules, { ...step.prepared, focus: true }, 'focus');
    if (step.do === 'focus') {
      state = applyEvent(state, { what: 'focused', atMs: focusedMs, filterIndex: step.filterIndex });
      freeMs = focusedMs;
      continue;
    }
    const longMs = frameMs(rules, step.filterIndex, step.prepared);
    if (!firstSinceMove && freeMs + longMs / 2 > nowMs) return until(nowMs, false);
    firstSinceMove = false;
    freeMs = Math.ceil(freeMs + longMs) + SPARE_MS;
    if (step.prepared.focus) state = applyEvent(state, { what: 'focused', atMs: focusedMs });
    state = applyEvent(state, {
      what: 'exposed',
      filterIndex: step.filterIndex,
      prepared: step.prepared,
      counts: true,
    });
  }
  return until(freeMs, freeMs >= nowMs);
}
