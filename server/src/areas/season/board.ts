import type { BoardQuestion, ProjectRecord } from '@keen/contract';
import { pointedAt, stillWanted } from '@keen/core/record';
import type { BoardTask, SeasonProject } from '@keen/core/season';
import { splitFilters } from '@keen/core/sequence';
import { addDays } from '@keen/core/sky';
import { plain } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { ALL, type Actor, type Store } from '../../store.ts';
import { skySite } from '../plans/night.ts';
import { projectsService } from '../projects/service.ts';

/** Longest search for a board [s]. */
const SEARCH_S = 30;

/** The rigs of a board, all of the club’s own and in use. @throws Problem invalid_input with those that are not */
export async function demandRigs(store: Store, who: Actor, rigIds: readonly string[]) {
  const rigs = (
    await store.rigs.findAll({ where: { id: [...rigIds], clubId: who.clubId, archivedAt: null }, order: ['name'] })
  ).map(plain);
  const missing = rigIds.filter((id) => !rigs.some((r) => r.id === id));
  if (missing.length)
    throw new Problem('invalid_input', 'some of these rigs are not there, or put away', {
      issues: missing.map((id) => ({ path: `rigIds.${rigIds.indexOf(id)}`, message: 'there is no such rig in use' })),
    });
  return rigs;
}

/** Open shutter still wanted through narrow filters, and through the others [min]. */
function wanted(p: ProjectRecord): { narrowMinutes: number; broadMinutes: number } {
  const left = stillWanted(p);
  const { narrow } = splitFilters(left.map((g) => g.filter));
  const minutes = (of: typeof left) => of.reduce((s, g) => s + (g.left * g.exposureS) / 60, 0);
  return {
    narrowMinutes: minutes(left.filter((g) => narrow.includes(g.filter))),
    broadMinutes: minutes(left.filter((g) => !narrow.includes(g.filter))),
  };
}

/** What members received since a night [min]: accepted exposure of their projects, whoever took it. */
function receivedSince(projects: readonly ProjectRecord[], night: string): Record<string, number> {
  const received: Record<string, number> = {};
  for (const p of projects)
    for (const n of p.nights)
      if (n.night >= night) received[p.ownerId] = (received[p.ownerId] ?? 0) + (n.accepted * n.exposureS) / 60;
  return received;
}

/** All a board is worked out from, as it stands now. */
export async function prepareBoard(store: Store, who: Actor, q: BoardQuestion): Promise<BoardTask> {
  const { rigIds, weights, locked, standing, ...settings } = q;
  const rigs = await demandRigs(store, who, rigIds);
  const siteIds = [...new Set(rigs.map((r) => r.siteId))];
  const sites = new Map((await store.sites.findAll({ where: { id: siteIds } })).map(plain).map((s) => [s.id, s]));
  const all = await projectsService(store).list(who, ALL);
  const projects = all.flatMap((p): SeasonProject[] => {
    const [weight, left] = [weights[p.id] ?? 1, wanted(p)];
    if (p.archived || !rigIds.includes(p.rigId) || weight === 0 || left.narrowMinutes + left.broadMinutes === 0)
      return [];
    return [
      {
        id: p.id,
        member: p.ownerId,
        weight,
        rigs: [p.rigId],
        ...pointedAt(p, null, []),
        minimumAltitudeDeg: p.minimumAltitudeDeg,
        ...left,
      },
    ];
  });
  const last = addDays(q.from, q.nights - 1);
  const planned = await store.read<{ rigId: string; start: Date; end: Date }>(
    'SELECT rig_id AS rigId, start, end FROM plans WHERE rig_id IN (?) AND night BETWEEN ? AND ? AND archived_at IS NULL AND status <> ?',
    [rigIds, q.from, last, 'cancelled'],
  );
  const now = store.now().getTime();
  const names = Object.fromEntries(await store.names(who.clubId));
  return {
    ...settings,
    rigs: rigs.map((r) => ({ id: r.id, site: skySite(sites.get(r.siteId)!) })),
    projects,
    names: { ...names, ...Object.fromEntries(projects.map((p) => [p.id, all.find((x) => x.id === p.id)!.object])) },
    taken: Object.fromEntries(
      rigs.map((r) => [
        r.id,
        [
          // what is over is given to nobody
          [0, now],
          ...planned.filter((p) => p.rigId === r.id).map((p): [number, number] => [p.start.getTime(), p.end.getTime()]),
        ],
      ]),
    ),
    received: q.fairDays === null ? {} : receivedSince(all, addDays(q.from, -q.fairDays)),
    locked,
    standing,
    timeLimitS: SEARCH_S,
  };
}
