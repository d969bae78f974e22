import { goalKey, type Gathered } from '@keen/core/record';
import type { RigBuild } from '@keen/core/rig';
import type { Leg, NightFacts, NightPlan } from '@keen/core/sequence';
import type { Site } from '@keen/core/sky';
import type { Transaction } from 'sequelize';
import { plain, type ProjectRow, type SiteRow } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { gatheredOf } from '../projects/service.ts';
import { factsOf, type NightRecords } from './facts.ts';

export const skySite = (s: SiteRow): Site => ({
  latitudeDeg: s.latitudeDeg,
  longitudeDeg: s.longitudeDeg,
  elevationM: s.elevationM,
  timeZone: s.timeZone,
  horizon: s.horizon,
});

export async function siteOf(store: Store, siteId: string, t?: Transaction): Promise<SiteRow> {
  return plain((await store.sites.findByPk(siteId, t ? { transaction: t } : {}))!);
}

/** The projects a plan takes frames for: its legs’ and those of second cameras beside them. */
export const projectsIn = (legs: readonly Pick<Leg, 'projectId' | 'follower'>[]): string[] => [
  ...new Set(legs.flatMap((l) => [l.projectId, ...(l.follower ? [l.follower.projectId] : [])])),
];

interface NightOf {
  plan: Pick<NightPlan, 'legs'>;
  date: string;
  site: SiteRow;
  projects: ReadonlyMap<string, ProjectRow>;
  build: RigBuild;
  system: string;
  nowMs?: number | undefined;
}

export async function nightRecords(store: Store, { plan, site, ...of }: NightOf): Promise<NightRecords> {
  const gathered = new Map<string, Gathered[]>();
  const gather = async (projectId: string, panel: number | null) => {
    const key = goalKey({ projectId, panel });
    if (!gathered.has(key)) gathered.set(key, await gatheredOf(store, of.projects.get(projectId)!, panel));
  };
  for (const leg of plan.legs) {
    await gather(leg.projectId, leg.panel);
    if (leg.follower) await gather(leg.follower.projectId, null);
  }
  return { ...of, site: skySite(site), gathered };
}

/** What is known of a plan’s night, to lay it out: the sky above its legs, and the frames there are. */
export const nightFacts = async (store: Store, of: NightOf): Promise<NightFacts> =>
  factsOf(of.plan, await nightRecords(store, of));
