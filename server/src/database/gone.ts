import { BaseError } from 'sequelize';

/** What a node says that is up, but has lost the others of its cluster. */
export const ALONE = 1047;

/** The number the database gave what went wrong. */
export const numberOf = (e: unknown): unknown => (e as { original?: { errno?: unknown } }).original?.errno;
/** What another’s work undid and may be done again: a deadlock or a lost certification, a wait for a lock that was too long. */
export const UNDONE: ReadonlySet<unknown> = new Set([1213, 1205]);
/** The server went away, stops, or is no part of its cluster any more; also while it committed (1180). */
const GONE: ReadonlySet<unknown> = new Set([ALONE, 1053, 1180, 1152, 1153, 1158, 1159, 1160, 1161, 1927, 2006, 2013]);
/** Whether the line to the database was lost, and not a statement refused. */
export function isGone(e: unknown): boolean {
  if (!(e instanceof BaseError)) return false;
  const errno = numberOf(e);
  return (
    GONE.has(errno) ||
    (typeof errno === 'number' && errno >= 45_000 && errno < 46_000) ||
    /Connection|Host/.test(e.name) ||
    /ECONN|EPIPE|socket|closed|refused|timeout/i.test(e.message)
  );
}
