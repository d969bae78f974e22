import { api } from '@keen/contract';
import type { Request, Router } from 'express';
import { clearCookies, csrfToken, currentMember, isLocal, signInTries } from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { Problem } from '../../problems.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { demoService } from './demo.ts';
import { membersService } from './service.ts';

export function memberRoutes(router: Router, serve: Serve, store: Store, config: Config): void {
  const members = membersService(store);
  const signInLimit = signInTries(store, config);
  router.post(api.signIn.path, signInLimit);
  router.post(api.begin.path, signInLimit);
  router.put(api.changePassword.path, signInLimit);
  const demo = demoService(store);
  const sessionOf = (req: Request, id: string | undefined) =>
    members.session(id, csrfToken(req, config), isLocal(req, config));

  serve(api.session, async ({ req }) => sessionOf(req, (await currentMember(store, req))?.id));
  serve(api.signIn, async ({ req, body }) => {
    const id = await members.check(body.signIn, body.password);
    await renew(req, id, store.now().getTime());
    return sessionOf(req, id);
  });
  serve(api.enterDemo, async ({ req, body }) => {
    if (!isLocal(req, config))
      throw new Problem('not_allowed', 'Only somebody at the machine itself enters without a password.');
    const id = await members.demoMember(body.signIn);
    await renew(req, id, store.now().getTime());
    return sessionOf(req, id);
  });
  serve(api.signOut, async ({ req, res }) => {
    await new Promise<void>((done, fail) => req.session.destroy((e: unknown) => (e ? fail(e as Error) : done())));
    clearCookies(res, config);
    return { ok: true as const };
  });
  serve(api.begin, async ({ req, body }) => {
    const id = await members.begin(isLocal(req, config), body);
    await renew(req, id, store.now().getTime());
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
  serve(api.changePassword, async ({ who, body, req }) => {
    await members.changePassword(who, req.sessionID, body);
    return { ok: true as const };
  });
  serve(api.changeMember, ({ who, params, body }) => members.change(who, params.id, body));
}

/** A fresh session id at sign-in, so that an id from before cannot be reused. */
async function renew(req: Request, memberId: string, now: number): Promise<void> {
  await new Promise<void>((done, fail) => req.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())));
  req.session.memberId = memberId;
  req.session.begunAt = now;
  req.session.seenAt = now;
}
