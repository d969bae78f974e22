import { parseInput } from '../calculation/index.ts';
import { goalKey, pointedAt, type Gathered } from '../record/index.ts';
import type { NightOutput, Site, TargetInput, TargetOutput } from '../sky/index.ts';
import { prepareLeg, type FollowerFacts, type PreparedLeg } from './legTimeline.ts';
import type { Leg, NightPlan } from './nightPlan.ts';
import { scheduleNight, type NightSchedule } from './scheduleNight.ts';
import { TimelineInput, type Overheads } from './schemas.ts';

/** Steps of the track along which a leg's hours are looked for [min]. */
const TRACK_STEP_MIN = 5;

interface Place {
  raDeg: number;
  decDeg: number;
}

/** The question what the sky does above the frames of a leg: at its panel, its pinned framing or its object, in full darkness. */
export const legTargetInput = (
  project: Place & { framing: Place | null; minimumAltitudeDeg: number },
  panel: number | null,
  of: { site: Site; date: string; panels: readonly Place[] },
): TargetInput => ({
  site: of.site,
  date: of.date,
  ...pointedAt(project, panel, of.panels),
  minimumAltitudeDeg: project.minimumAltitudeDeg,
  darkness: 'astronomical',
  stepMin: TRACK_STEP_MIN,
});

/** What a night plan is laid out with. */
export interface NightFacts {
  night: NightOutput;
  /** The sky above each leg's frames, by its goal key. */
  targets: ReadonlyMap<string, TargetOutput>;
  /** Accepted frames there are of a project, or of one panel of it. */
  gathered: (projectId: string, panel: number | null) => readonly Gathered[];
  overheads: Overheads;
  /** What a second camera depends on, by its project; null where that is none of the rig. */
  followerOf: (projectId: string) => FollowerFacts | null;
  /** Nothing before it is offered [ms]; left out: the whole night. */
  nowMs?: number | undefined;
}

/**
 * The hours of every leg in a night, and what is left to take in them.
 * @returns null while the sky above a leg is not known
 * @throws InvalidInput where what a leg comes to is no plan
 */
export function prepareLegs(plan: Pick<NightPlan, 'legs' | 'watches'>, of: NightFacts): PreparedLeg[] | null {
  const now = of.nowMs === undefined ? {} : { nowMs: of.nowMs };
  const prepared = plan.legs.map((leg: Leg) => {
    const target = of.targets.get(goalKey(leg));
    if (!target) return null;
    const one = prepareLeg(
      leg,
      { night: of.night, target },
      {
        watches: plan.watches,
        overheads: of.overheads,
        done: of.gathered(leg.projectId, leg.panel),
        follower: leg.follower && of.followerOf(leg.follower.projectId),
        ...now,
      },
    );
    return { ...one, input: one.input && parseInput(TimelineInput, one.input) };
  });
  return prepared.includes(null) ? null : (prepared as PreparedLeg[]);
}

/** A night plan laid out: its legs prepared, and their schedule; null where no leg has any hours. */
export function assembleNight(
  plan: NightPlan,
  of: NightFacts,
): { prepared: PreparedLeg[]; schedule: NightSchedule | null } | null {
  const prepared = prepareLegs(plan, of);
  return prepared && { prepared, schedule: scheduleNight(plan, prepared, of.night, of.nowMs) };
}
