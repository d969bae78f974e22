import type { PlanRecord, ProjectRecord } from '@keen/contract';
import { InvalidInput, parseInput } from '@keen/core';
import { sentences } from '@keen/core/phrases';
import {
  goalFor,
  scheduleNight,
  type FollowerFacts,
  type Gathered,
  prepareLeg,
  TimelineInput,
  goalKey,
  type NightSchedule,
  type NightPlan,
  type Overheads,
  type PreparedLeg,
} from '@keen/core/sequence';
import type { NightOutput, TargetOutput } from '@keen/core/sky';
import { doneIn } from '../../common/records.ts';
import { plainCopy } from '../../workers/index.ts';

/** What a plan is laid out over. */
export interface NightAtHand {
  night: NightOutput;
  /** Each project’s object through the night. */
  targets: ReadonlyMap<string, TargetOutput>;
  projects: readonly ProjectRecord[];
  overheads: Overheads;
  /** What a second camera depends on, by its project; null where that is none of the rig. */
  followerOf: (projectId: string) => FollowerFacts | null;
  /** Nothing before it is offered [ms]; left out: the whole night. */
  nowMs?: number | undefined;
}
export type Laid = { ok: true; value: NightSchedule; prepared: PreparedLeg[] } | { ok: false; message: string };

/**
 * A night plan laid out on its rig, with the frames that are there already; null while the sky of one of its objects is not
 * known yet.
 * @param doneOf accepted frames of a project’s goals, where they are not those of now
 */
export function schedulePlan(
  plan: NightPlan,
  of: NightAtHand,
  doneOf: (p: ProjectRecord, panel: number | null) => Gathered[] = doneIn,
): Laid | null {
  const { opening, legs, closing, watches } = plainCopy(plan);
  const prepared: PreparedLeg[] = [];
  try {
    for (const leg of legs) {
      const target = of.targets.get(goalKey(leg));
      const project = of.projects.find((p) => p.id === leg.projectId);
      if (!target || !project) return null;
      const sky = { night: of.night, target };
      const one = prepareLeg(leg, sky, {
        watches,
        overheads: of.overheads,
        done: doneOf(project, leg.panel),
        follower: leg.follower && of.followerOf(leg.follower.projectId),
        ...(of.nowMs === undefined ? {} : { nowMs: of.nowMs }),
      });
      prepared.push({ ...one, input: one.input && parseInput(TimelineInput, one.input) });
    }
    const value = scheduleNight({ opening, legs, closing, watches }, prepared, of.night, of.nowMs);
    if (value) return { ok: true, value, prepared };
    const why = prepared.find((p) => p.trouble)?.trouble;
    return { ok: false, message: why ? sentences([why]) : 'No leg has any hours this night.' };
  } catch (e) {
    if (e instanceof InvalidInput) return { ok: false, message: e.message };
    throw e;
  }
}

/** A saved plan as it was before its own frames were counted. */
export function scheduleRecord(plan: PlanRecord, of: NightAtHand): NightSchedule | null {
  const legs = plan.legs.map(({ projectName: _n, object: _o, start: _s, end: _e, flipAt: _f, ...leg }) => leg);
  const before = (p: ProjectRecord, panel: number | null) => {
    const done = doneIn(p, panel);
    if (plan.status === 'done')
      for (const n of p.nights) {
        const there = goalFor(done, n);
        if (there && n.night === plan.night && (panel === null || n.panel === panel)) there.done -= n.accepted;
      }
    return done;
  };
  const schedule = schedulePlan(
    { opening: plan.opening, legs, closing: plan.closing, watches: plan.watches },
    of,
    before,
  );
  return schedule?.ok ? schedule.value : null;
}
