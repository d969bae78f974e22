import { phrase, type Phrase } from '../phrases/index.ts';
import { holds, type AspectHashes } from '../rig/index.ts';
import type { PlanSettings } from './plan.ts';

/** The state of a rig as a plan depends on it. */
export interface PlanBase {
  aspects: AspectHashes;
  /** The offsets that hold for it; null when there are none. */
  offsetSetId: string | null;
}

/**
 * What a plan was made for and no longer is: one phrase for each, none when it holds. Offsets count only where a leg
 * focuses by them.
 * @param madeFor null for a plan from before this was kept: nothing is claimed about it
 */
export function planHolds(
  madeFor: PlanBase | null,
  now: PlanBase,
  legs: readonly { settings: PlanSettings }[],
): Phrase[] {
  if (!madeFor) return [];
  const byOffsets = legs.some(({ settings: s }) => s.focus.policy === 'offsets' && s.filters.length > 1);
  const changed = (a: 'focus' | 'framing') => !holds(madeFor.aspects, now.aspects, a);
  return [
    ...(byOffsets && changed('focus')
      ? [phrase('plan.focus-changed')]
      : byOffsets && madeFor.offsetSetId !== now.offsetSetId
        ? [phrase('plan.other-offsets')]
        : []),
    ...(changed('framing') ? [phrase('plan.framing-changed')] : []),
  ];
}
