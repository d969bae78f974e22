import type { ProjectRecord, SiteRecord } from '@keen/contract';

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
