/**
 * What counts. A night is on record when it was taken, live or elsewhere, and not undone; a rehearsal never is. Of its
 * frames those count that are accepted. Everything that adds frames up, in the database or at hand, asks here.
 */
export const RUN_KINDS = ['rehearsed', 'live', 'recorded'] as const;
export type RunKind = (typeof RUN_KINDS)[number];
/** Kinds of runs that brought real frames. */
export const COUNTED_RUN_KINDS = ['live', 'recorded'] as const satisfies readonly RunKind[];
/** State of a run whose frames count. */
export const COUNTED_RUN_STATE = 'accepted';

/** Is a run a night on record? */
export const countsAsNight = (run: { kind: RunKind; state: string }): boolean =>
  run.state === COUNTED_RUN_STATE && (COUNTED_RUN_KINDS as readonly RunKind[]).includes(run.kind);

/** Whether a run may be accepted as a night: one of a practice rig, and one that was driven on equipment of its own. */
export const mayBeAccepted = (kind: RunKind, practice: boolean): boolean => practice || kind === 'live';
