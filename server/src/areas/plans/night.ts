import { goalKey, pointedAt, type Gathered } from '@keen/core/record';
import { viewOf, type RigBuild, type RigSetup } from '@keen/core/rig';
import { legTargetInput, type Leg, type NightFacts, type NightPlan } from '@keen/core/sequence';
import { night as nightOf, target, type Site, type TargetOutput } from '@keen/core/sky';
import { plain, type ProjectRow, type SiteRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { panelsOfProject } from '../projects/panels.ts';
import { gatheredOf } from '../projects/service.ts';

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

/** Where a leg points, with what that is called. */
export function pointing(p: ProjectRow, panel: number | null, setup: RigSetup) {
  const name = panel === null ? p.object : `${p.object}, panel ${panel + 1}`;
  return { name, ...pointedAt(p, panel, panelsOfProject(p, setup)) };
}

/** What is known of a plan’s night, to lay it out: the sky above its legs, and the frames there are. */
export async function nightFacts(
  store: Store,
  of: {
    plan: Pick<NightPlan, 'legs'>;
    date: string;
    site: SiteRow;
    projects: ReadonlyMap<string, ProjectRow>;
    build: RigBuild;
    system: string;
    /** Nothing before it is offered; left out: the whole night. */
    nowMs?: number | undefined;
  },
): Promise<NightFacts> {
  const site = skySite(of.site);
  const setup = viewOf(of.build, of.system);
  const targets = new Map<string, TargetOutput>();
  const gathered = new Map<string, Gathered[]>();
  const gather = async (projectId: string, panel: number | null) => {
    const key = goalKey({ projectId, panel });
    if (!gathered.has(key)) gathered.set(key, await gatheredOf(store, of.projects.get(projectId)!, panel));
  };
  for (const leg of of.plan.legs) {
    const project = of.projects.get(leg.projectId)!;
    const key = goalKey(leg);
    if (!targets.has(key))
      targets.set(
        key,
        target(legTargetInput(project, leg.panel, { site, date: of.date, panels: panelsOfProject(project, setup) })),
      );
    await gather(leg.projectId, leg.panel);
    if (leg.follower) await gather(leg.follower.projectId, null);
  }
  const gatheredFor = (projectId: string, panel: number | null) => gathered.get(goalKey({ projectId, panel })) ?? [];
  return {
    night: nightOf({ site, date: of.date }),
    targets,
    gathered: gatheredFor,
    overheads: setup.overheads,
    followerOf: (id) => ({
      overheads: viewOf(of.build, of.projects.get(id)!.system).overheads,
      done: gatheredFor(id, null),
    }),
    nowMs: of.nowMs,
  };
}
