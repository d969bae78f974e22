import { focusWornOut, nextFilter, preparation, stillWanted, type Preparation } from './choice.ts';
import type { Companion, EngineState } from './engineState.ts';
import { fitsBefore, frameMs, preparedMs, type Rules } from './rules.ts';

/** What is known of the sky at this moment. */
export interface Conditions {
  nowMs: number;
  /** Shut now until then; null where the sky is open. A watcher who cannot know says when to look again. */
  shutUntilMs: number | null;
  /** The next moment at which it will be shut, where that is known beforehand; infinite where it is not. */
  shutsAtMs: number;
  /** What the focuser’s sensor reads [°C]; where it is known, “by so many degrees” goes by it and not by an expected cooling. */
  temperatureC?: number | undefined;
  /** The rules of the second camera that is waited for, with what others took of its goals counted; its own where left out. */
  companionRules?: Rules | undefined;
  /** The last frames came out wide: focus before the next, whatever the rule says. */
  focusNow?: boolean;
  /** A filter out of its turn may use what is left before the next barrier; a timeline keeps its order whatever comes. */
  mayFill?: boolean;
}

export type Step =
  /** Nothing to do until then: the sky is shut, or no whole frame fits before the meridian or the end. */
  | {
      do: 'wait';
      untilMs: number;
      why: 'cloud' | 'meridian' | 'end' | 'shut-soon' | 'moon' | 'second-camera';
      companion?: Companion;
    }
  /** One frame with all that must come before it, in this order. */
  | { do: 'frame'; filterIndex: number; frame: number; prepared: Preparation; companion?: Companion }
  /** Focus alone, for a frame that comes after the lead’s next move. */
  | { do: 'focus'; filterIndex: number; prepared: Preparation }
  /** Nothing is wanted any more. */
  | { do: 'stop' };

/** Until when a filter may be used, begun now; −Infinity where it may not. */
export function openUntil(rules: Rules, filterIndex: number, nowMs: number): number {
  const spells = rules.duringMs?.[filterIndex];
  if (!spells) return Infinity;
  return spells.find(([a, b]) => nowMs >= a && nowMs < b)?.[1] ?? -Infinity;
}
/** When the next filter that is still wanted may be used; infinite where none will. */
export function opensAt(rules: Rules, state: EngineState, nowMs: number): number {
  const later = rules.filters.flatMap((f, i) =>
    stillWanted(f, state.taken[i]!) > 0 ? (rules.duringMs?.[i] ?? []).map(([a]) => a).filter((a) => a > nowMs) : [],
  );
  return Math.min(Infinity, ...later);
}

/** The step of a camera that follows: of the filters that are wanted, one whose frame ends before the lead moves. */
export function followingStep(rules: Rules, state: EngineState, c: Conditions): Step {
  const usable = (i: number) => openUntil(rules, i, c.nowMs) > c.nowMs;
  const wanted = nextFilter(rules.order, rules.filters, state.taken, state.last, usable);
  if (wanted < 0) {
    const opens = opensAt(rules, state, c.nowMs);
    return opens < rules.endMs ? { do: 'wait', untilMs: opens, why: 'moon' } : { do: 'stop' };
  }
  const preparationOf = (i: number): Preparation => {
    const p = preparation(rules, state, i, c.nowMs, false, rules.focusHolds, c.temperatureC);
    // what was focused by itself through this filter need not be focused again before its frame
    const due =
      p.focus &&
      !(
        state.focusedAlone &&
        state.wheel === i &&
        !focusWornOut(rules.focus, state, c.nowMs, rules.focusHolds, c.temperatureC)
      );
    return { ...p, focus: due || c.focusNow === true };
  };
  const barrierMs = Math.min(rules.endMs, c.shutsAtMs);
  const fits = (i: number) =>
    fitsBefore(c.nowMs, frameMs(rules, i, preparationOf(i)), Math.min(barrierMs, openUntil(rules, i, c.nowMs)));
  const filterIndex = nextFilter(rules.order, rules.filters, state.taken, state.last, (i) => usable(i) && fits(i));
  if (filterIndex >= 0)
    return {
      do: 'frame',
      filterIndex,
      frame: rules.filters[filterIndex]!.done + state.shot[filterIndex]! + 1,
      prepared: preparationOf(filterIndex),
    };
  const prepared = preparationOf(wanted);
  const alone = { ...prepared, flip: false, slew: false, guide: false, dither: false };
  if (prepared.focus && fitsBefore(c.nowMs, preparedMs(rules, alone), barrierMs))
    return { do: 'focus', filterIndex: wanted, prepared };
  return {
    do: 'wait',
    untilMs: barrierMs,
    why: c.shutsAtMs < rules.endMs ? 'shut-soon' : 'end',
  };
}
