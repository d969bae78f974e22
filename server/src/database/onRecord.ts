import { CLOUD_REFUSALS, COUNTED_RUN_KINDS, COUNTED_RUN_STATE } from '@keen/core/record';
import type { AspectHashes } from '@keen/core/rig';
import type { WhereOptions } from 'sequelize';
import type { RunRow } from '../areas/runs/table.ts';

/** The rules of `core/record` as conditions of queries; the names are aliases of tables, never what somebody sent. */
const quoted = (words: readonly string[]) => words.map((w) => `'${w}'`).join(', ');

/** A run is a night on record. */
export const nightOnRecord = (run: string): string =>
  `${run}.kind IN (${quoted(COUNTED_RUN_KINDS)}) AND ${run}.state = '${COUNTED_RUN_STATE}'`;
/** The same for a query through models. */
export const NIGHT_ON_RECORD = { kind: COUNTED_RUN_KINDS, state: COUNTED_RUN_STATE } as WhereOptions<RunRow>;
/** A run that brought real frames, whether it was undone or not. */
export const BROUGHT_FRAMES = { kind: COUNTED_RUN_KINDS } as WhereOptions<RunRow>;
/** A frame of such a night counts. */
export const frameCounts = (frame: string): string => `${frame}.accepted = 1`;
/** A frame was refused because of cloud. */
export const lostToCloud = (frame: string): string =>
  `(${frame}.accepted = 0 AND ${frame}.refusal IN (${quoted(CLOUD_REFUSALS)}))`;

/** What was measured of a system under an aspect that holds in these states of it, as a condition of a query through models. */
export const heldUnder = (
  of: { rigId: string; system: string; aspects: AspectHashes | null },
  aspect: 'focus',
): { rigId: string; system: string; aspect: string | null } => ({
  rigId: of.rigId,
  system: of.system,
  aspect: of.aspects?.[aspect] ?? null,
});
