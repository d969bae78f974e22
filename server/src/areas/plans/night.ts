import { prepareLeg, type LegSky, type NightPlan, type Overheads, type PreparedLeg } from '@keen/core/sequence';
import { night as nightOf, target, type NightOutput, type Site } from '@keen/core/sky';
import { plain, type ProjectRow, type SiteRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { doneOf } from '../projects/service.ts';

/** What the sky does above a rig’s site in one night, for the legs of a plan. */
export interface PlanSky {
  night: NightOutput;
  prepared: PreparedLeg[];
}

const skySite = (s: SiteRow): Site => ({ latitudeDeg: s.latitudeDeg, longitudeDeg: s.longitudeDeg, elevationM: s.elevationM, timeZone: s.timeZone, horizon: s.horizon }); // prettier-ignore

export async function siteOf(store: Store, siteId: string): Promise<SiteRow> {
  return plain((await store.sites.findByPk(siteId))!);
}

/** Where a project points: every night repeats the framing that was pinned. */
export const pointing = (p: ProjectRow) => ({
  name: p.object,
  raDeg: p.framing?.raDeg ?? p.raDeg,
  decDeg: p.framing?.decDeg ?? p.decDeg,
});

/** The hours of every leg in this night, and what is left to take in them. */
export async function skyOfPlan(
  store: Store,
  of: { plan: NightPlan; date: string; site: SiteRow; projects: ReadonlyMap<string, ProjectRow>; overheads: Overheads },
): Promise<PlanSky> {
  const site = skySite(of.site);
  const night = nightOf({ site, date: of.date });
  const skies = new Map<string, { sky: LegSky; done: Record<string, number> }>();
  for (const id of new Set(of.plan.legs.map((l) => l.projectId))) {
    const project = of.projects.get(id)!;
    const { raDeg, decDeg } = pointing(project);
    const { minimumAltitudeDeg } = project;
    skies.set(id, {
      sky: { night, target: target({ site, date: of.date, raDeg, decDeg, minimumAltitudeDeg, darkness: 'astronomical', stepMin: 5 }) }, // prettier-ignore
      done: await doneOf(store, id),
    });
  }
  const prepared = of.plan.legs.map((leg) => {
    const { sky, done } = skies.get(leg.projectId)!;
    return prepareLeg(leg, sky, { watches: of.plan.watches, overheads: of.overheads, done });
  });
  return { night, prepared };
}
