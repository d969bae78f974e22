import type { Transaction } from 'sequelize';
import type { Store } from '../../store.ts';

/** Light frames of one project, night, filter and exposure. */
export interface Taken {
  projectId: string;
  night: string;
  filter: string;
  exposureS: number;
  accepted: number;
  rejected: number;
}

/** Exposures this close are one: headers round them. */
const SAME_EXPOSURE = 0.005;

/** A frame counts toward a goal of its filter and exposure. */
export const countsAs = (
  goal: { filter: string; exposureS: number },
  taken: { filter: string; exposureS: number },
): boolean =>
  goal.filter === taken.filter && Math.abs(goal.exposureS - taken.exposureS) <= SAME_EXPOSURE * goal.exposureS;

/** What real nights brought: progress is this query, never a stored sum. Undone nights and rehearsals are not in it. */
export async function takenOf(store: Store, projectIds: readonly string[], t?: Transaction): Promise<Taken[]> {
  if (projectIds.length === 0) return [];
  const rows = await store.read<Omit<Taken, 'accepted' | 'rejected'> & { accepted: string; rejected: string }>(
    `SELECT f.project_id AS projectId, DATE_FORMAT(r.night, '%Y-%m-%d') AS night, f.filter, f.exposure_s AS exposureS,
            SUM(f.accepted) AS accepted, SUM(1 - f.accepted) AS rejected
     FROM frames f JOIN runs r ON r.id = f.run_id
     WHERE f.project_id IN (?) AND f.kind = 'light' AND r.kind IN ('live', 'recorded') AND r.state = 'accepted'
     GROUP BY f.project_id, r.night, f.filter, f.exposure_s ORDER BY r.night, f.filter, f.exposure_s`,
    [projectIds],
    t,
  );
  return rows.map((r) => ({ ...r, accepted: Number(r.accepted), rejected: Number(r.rejected) }));
}
