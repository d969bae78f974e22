import type { PlanRecord, ProjectRecord, SiteRecord } from '@keen/contract';
import type { RigSetup } from '@keen/core/rig';
import { panelsOf, type Panel } from '@keen/core/sky';
import { mosaicOf } from '@keen/core/train';

/** A site as the craft takes it. */
export const coreSite = (s: SiteRecord) => ({
  latitudeDeg: s.latitudeDeg,
  longitudeDeg: s.longitudeDeg,
  elevationM: s.elevationM,
  timeZone: s.timeZone,
  horizon: s.horizon ?? [],
});

/** The panels of a project’s pinned mosaic; empty where it is one field. */
export const panelsOfProject = (p: ProjectRecord, setup: RigSetup): Panel[] =>
  p.framing && p.panels > 1 ? panelsOf(mosaicOf(p.framing, setup)) : [];

/** A project’s goals over all its panels, with what is there and what is still wanted. */
export const remainingOf = (p: ProjectRecord) =>
  p.goals.map((g) => {
    const [quota, done] = [g.quota * p.panels, p.done[g.filter] ?? 0];
    return { ...g, quota, done, left: Math.max(0, quota - done) };
  });
/** Frames of one panel by filter; without a panel those of the project. */
export const doneIn = (p: ProjectRecord, panel: number | null): Record<string, number> =>
  panel === null ? p.done : (p.byPanel[panel] ?? {});
export const needMinutesOf = (p: ProjectRecord) => remainingOf(p).reduce((s, g) => s + (g.left * g.exposureS) / 60, 0);

/** What a plan is called: the objects of its legs, in their order. */
export const planTitle = (p: { legs: readonly { object: string }[] }) =>
  [...new Set(p.legs.map((l) => l.object))].join(', ');
export const worksFor = (p: { legs: readonly { projectId: string }[] }, projectId: string) =>
  p.legs.some((l) => l.projectId === projectId);

/** The leg that is worked first, with its hours; a leg without hours this night has those of its plan. */
export function firstLegOf(plan: PlanRecord) {
  const leg = [...plan.legs].sort((a, b) => ((a.start ?? '9') < (b.start ?? '9') ? -1 : 1))[0]!;
  return { ...leg, start: leg.start ?? plan.start, end: leg.end ?? plan.end };
}
