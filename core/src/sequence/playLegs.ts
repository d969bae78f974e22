import { applyEvent } from './engineState.ts';
import type { Interval } from './intervals.ts';
import { takeStep } from './play.ts';
import type { Rules } from './rules.ts';
import type { Step } from './step.ts';
import { asFound, beginTurn, whoseTurn, withLeg, type AtWork, type LegInNight, type Next } from './whoseTurn.ts';

export type IdleWhy = (Next & { do: 'wait' })['why'];

/** How a night of legs is played. */
export interface NightOfLegs {
  openedMs: number;
  /** The opening focused already. */
  focused: boolean;
  /** The filter the wheel was left at; empty where nothing turned it. */
  wheel: string;
  /** Spells in which the sky is shut, in order and apart from each other; left out: it stays open. */
  shut?: readonly Interval[];
}
/** Somebody who wants to know what the night is made of. `legIndex` null: no leg’s hours are open. */
export interface NightListener {
  frame?: (legIndex: number, rules: Rules, step: Step & { do: 'frame' }, startMs: number) => void;
  focus?: (legIndex: number, rules: Rules, step: Step & { do: 'focus' }, startMs: number) => void;
  wait?: (legIndex: number | null, why: IdleWhy, startMs: number, endMs: number) => void;
  /** Frame, focus or wait: to whom the time belongs. */
  spent?: (legIndex: number | null, startMs: number, endMs: number) => void;
}

/**
 * Plays the legs of a night frame by frame, with durations that are known. The layout plays it under an open sky, the risk
 * under many drawn ones.
 * @returns the legs as they stand when nothing is left to do, and when that is [ms]
 */
export function playLegs<L extends LegInNight>(
  start: readonly L[],
  { openedMs, focused, shut = [], ...of }: NightOfLegs,
  listener: NightListener,
): { legs: readonly L[]; endMs: number } {
  let legs = start;
  let { wheel } = of;
  let at: AtWork = { legIndex: null, turnEndsMs: -Infinity };
  let spell = 0;
  const waited = (legIndex: number | null, why: IdleWhy, from: number, to: number) => {
    listener.wait?.(legIndex, why, from, to);
    listener.spent?.(legIndex, from, to);
  };
  for (let now = openedMs; ;) {
    while (spell < shut.length && now >= shut[spell]![1]) spell++;
    const [shutsAtMs, opensMs] = shut[spell] ?? [Infinity, Infinity];
    legs = asFound(legs, at, { nowMs: now, wheel, focused });
    const nowMs = now;
    const next = whoseTurn(legs, at, () => ({ nowMs, shutsAtMs: nowMs >= shutsAtMs ? Infinity : shutsAtMs }));
    if (next.do === 'close') return { legs, endMs: now };
    if (now >= shutsAtMs) {
      waited(at.legIndex, 'cloud', now, opensMs);
      if (at.legIndex !== null)
        legs = withLeg(legs, at.legIndex, { state: applyEvent(legs[at.legIndex]!.state, { what: 'shut' }) });
      now = opensMs;
      continue;
    }
    if (next.do === 'wait') {
      if (next.legIndex !== null && next.companion) {
        const { state } = legs[next.legIndex]!;
        const known = applyEvent(state, { what: 'second-camera', companion: next.companion });
        legs = withLeg(legs, next.legIndex, { state: known });
      }
      waited(next.legIndex, next.why, now, next.untilMs);
      now = next.untilMs;
      continue;
    }
    ({ legs, at } = beginTurn(legs, at, next, now));
    const { step, rules, legIndex } = next;
    if (step.do === 'frame') listener.frame?.(legIndex, rules, step, now);
    else listener.focus?.(legIndex, rules, step, now);
    const { state, endMs } = takeStep(rules, legs[legIndex]!.state, step, now);
    legs = withLeg(legs, legIndex, { state });
    wheel = rules.filters[step.filterIndex]!.name;
    listener.spent?.(legIndex, now, endMs);
    now = endMs;
  }
}
