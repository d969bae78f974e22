import {
  movingSpells,
  twilightMs,
  type Watches,
  type LaidNight,
  type NightPlan,
  type PreparedLeg,
} from '../sequence/index.ts';
import type { NightOutput } from '../sky/index.ts';
import type { AppliedOffsets, RunLeg, RunPlan, RunResult } from './run.ts';

/**
 * What a second camera does beside a run of its lead: the same legs, between the lead’s moves.
 * @param lead what the lead did
 * @returns null where no leg has a follower with hours
 */
export function followerPlanOf(
  of: {
    prepared: readonly PreparedLeg[];
    targets: readonly RunLeg['target'][];
    offsets: AppliedOffsets | null;
    focusReachSteps: number;
    watches: Watches;
  },
  lead: Pick<RunResult, 'events' | 'end'>,
): RunPlan | null {
  const taken = lead.events.map((e) => e.leg);
  const legs = of.prepared.flatMap((p, place) => {
    const beside = p.follower;
    if (!beside || !taken.includes(place)) return [];
    const [startMs, endMs] = [Date.parse(beside.input.start), Date.parse(beside.input.end)];
    const moving = movingSpells(
      lead.events.filter((e) => e.leg === place),
      startMs,
      endMs,
    );
    return [{ place, projectId: beside.projectId, work: beside.projectId, timeline: beside.input, role: 'main' as const, turnMin: null, target: of.targets[place]!, guiding: true, centreWithinArcmin: 30, moving }]; // prettier-ignore
  });
  if (legs.length === 0) return null;
  const { offsets, focusReachSteps } = of;
  return {
    opening: [],
    legs,
    closing: [],
    watches: of.watches,
    endMs: Date.parse(lead.end),
    offsets,
    focusReachSteps,
  };
}

/** What the conductor works through: a night plan with its hours, in the plan’s order. */
export function runPlanOf(
  plan: NightPlan,
  laid: LaidNight,
  of: {
    prepared: readonly PreparedLeg[];
    targets: readonly RunLeg['target'][];
    night: NightOutput;
    offsets: AppliedOffsets | null;
    focusReachSteps: number;
  },
): RunPlan {
  const step = <S extends string>(side: 'dusk' | 'dawn', s: { step: S; minutes: number; notBefore: NightPlan['opening'][number]['notBefore'] }) => ({
    step: s.step,
    minutes: s.minutes,
    notBeforeMs: s.notBefore ? twilightMs(of.night, s.notBefore, side) : null,
  }); // prettier-ignore
  return {
    opening: plan.opening.map((s) => ({ ...step('dusk', s), field: s.field })),
    legs: of.prepared.flatMap((p, i) =>
      p.input
        ? [
            {
              place: i,
              projectId: p.projectId,
              work: p.work,
              timeline: p.input,
              role: p.role,
              turnMin: p.turnMin,
              target: of.targets[i]!,
              guiding: plan.legs[i]!.guiding,
              centreWithinArcmin: plan.legs[i]!.centreWithinArcmin,
            },
          ]
        : [],
    ),
    closing: plan.closing.map((s) => step('dawn', s)),
    watches: plan.watches,
    endMs: laid.endMs,
    offsets: of.offsets,
    focusReachSteps: of.focusReachSteps,
  };
}
