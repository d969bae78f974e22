import { api } from '@keen/contract';
import { rateLimit } from 'express-rate-limit';
import type { RequestHandler, Router } from 'express';
import { COOKIE, csrfToken } from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { Problem, sendProblem } from '../../problems.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { membersService } from './service.ts';

export function memberRoutes(router: Router, serve: Serve, store: Store, config: Config): void {
  const members = membersService(store);
  const signInLimit: RequestHandler = rateLimit({
    windowMs: 15 * 60_000,
    limit: config.signInLimit,
    skipSuccessfulRequests: true,
    standardHeaders: true,
    legacyHeaders: false,
    handler: (_req, res) =>
      sendProblem(res, new Problem('too_many', 'Too many failed sign-ins; try again in a quarter of an hour.')),
  });
  router.post(api.signIn.path, signInLimit);
  router.post(api.setup.path, signInLimit);

  serve(api.session, ({ req }) => members.session(req.session.memberId, csrfToken(req)));
  serve(api.signIn, async ({ req, body }) => {
    const id = await members.check(body.signIn, body.password);
    await renew(req, id);
    return members.session(id, csrfToken(req));
  });
  serve(api.signOut, async ({ req, res }) => {
    await new Promise<void>((done, fail) => req.session.destroy((e: unknown) => (e ? fail(e as Error) : done())));
    res.clearCookie(COOKIE);
    return { ok: true as const };
  });
  serve(api.setup, async ({ req, body }) => {
    const id = await members.setup(body.club, body);
    await renew(req, id);
    return members.session(id, csrfToken(req));
  });
  serve(api.members, ({ who }) => members.list(who));
  serve(api.addMember, ({ who, body }) => members.add(who, body));
}

/** A fresh session id at sign-in, so that an id from before cannot be reused. */
async function renew(req: Parameters<RequestHandler>[0], memberId: string): Promise<void> {
  await new Promise<void>((done, fail) => req.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())));
  req.session.memberId = memberId;
}
