import type { Taken } from '@keen/core/record';
import type { Transaction } from 'sequelize';
import { nightOnRecord } from '../../database/index.ts';
import type { Store } from '../../store.ts';

/** What real nights brought: progress is this query, never a stored sum. Undone nights and rehearsals are not in it. */
export async function takenOf(
  store: Store,
  projectIds: readonly string[],
  t?: Transaction,
): Promise<(Taken & { projectId: string })[]> {
  if (projectIds.length === 0) return [];
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
