import type { RequestHandler } from 'express';
import { pino, type DestinationStream } from 'pino';
import { pinoHttp } from 'pino-http';
import { BaseError } from 'sequelize';
import { isGone } from './database/index.ts';

/**
 * What of an error goes into the log. The database's own messages quote the statement and what people typed, so of those only
 * the kind, the code and the places in the program are kept.
 */
export function errorLogged(given: Error): Record<string, unknown> {
  // the logger hands over its own account of an error, with the error itself inside
  const e = (given as Error & { raw?: Error }).raw ?? given;
  const places = (e.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 8)
    .join('\n');
  const database = (e instanceof BaseError && 'original' in e ? e.original : e) as {
    code?: unknown;
    errno?: unknown;
    sqlState?: unknown;
  };
  if (e instanceof BaseError || database.sqlState !== undefined)
    return { type: e.name, code: database.code, errno: database.errno, stack: places };
  return { type: e.name, message: e.message, stack: places };
}

/** Writes down what went wrong where nobody waits for an answer; a database that is gone says so to everybody who asks it. */
export function reporter(level: string, to?: DestinationStream): (error: unknown, where: string) => void {
  const log = to ? pino({ level }, to) : pino({ level });
  return (error, where) => {
    if (isGone(error)) return;
    log.error({ err: errorLogged(error instanceof Error ? error : new Error(String(error))) }, where);
  };
}

/** The log of requests: no addresses, cookies, names or query parameters, and of errors what stands above. */
export function requestLog(level: string, to?: DestinationStream): RequestHandler {
  // every request by itself is only written down where somebody looks for faults: else there is one log for all
  if (level !== 'debug' && level !== 'trace') {
    const log = (to ? pino({ level }, to) : pino({ level })).child({});
    return (req, _res, next) => {
      (req as { log?: object }).log = {
        error: ({ err }: { err: Error }, said: string) =>
          log.error({ req: { method: req.method, url: req.url.split('?')[0] }, err: errorLogged(err) }, said),
      };
      next();
    };
  }
  return pinoHttp({
    logger: to ? pino({ level }, to) : pino({ level }),
    autoLogging: level === 'debug',
    serializers: {
      req: (r: { method: string; url: string }) => ({ method: r.method, url: r.url.split('?')[0] }),
      err: errorLogged,
    },
  }) as RequestHandler;
}
