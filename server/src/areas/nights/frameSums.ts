import type { Transaction } from 'sequelize';
import type { Store } from '../../store.ts';

/** Frames of a run of one kind, project, panel, filter and length. */
export interface FrameSum {
  runId: string;
  kind: string;
  projectId: string | null;
  panel: number | null;
  filter: string;
  exposureS: number;
  accepted: number;
  n: number;
}
/** A run, and the mark of its frames as they stand. */
export interface MarkedRun {
  id: string;
  framesMark: string;
}

/**
 * A sum is asked for anew after so long, whatever its mark says: a server of the version before, while one is replaced after
 * the other, changes frames and no marks [ms].
 */
const KEPT_MS = 60_000;
/** Runs of which sums are held: those of some years of a few clubs. */
const MOST_RUNS = 4000;
const held = new Map<string, { mark: string; until: number; sums: readonly FrameSum[] }>();

/** What is summed along the index alone. */
const SUMS = `SELECT run_id AS runId, kind, project_id AS projectId, panel, filter, exposure_s AS exposureS, SUM(accepted) AS accepted, COUNT(*) AS n
  FROM frames WHERE run_id IN (?) GROUP BY run_id, kind, project_id, panel, filter, exposure_s`;

/**
 * What the frames of runs come to. Sums are stored nowhere; those of a run whose frames have not changed since are not summed
 * again. In a transaction they always are.
 */
export async function frameSums(
  store: Store,
  runs: readonly MarkedRun[],
  t?: Transaction,
): Promise<Map<string, readonly FrameSum[]>> {
  const now = Date.now();
  const known = new Map<string, readonly FrameSum[]>();
  const wanted: MarkedRun[] = [];
  for (const run of runs) {
    const there = t || !run.framesMark ? undefined : held.get(run.id);
    if (there && there.mark === run.framesMark && there.until > now) known.set(run.id, there.sums);
    else wanted.push(run);
  }
  if (wanted.length === 0) return known;
  const rows = await store.read<FrameSum>(SUMS, [wanted.map((r) => r.id)], t);
  const fresh = new Map<string, FrameSum[]>(wanted.map((r) => [r.id, []]));
  for (const r of rows) fresh.get(r.runId)!.push({ ...r, accepted: Number(r.accepted), n: Number(r.n) });
  if (held.size > MOST_RUNS) held.clear();
  for (const { id, framesMark } of wanted) {
    const sums = fresh.get(id)!;
    known.set(id, sums);
    // what was read after the mark may be newer than it: then the run has another mark by now, and nobody asks for this one
    if (!t && framesMark) held.set(id, { mark: framesMark, until: now + KEPT_MS, sums });
  }
  return known;
}

/** The frames of these runs are others from now on; in the transaction that changes them. */
export async function markFrames(store: Store, runIds: readonly string[], t: Transaction): Promise<void> {
  if (runIds.length === 0) return;
  await store.db.query('UPDATE runs SET frames_mark = UUID() WHERE id IN (:runIds)', {
    replacements: { runIds: [...runIds] },
    transaction: t,
  });
}
