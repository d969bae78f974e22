import type { PlanRecord, ProjectRecord, SiteRecord } from '@keen/contract';
import type { RigSetup } from '@keen/core/rig';
import { goalFor, type Gathered } from '@keen/core/sequence';
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
  p.goals.map((g, i) => {
    const [quota, done] = [g.quota * p.panels, p.done[i] ?? 0];
    return { ...g, quota, done, left: Math.max(0, quota - done) };
  });
/** Frames of each goal in one panel; without a panel those of the project. */
export const doneIn = (p: ProjectRecord, panel: number | null): Gathered[] => {
  const done = panel === null ? p.done : (p.byPanel[panel] ?? []);
  return p.goals.map(({ filter, exposureS }, i) => ({ filter, exposureS, done: done[i] ?? 0 }));
};
/** Good frames no goal asks for, by filter and length: on record, not counted. */
export const asideOf = (p: ProjectRecord): Gathered[] => {
  const aside: Gathered[] = [];
  for (const n of p.nights) {
    if (n.counts || !n.accepted || goalFor(p.goals, n)) continue;
    const there = goalFor(aside, n);
    if (there) there.done += n.accepted;
    else aside.push({ filter: n.filter, exposureS: n.exposureS, done: n.accepted });
  }
  return aside;
};
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

/** What may be changed of a project, as it stands: what a change of one field sends with it. */
export const projectFieldsOf = ({
  id: _i,
  owner: _o,
  ownerId: _w,
  framing: _f,
  panels: _p,
  byPanel: _k,
  done: _d,
  nights: _n,
  version: _v,
  updatedAt: _a,
  updatedBy: _b,
  ...fields
}: ProjectRecord) => fields;
