import { randomBytes } from 'node:crypto';
import type { RequestHandler, Response } from 'express';
import helmet from 'helmet';
import type { Config } from './config.ts';

/** The place may be asked for in the first evening; nothing else of the device. */
const PERMISSIONS = 'geolocation=(self), camera=(), microphone=(), usb=(), serial=(), bluetooth=(), payment=()';
/** Answers of the interface for programs are shown by nobody: they load nothing and stand in no frame. */
const OF_ANSWERS = {
  'Content-Security-Policy': "default-src 'none';frame-ancestors 'none'",
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Origin-Agent-Cluster': '?1',
  'Permissions-Policy': PERMISSIONS,
  'Referrer-Policy': 'no-referrer',
  'X-Content-Type-Options': 'nosniff',
  'X-DNS-Prefetch-Control': 'off',
  'X-Download-Options': 'noopen',
  'X-Frame-Options': 'SAMEORIGIN',
  'X-Permitted-Cross-Domain-Policies': 'none',
  'X-XSS-Protection': '0',
};
const HSTS = 'max-age=31536000; includeSubDomains';
/** The one page among the answers. */
const PAGE_OF_API = '/api/docs';

/** What browsers are told: pages have a nonce of their own and a policy around it, answers are all told the same. */
export function headers(config: Pick<Config, 'secureCookies'>): RequestHandler {
  const nonce = (_req: unknown, res: unknown) => `'nonce-${(res as Response).locals.nonce as string}'`;
  const ofPages = helmet({
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", nonce],
        styleSrc: ["'self'", nonce],
        styleSrcAttr: ["'unsafe-inline'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        workerSrc: ["'self'"],
        connectSrc: ["'self'"],
        frameAncestors: ["'none'"],
        // the framework's own policy, and that of trusted.js for all else
        requireTrustedTypesFor: ["'script'"],
        trustedTypes: ['vue', 'default'],
        upgradeInsecureRequests: null,
      },
    },
    strictTransportSecurity: config.secureCookies,
  });
  const ofAnswers = config.secureCookies ? { ...OF_ANSWERS, 'Strict-Transport-Security': HSTS } : OF_ANSWERS;
  return (req, res, next) => {
    if (req.path.startsWith('/api/') && req.path !== PAGE_OF_API) {
      res.set(ofAnswers);
      return next();
    }
    res.locals.nonce = randomBytes(16).toString('base64');
    res.set('Permissions-Policy', PERMISSIONS);
    ofPages(req, res, next);
  };
}
