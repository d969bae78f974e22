import type { PlanRecord, ProjectRecord } from '@keen/contract';
import { InvalidInput } from '@keen/core/calculation';
import { sentences } from '@keen/core/phrases';
import { gatheredBefore, gatheredIn } from '@keen/core/record';
import {
  assembleNight,
  type FollowerFacts,
  type NightFacts,
  type NightPlan,
  type NightSchedule,
  type PreparedLeg,
} from '@keen/core/sequence';
import { rigView, type useClub } from '../../stores/club.ts';

import { plainCopy } from '../../workers/index.ts';

/** What a plan is laid out with, but for the frames there are, which its projects say. */
export interface NightAtHand extends Omit<NightFacts, 'gathered'> {
  projects: readonly ProjectRecord[];
}
export type Laid = { ok: true; value: NightSchedule; prepared: PreparedLeg[] } | { ok: false; message: string };

/** What a second camera of the rig depends on, by its project; null where that is none of the rig. */
export const followerFacts =
  (club: Pick<ReturnType<typeof useClub>, 'projects' | 'records'>) =>
  (projectId: string): FollowerFacts | null => {
    const p = club.projects.find((q) => q.id === projectId);
    const record = p && club.records.find((r) => r.id === p.rigId);
    return record ? { overheads: rigView(record, p.system).setup.overheads, done: gatheredIn(p, null) } : null;
  };

/**
 * A night plan laid out on its rig, with the frames that are there already; null while the sky of one of its objects is not
 * known yet.
 * @param gathered accepted frames of a project’s goals, where they are not those of now
 */
export function schedulePlan(plan: NightPlan, { projects, ...of }: NightAtHand, gathered = gatheredIn): Laid | null {
  const byId = new Map(projects.map((p) => [p.id, p]));
  if (plan.legs.some((l) => !byId.has(l.projectId))) return null;
  try {
    const got = assembleNight(plainCopy(plan), {
      ...of,
      gathered: (projectId, panel) => gathered(byId.get(projectId)!, panel),
    });
    if (!got) return null;
    const { schedule, prepared } = got;
    if (schedule) return { ok: true, value: schedule, prepared };
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
  const before = (p: ProjectRecord, panel: number | null) =>
    plan.status === 'done' ? gatheredBefore(p, panel, plan.night) : gatheredIn(p, panel);
  const schedule = schedulePlan(
    { opening: plan.opening, legs, closing: plan.closing, watches: plan.watches },
    of,
    before as typeof gatheredIn,
  );
  return schedule?.ok ? schedule.value : null;
}
