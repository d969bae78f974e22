import type { PlanRecord, ProjectRecord, SiteRecord } from '@keen/contract';

/** A site as the craft takes it. */
export const coreSite = (s: SiteRecord) => ({
  latitudeDeg: s.latitudeDeg,
  longitudeDeg: s.longitudeDeg,
  elevationM: s.elevationM,
  timeZone: s.timeZone,
  horizon: s.horizon ?? [],
});

/** Frames a project still wants, by filter. */
export const remainingOf = (p: ProjectRecord) =>
  p.goals.map((g) => ({ ...g, done: p.done[g.filter] ?? 0, left: Math.max(0, g.quota - (p.done[g.filter] ?? 0)) }));
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
