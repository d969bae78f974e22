import type { Request } from 'express';
import { isLoopback, type Config } from '../config.ts';

/**
 * The person sits at the machine itself: the server listens on loopback only, the request came that way, nothing passed it
 * on, and the page was asked for by a loopback name, so that no page from elsewhere can pose as it.
 */
export function isLocal(req: Request, config: Pick<Config, 'host' | 'trustProxy'>): boolean {
  if (config.trustProxy || req.headers['x-forwarded-for'] || req.headers.forwarded) return false;
  const asked = (req.headers.host ?? '').replace(/:\d+$/, '').replace(/^\[|\]$/g, '');
  return isLoopback(config.host) && isLoopback(req.socket.remoteAddress ?? '') && isLoopback(asked);
}
