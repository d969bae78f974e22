import { api } from '@keen/contract';
import { rateLimit } from 'express-rate-limit';
import type { Request, RequestHandler, Router } from 'express';
import { COOKIE, csrfToken, currentMember, isLocal } from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { Problem, sendProblem } from '../../problems.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { demoService } from './demo.ts';
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
  router.post(api.begin.path, signInLimit);
  const demo = demoService(store);
  const sessionOf = (req: Request, id: string | undefined) => members.session(id, csrfToken(req), isLocal(req, config));

  serve(api.session, ({ req }) => sessionOf(req, req.session.memberId));
  serve(api.signIn, async ({ req, body }) => {
    const id = await members.check(body.signIn, body.password);
    await renew(req, id);
    return sessionOf(req, id);
  });
  serve(api.enterDemo, async ({ req, body }) => {
    if (!isLocal(req, config))
      throw new Problem('not_allowed', 'Only somebody at the machine itself enters without a password.');
    const id = await members.demoMember(body.signIn);
    await renew(req, id);
    return sessionOf(req, id);
  });
  serve(api.signOut, async ({ req, res }) => {
    await new Promise<void>((done, fail) => req.session.destroy((e: unknown) => (e ? fail(e as Error) : done())));
    res.clearCookie(COOKIE);
    return { ok: true as const };
  });
  serve(api.begin, async ({ req, body }) => {
    const id = await members.begin(isLocal(req, config), body);
    await renew(req, id);
    return sessionOf(req, id);
  });
  serve(api.restoreDemo, async ({ req }) => {
    await demo.demandKeeper(await currentMember(store, req), isLocal(req, config));
    await demo.bringBack();
    return sessionOf(req, req.session.memberId);
  });
  serve(api.removeDemo, async ({ req }) => {
    await demo.demandKeeper(await currentMember(store, req), false);
    await demo.remove();
    return sessionOf(req, req.session.memberId);
  });
  serve(api.members, ({ who }) => members.list(who));
  serve(api.addMember, ({ who, body }) => members.add(who, body));
}

/** A fresh session id at sign-in, so that an id from before cannot be reused. */
async function renew(req: Parameters<RequestHandler>[0], memberId: string): Promise<void> {
  await new Promise<void>((done, fail) => req.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())));
  req.session.memberId = memberId;
}
