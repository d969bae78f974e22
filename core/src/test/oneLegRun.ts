import type { RunPlan } from '../observatory/index.ts';
import { USUAL_WATCHES, type TimelineInput } from '../sequence/index.ts';

/** A run of one leg and nothing around it. */
export const oneLegRun = (timeline: TimelineInput, more: Partial<RunPlan> = {}): RunPlan => ({
  opening: [],
  legs: [
    {
      planIndex: 0,
      projectId: 'p',
      goal: 'p',
      timeline,
      role: 'main',
      turnMin: null,
      target: { name: 'x', raDeg: 0, decDeg: 0 },
      guiding: true,
      centreWithinArcmin: 0.5,
    },
  ],
  closing: [],
  watches: USUAL_WATCHES,
  endMs: Date.parse(timeline.end),
  offsets: null,
  focusReachSteps: 200,
  ...more,
});
