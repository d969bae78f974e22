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
