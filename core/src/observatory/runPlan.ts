import { twilightMs, type Twilight, type NightSchedule, type NightPlan, type PreparedLeg } from '../sequence/index.ts';
import type { RigSetup } from '../rig/index.ts';
import type { NightOutput, Site } from '../sky/index.ts';
import type { AppliedOffsets, RunLeg, RunPlan } from './run.ts';

/** What a second camera does beside the legs that have one, while the lead’s mount stands. */
function besideOf(
  prepared: readonly PreparedLeg[],
  targets: readonly RunLeg['target'][],
  of: Pick<NonNullable<RunPlan['beside']>, 'offsets' | 'focusReachSteps'>,
): RunPlan['beside'] {
  const legs = prepared.flatMap(({ input, follower }, planIndex): RunLeg[] =>
    input && follower
      ? [
          {
            planIndex,
            projectId: follower.projectId,
            goal: follower.projectId,
            timeline: follower.input,
            role: 'main',
            turnMin: null,
            target: targets[planIndex]!,
            guiding: false,
            centreWithinArcmin: 30,
            follows: true,
          },
        ]
      : [],
  );
  return legs.length ? { legs, ...of } : undefined;
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
    targets: readonly (RunLeg['target'] & { angleDeg: number })[];
    night: NightOutput;
    /** Where, and how low each leg’s object may stand: looked at before every frame. */
    sky?: { site: Site; minimumAltitudeDeg: readonly number[] };
    offsets: AppliedOffsets | null;
    coolToC?: number;
    focusReachSteps: number;
    /** The rig, as far as a run asks it for more than every one has. */
    rig: Pick<RigSetup, 'rotator' | 'train' | 'supply'> & { mount: Pick<RigSetup['mount'], 'pastMeridianDeg'> };
    /** With what a second camera’s filters are changed and focused, where there is one. */
    beside?: Pick<NonNullable<RunPlan['beside']>, 'offsets' | 'focusReachSteps'> | null;
  },
): RunPlan {
  const targets = of.targets.map(({ angleDeg: _a, ...t }) => t);
  const beside = of.beside && besideOf(of.prepared, targets, of.beside);
  const { rotator, supply, train, mount } = of.rig;
  /** Half a turn is no other framing; where the guide star is to stay as well, it is. */
  const turned = (paDeg: number) =>
    rotator ? { turned: { paDeg, eitherWay: rotator.afterFlip === 'leave', afterFlip: rotator.afterFlip } } : {};
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
              target: targets[i]!,
              ...turned(of.targets[i]!.angleDeg),
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
    ...(mount.pastMeridianDeg === undefined ? {} : { pastMeridianDeg: mount.pastMeridianDeg }),
    ...(train.some((p) => p.tilts) ? { tipTilt: true as const } : {}),
    ...(supply ? { supply: { switched: supply.switched, closesBelowV: supply.closesBelowV } } : {}),
    ...(beside ? { beside } : {}),
  };
}
