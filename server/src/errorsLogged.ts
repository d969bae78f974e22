import { BaseError } from 'sequelize';

/**
 * What of an error goes into the log. The database's own messages quote the statement and what people typed, so of those only
 * the kind, the code and the places in the program are kept.
 */
export function errorLogged(e: Error): Record<string, unknown> {
  const places = (e.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line)).slice(0, 8).join('\n'); // prettier-ignore
  const database = (e instanceof BaseError && 'original' in e ? e.original : e) as { code?: unknown; errno?: unknown; sqlState?: unknown }; // prettier-ignore
  if (e instanceof BaseError || database.sqlState !== undefined)
    return { type: e.name, code: database.code, errno: database.errno, stack: places };
  return { type: e.name, message: e.message, stack: places };
}
