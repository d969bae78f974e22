import { viewOf, type RigBuild, type RigSetup } from '@keen/core/rig';
import {
  prepareLeg,
  goalKey,
  type FollowerFacts,
  type Gathered,
  type Leg,
  type LegSky,
  type NightPlan,
  type PreparedLeg,
} from '@keen/core/sequence';
import { night as nightOf, target, type NightOutput, type Site } from '@keen/core/sky';
import { plain, type ProjectRow, type SiteRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { panelsOfProject } from '../projects/panels.ts';
import { doneOf } from '../projects/service.ts';

/** What the sky does above a rig’s site in one night, for the legs of a plan. */
export interface PlanSky {
  night: NightOutput;
  prepared: PreparedLeg[];
}

export const skySite = (s: SiteRow): Site => ({
  latitudeDeg: s.latitudeDeg,
  longitudeDeg: s.longitudeDeg,
  elevationM: s.elevationM,
  timeZone: s.timeZone,
  horizon: s.horizon,
});

export async function siteOf(store: Store, siteId: string): Promise<SiteRow> {
  return plain((await store.sites.findByPk(siteId))!);
}

/** The projects a plan takes frames for: its legs’ and those of second cameras beside them. */
export const projectsIn = (legs: readonly Pick<Leg, 'projectId' | 'follower'>[]): string[] => [
  ...new Set(legs.flatMap((l) => [l.projectId, ...(l.follower ? [l.follower.projectId] : [])])),
];

/** Where a leg points: at its panel, or where the framing was pinned, which every night repeats. */
export function pointing(p: ProjectRow, panel: number | null, setup: RigSetup) {
  const at = panel === null ? null : panelsOfProject(p, setup)[panel];
  if (at) return { name: `${p.object}, panel ${panel! + 1}`, raDeg: at.raDeg, decDeg: at.decDeg };
  return { name: p.object, raDeg: p.framing?.raDeg ?? p.raDeg, decDeg: p.framing?.decDeg ?? p.decDeg };
}

/** The hours of every leg in this night, and what is left to take in them. */
export async function skyOfPlan(
  store: Store,
  of: {
    plan: NightPlan;
    date: string;
    site: SiteRow;
    projects: ReadonlyMap<string, ProjectRow>;
    build: RigBuild;
    system: string;
    /** Nothing before it is offered; left out: the whole night. */
    nowMs?: number | undefined;
  },
): Promise<PlanSky> {
  const site = skySite(of.site);
  const setup = viewOf(of.build, of.system);
  const night = nightOf({ site, date: of.date });
  const skies = new Map<string, { sky: LegSky; done: Gathered[] }>();
  for (const leg of of.plan.legs) {
    if (skies.has(goalKey(leg))) continue;
    const project = of.projects.get(leg.projectId)!;
    const { raDeg, decDeg } = pointing(project, leg.panel, setup);
    const { minimumAltitudeDeg } = project;
    skies.set(goalKey(leg), {
      sky: {
        night,
        target: target({
          site,
          date: of.date,
          raDeg,
          decDeg,
          minimumAltitudeDeg,
          darkness: 'astronomical',
          stepMin: 5,
        }),
      },
      done: await doneOf(store, leg.projectId, leg.panel),
    });
  }
  const followers = new Map<string, FollowerFacts>();
  for (const id of new Set(of.plan.legs.flatMap((l) => l.follower?.projectId ?? [])))
    followers.set(id, {
      overheads: viewOf(of.build, of.projects.get(id)!.system).overheads,
      done: await doneOf(store, id, null),
    });
  const prepared = of.plan.legs.map((leg) => {
    const { sky, done } = skies.get(goalKey(leg))!;
    const follower = leg.follower && followers.get(leg.follower.projectId)!;
    return prepareLeg(leg, sky, {
      watches: of.plan.watches,
      overheads: setup.overheads,
      done,
      follower,
      ...(of.nowMs === undefined ? {} : { nowMs: of.nowMs }),
    });
  });
  return { night, prepared };
}
