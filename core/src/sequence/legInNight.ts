import { legInitialState } from './follower.ts';
import type { PreparedLeg } from './legTimeline.ts';
import { rulesOf } from './rules.ts';
import { turnsOf, type LegInNight } from './whoseTurn.ts';

/** A leg before its night, which is opened at a moment [ms]; null where it has no hours. */
export function legInNight(prepared: PreparedLeg, openedMs: number): LegInNight | null {
  if (!prepared.input) return null;
  const rules = rulesOf(prepared.input);
  const { role, goal, hours, follower } = prepared;
  return {
    role,
    goal,
    hours,
    rules,
    focusAtStart: rules.focus.atStart,
    state: legInitialState(
      rules,
      openedMs,
      follower?.waitedFor ? { input: follower.input, goal: follower.projectId } : null,
    ),
    ...turnsOf(prepared.turnMin),
  };
}

/** How the opening leaves the rig: focused or not, and then through the first filter of the first leg that has hours. */
export function openingLeaves(
  opening: readonly { step: string }[],
  prepared: readonly PreparedLeg[],
): { focused: boolean; wheel: string } {
  const focused = opening.some((s) => s.step === 'focus');
  return { focused, wheel: focused ? (prepared.find((p) => p.input)?.input!.filters[0]!.name ?? '') : '' };
}

/** When the opening of a laid-out night is done [ms], and how it leaves the rig. */
export function afterOpening(
  schedule: { startMs: number; pieces: readonly { part: string; endMs: number }[] },
  opening: readonly { step: string }[],
  prepared: readonly PreparedLeg[],
): { openedMs: number; focused: boolean; wheel: string } {
  const openedMs = schedule.pieces.findLast((p) => p.part === 'opening')?.endMs ?? schedule.startMs;
  return { openedMs, ...openingLeaves(opening, prepared) };
}
