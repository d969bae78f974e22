import { twilightMs, type LaidNight, type NightPlan, type PreparedLeg } from '../sequence/index.ts';
import type { NightOutput } from '../sky/index.ts';
import type { AppliedOffsets, RunLeg, RunPlan } from './run.ts';

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
              timeline: p.input,
              role: p.role,
              target: of.targets[i]!,
              guiding: plan.legs[i]!.guiding,
            },
          ]
        : [],
    ),
    closing: plan.closing.map((s) => step('dawn', s)),
    cloudClosesAfterMin: plan.watches.cloudClosesAfterMin,
    endMs: laid.endMs,
    offsets: of.offsets,
    focusReachSteps: of.focusReachSteps,
  };
}
