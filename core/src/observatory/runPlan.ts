import {
  movingSpells,
  twilightMs,
  type Twilight,
  type Watches,
  type NightSchedule,
  type NightPlan,
  type PreparedLeg,
} from '../sequence/index.ts';
import type { NightOutput, Site } from '../sky/index.ts';
import type { AppliedOffsets, RunLeg, RunPlan, RunResult } from './run.ts';

/**
 * What a second camera does beside a run of its lead: the same legs, stretch by stretch, between the lead’s moves.
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
  const begun = new Set<number>();
  const legs = legTurnsOf(lead.events).flatMap(({ planIndex, events }) => {
    const beside = of.prepared[planIndex]!.follower;
    if (!beside || !events.some((e) => e.kind === 'expose')) return [];
    const [start, end] = [events[0]!.start, events.at(-1)!.end];
    const moving = movingSpells(events, Date.parse(start), Date.parse(end));
    // focused when the leg is begun, not anew in each of its stretches
    const focus = { ...beside.input.focus, atStart: beside.input.focus.atStart && !begun.has(planIndex) };
    begun.add(planIndex);
    const timeline = { ...beside.input, start, end, focus };
    return [
      {
        planIndex,
        projectId: beside.projectId,
        goal: beside.projectId,
        timeline,
        role: 'main' as const,
        turnMin: null,
        target: of.targets[planIndex]!,
        guiding: true,
        centreWithinArcmin: 30,
        moving,
      },
    ];
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

/** The lead’s time on each leg without another between; what happened around the legs belongs to none. */
function legTurnsOf(events: RunResult['events']): { planIndex: number; events: RunResult['events'] }[] {
  const legTurns: { planIndex: number; events: RunResult['events'] }[] = [];
  for (const e of events) {
    if (e.leg === undefined) continue;
    const last = legTurns.at(-1);
    if (last?.planIndex === e.leg) last.events.push(e);
    else legTurns.push({ planIndex: e.leg, events: [e] });
  }
  return legTurns;
}

/** How high the Sun may stand at most for a leg: what it chose, or what its own ends by darkness name. */
function highestSun({ darkness, from, until }: NightPlan['legs'][number]): Twilight {
  if (darkness) return darkness;
  const named = [from, until].flatMap((b) => (b.by === 'darkness' ? [b] : []));
  if (named.some((b) => b.offsetMin !== 0)) return 'sunset';
  const order = ['sunset', 'civil', 'nautical', 'astronomical'] as const;
  return order.find((t) => named.some((b) => b.which === t)) ?? 'astronomical';
}

/** What the conductor works through: a night plan with its hours, in the plan’s order. */
export function runPlanOf(
  plan: NightPlan,
  schedule: NightSchedule,
  of: {
    prepared: readonly PreparedLeg[];
    targets: readonly RunLeg['target'][];
    night: NightOutput;
    /** Where, and how low each leg’s object may stand: looked at before every frame. */
    sky?: { site: Site; minimumAltitudeDeg: readonly number[] };
    offsets: AppliedOffsets | null;
    coolToC?: number;
    focusReachSteps: number;
  },
): RunPlan {
  const step = <S extends string>(
    side: 'dusk' | 'dawn',
    s: { step: S; minutes: number; notBefore: NightPlan['opening'][number]['notBefore'] },
  ) => ({
    step: s.step,
    minutes: s.minutes,
    notBeforeMs: s.notBefore ? twilightMs(of.night, s.notBefore, side) : null,
  });
  return {
    opening: plan.opening.map((s) => ({ ...step('dusk', s), field: s.field })),
    legs: of.prepared.flatMap((p, i) =>
      p.input
        ? [
            {
              planIndex: i,
              projectId: p.projectId,
              goal: p.goal,
              timeline: p.input,
              role: p.role,
              turnMin: p.turnMin,
              target: of.targets[i]!,
              guiding: plan.legs[i]!.guiding,
              centreWithinArcmin: plan.legs[i]!.centreWithinArcmin,
              waitsFor: p.follower?.waitedFor ? p.follower.input : undefined,
              followerOf: p.follower?.projectId,
              hours: p.hours.map(([a, b]): [number, number] => [a, b]),
              ...(of.sky
                ? { limits: { minimumAltitudeDeg: of.sky.minimumAltitudeDeg[i]!, darkness: highestSun(plan.legs[i]!) } }
                : {}),
            },
          ]
        : [],
    ),
    closing: plan.closing.map((s) => step('dawn', s)),
    watches: plan.watches,
    ...(of.sky ? { site: of.sky.site } : {}),
    endMs: schedule.endMs,
    offsets: of.offsets,
    ...(of.coolToC === undefined ? {} : { coolToC: of.coolToC }),
    focusReachSteps: of.focusReachSteps,
  };
}
