import type { Request, RequestHandler } from 'express';
import { isLoopback, type Config } from '../config.ts';
import { Problem } from '../problems.ts';

const hostOf = (req: Request) =>
  (req.headers.host ?? '')
    .toLowerCase()
    .replace(/:\d+$/, '')
    .replace(/^\[|\]$/g, '');

/** Listens for this machine alone, with nothing in front. */
export const isPrivate = (config: Pick<Config, 'host' | 'trustProxy'>): boolean =>
  isLoopback(config.host) && !config.trustProxy;

/** Whether the demo’s public passwords open: at the machine itself, elsewhere only where the demo was asked for by name. */
export const demoStands = (config: Pick<Config, 'host' | 'trustProxy' | 'demoAsked'>): boolean =>
  isPrivate(config) || config.demoAsked;

/**
 * Refuses a request that asks for another name than ours: a page from elsewhere can let its own name point to this machine
 * and would then be taken for somebody sitting here.
 */
export function demandKnownName(config: Pick<Config, 'host' | 'trustProxy' | 'names'>): RequestHandler {
  const any = config.names.length === 0 && !isPrivate(config);
  return (req, _res, next) => {
    const host = hostOf(req);
    if (!any && !config.names.includes(host) && !isLoopback(host))
      throw new Problem(
        'unknown_name',
        `This server is not called “${host.slice(0, 80)}”; KEEN_NAMES gives it further names.`,
      );
    next();
  };
}

/**
 * The person sits at the machine itself: the server listens on loopback only, the request came that way, nothing passed it
 * on, and the page was asked for by a loopback name, so that no page from elsewhere can pose as it.
 */
export function isLocal(req: Request, config: Pick<Config, 'host' | 'trustProxy'>): boolean {
  if (config.trustProxy || req.headers['x-forwarded-for'] || req.headers.forwarded) return false;
  const host = hostOf(req);
  return isLoopback(config.host) && isLoopback(req.socket.remoteAddress ?? '') && isLoopback(host);
}
