import { nextFilter, preparation, type Preparation } from './choice.ts';
import { companionAt } from './companion.ts';
import type { EngineState } from './engineState.ts';
import { fitsBefore, frameMs, movesMount, type Rules } from './rules.ts';
import { followingStep, openUntil, opensAt, type Conditions, type Step } from './step.ts';

/** What to do now. The state is only looked at: what came of it is for `applyEvent`. */
export function nextStep(rules: Rules, state: EngineState, c: Conditions): Step {
  if (c.nowMs >= rules.endMs) return { do: 'stop' };
  if (c.shutUntilMs !== null) return { do: 'wait', untilMs: Math.min(c.shutUntilMs, rules.endMs), why: 'cloud' };
  if (rules.follows) return followingStep(rules, state, c);
  // nothing stands on the wrong side before the first frame: the first slew goes to the right one
  const flip = rules.flipAtMs !== null && c.nowMs >= rules.flipAtMs && state.side === 'before';
  const prepared = (i: number): Preparation => {
    const needed = preparation(rules, state, i, c.nowMs, flip, rules.focusHolds, c.temperatureC);
    return c.focusNow ? { ...needed, focus: true } : needed;
  };
  // a filter whose spell ends before its frame would is as good as shut
  const open = rules.duringMs
    ? (i: number) => fitsBefore(c.nowMs, frameMs(rules, i, prepared(i)), openUntil(rules, i, c.nowMs))
    : undefined;
  const filterIndex = nextFilter(rules.order, rules.filters, state.taken, state.last, open);
  if (filterIndex < 0) {
    const opens = rules.duringMs ? opensAt(rules, state, c.nowMs) : Infinity;
    return opens < rules.endMs ? { do: 'wait', untilMs: opens, why: 'moon' } : { do: 'stop' };
  }
  const flipMs = rules.flipAtMs !== null && c.nowMs < rules.flipAtMs ? rules.flipAtMs : Infinity;
  const barrierMs = Math.min(rules.endMs, flipMs, c.shutsAtMs);
  const fits = (i: number) => fitsBefore(c.nowMs, frameMs(rules, i, prepared(i)), barrierMs);
  const frame = (i: number): Step => {
    const needed = prepared(i);
    const step = {
      do: 'frame',
      filterIndex: i,
      frame: rules.filters[i]!.done + state.shot[i]! + 1,
      prepared: needed,
    } as const;
    if (!state.companion || !movesMount(needed)) return step;
    const { companion, busyUntilMs } = companionAt(state.companion, c.nowMs, c.companionRules);
    return busyUntilMs > c.nowMs
      ? { do: 'wait', untilMs: Math.min(busyUntilMs, rules.endMs), why: 'second-camera', companion }
      : { ...step, companion };
  };
  if (fits(filterIndex)) return frame(filterIndex);
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
