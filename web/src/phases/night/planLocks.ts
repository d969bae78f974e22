import { nameOf, words } from '@keen/core/phrases';
import type { PlanRecord } from '@keen/contract';
import { movedToNight, nightMover, type Leg, type LegSchedule, type PlanField } from '@keen/core/sequence';
import { clock } from '../../common/times.ts';
import { STEP_WORDS, watchWords } from './nightWords.ts';
import { planDraftOf, type PlanDraft } from './usePlan.ts';

/** What single fields of a plan are called, and what closing one keeps. */
export const FIELD_WORDS: Record<PlanField, { label: string; help: string }> = {
  targets: { label: 'Targets', help: 'Which objects are worked, and in which order.' },
  hours: { label: 'Hours', help: 'When each leg begins and ends.' },
  filters: { label: 'Filters and goals', help: 'Which filters, how many frames, and their Moon rule.' },
  exposures: { label: 'Exposures', help: 'How long each frame is exposed.' },
  order: { label: 'Order', help: 'How the filters follow each other.' },
  focus: { label: 'Focus', help: 'When it is focused again.' },
  dither: { label: 'Dither', help: 'How often the pointing is moved between frames.' },
  following: { label: 'Guiding and flip', help: 'Whether the guider runs, and what happens at the meridian.' },
  opening: { label: 'Opening', help: 'The steps before the first leg.' },
  closing: { label: 'Closing', help: 'The steps after the last leg.' },
  watches: { label: 'Watches', help: 'What is done when cloud or the Sun comes.' },
};

/** A closed field as it stands, in words. */
export function closedValue(
  field: PlanField,
  plan: PlanDraft,
  leg: Leg,
  schedule: LegSchedule | null,
  names: readonly string[],
  timeZone: string,
  units: Parameters<typeof watchWords>[1],
): string {
  const { settings: s } = leg;
  switch (field) {
    case 'targets':
      return names.join(', ');
    case 'hours':
      return schedule?.startMs
        ? `${clock(schedule.startMs, timeZone)}–${clock(schedule.endMs!, timeZone)}`
        : 'none this night';
    case 'filters':
      return s.filters.map((f) => `${f.name} ${f.quota}`).join(', ');
    case 'exposures':
      return s.filters.map((f) => `${f.name} ${f.exposureS} s`).join(', ');
    case 'order':
      return s.order;
    case 'focus':
      return words(nameOf(s.focus.policy));
    case 'dither':
      return s.dither.perRound
        ? 'once a round'
        : s.dither.everyFrames
          ? `every ${s.dither.everyFrames} frames`
          : 'never';
    case 'following':
      return `${leg.guiding ? 'guided' : 'unguided'}, ${leg.meridian === 'flip' ? 'flips' : 'stops at the meridian'}`;
    case 'opening':
    case 'closing':
      return plan[field].map((x) => STEP_WORDS[x.step]).join(', ') || 'none';
    case 'watches':
      return watchWords(plan.watches, units);
  }
}

/** A protected plan as a member begins with it on another night: closed fields as they are, the target one’s own where that is open. */
export function begunFrom(source: PlanRecord, night: string, timeZone: string, projectId: string): PlanDraft {
  const moved = movedToNight(planDraftOf(source), nightMover(timeZone, source.night, night));
  const open = !source.locks.some((l) => l.field === 'targets');
  const [first, ...rest] = moved.legs;
  return {
    ...moved,
    legs: open ? [{ ...first!, projectId }] : [first!, ...rest],
    locked: false,
    fromPlanId: source.id,
  };
}
