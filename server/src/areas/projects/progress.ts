import type { Taken } from '@keen/core/record';
import type { Transaction } from 'sequelize';
import { nightOnRecord } from '../../database/index.ts';
import type { Store } from '../../store.ts';
import { frameSums, type MarkedRun } from '../nights/frameSums.ts';

/** From so many projects on the whole record is looked through at once. */
const MANY = 20;
const SEPARATOR = '\u0000';

/** The same for many projects: what each night’s frames come to, of which most are known already. */
export async function takenOfMany(
  store: Store,
  projectIds: readonly string[],
): Promise<(Taken & { projectId: string })[]> {
  const runs = await store.read<MarkedRun & { night: string }>(
    `SELECT r.id, r.frames_mark AS framesMark, DATE_FORMAT(r.night, '%Y-%m-%d') AS night FROM runs r JOIN rigs g ON g.id = r.rig_id
     WHERE g.club_id = (SELECT club_id FROM projects WHERE id = ?) AND ${nightOnRecord('r')}`,
    [projectIds[0]],
  );
  const sums = await frameSums(store, runs);
  const wanted = new Set(projectIds);
  const taken = new Map<string, Taken & { projectId: string }>();
  for (const { id, night } of runs)
    for (const { kind, projectId, panel, filter, exposureS, accepted, n } of sums.get(id)!) {
      if (kind !== 'light' || projectId === null || !wanted.has(projectId)) continue;
      // a filter is one however it is written, as the database groups it
      const key = [projectId, night, panel, filter.toLowerCase(), exposureS].join(SEPARATOR);
      const there = taken.get(key) ?? { projectId, panel, night, filter, exposureS, accepted: 0, rejected: 0 };
      taken.set(key, { ...there, accepted: there.accepted + accepted, rejected: there.rejected + n - accepted });
    }
  const before = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
  return [...taken.values()].sort(
    (a, b) =>
      before(a.night, b.night) ||
      (a.panel ?? -1) - (b.panel ?? -1) ||
      before(a.filter.toLowerCase(), b.filter.toLowerCase()) ||
      a.exposureS - b.exposureS,
  );
}

/** What real nights brought: progress is this query, never a stored sum. Undone nights and rehearsals are not in it. */
export async function takenOf(
  store: Store,
  projectIds: readonly string[],
  t?: Transaction,
): Promise<(Taken & { projectId: string })[]> {
  if (projectIds.length === 0) return [];
  if (!t && projectIds.length >= MANY) return takenOfMany(store, projectIds);
  const rows = await store.read<
    Omit<Taken, 'accepted' | 'rejected'> & { projectId: string; accepted: string; rejected: string }
  >(
    // summed along the index first: the runs are joined to sums, not to frames
    `SELECT f.projectId, f.panel, DATE_FORMAT(r.night, '%Y-%m-%d') AS night, f.filter, f.exposureS, SUM(f.accepted) AS accepted, SUM(f.n - f.accepted) AS rejected
     FROM (SELECT project_id AS projectId, panel, run_id AS runId, filter, exposure_s AS exposureS, SUM(accepted) AS accepted, COUNT(*) AS n
           FROM frames WHERE project_id IN (?) AND kind = 'light' GROUP BY project_id, kind, run_id, panel, filter, exposure_s) f
     JOIN runs r ON r.id = f.runId WHERE ${nightOnRecord('r')}
     GROUP BY f.projectId, r.night, f.panel, f.filter, f.exposureS ORDER BY r.night, f.panel, f.filter, f.exposureS`,
    [projectIds],
    t,
  );
  return rows.map((r) => ({ ...r, accepted: Number(r.accepted), rejected: Number(r.rejected) }));
}
