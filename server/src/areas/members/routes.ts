import { changeSettings, settingsOf } from './settings.ts';
import { api } from '@keen/contract';
import type { Request, Router } from 'express';
import {
  addressOf,
  beginSession,
  clearCookies,
  csrfToken,
  currentMember,
  demandProof,
  isLocal,
  securityLog,
  signInTries,
} from '../../access/index.ts';
import type { Config } from '../../config.ts';
import { Problem } from '../../problems.ts';
import type { Serve } from '../../http.ts';
import type { Store } from '../../store.ts';
import { demoService } from './demo.ts';
import { invitationsService } from './invitations.ts';
import { ownAccountService } from './ownAccount.ts';
import { membersService } from './service.ts';

export function memberRoutes(router: Router, serve: Serve, store: Store, config: Config): void {
  const members = membersService(store, config);
  const own = ownAccountService(store, config);
  const invitations = invitationsService(store);
  const log = securityLog(store);
  const signInLimit = signInTries(store, config, false);
  router.post(api.signIn.path, signInTries(store, config, true));
  router.put(api.prove.path, signInLimit);
  router.post(api.begin.path, signInLimit);
  router.put(api.changePassword.path, signInLimit);
  for (const r of [api.lookAtInvitation, api.join, api.prepareSecondFactor, api.dropSecondFactor])
    router.post(r.path, signInLimit);
  router.put(api.confirmSecondFactor.path, signInLimit);
  const demo = demoService(store);
  const sessionOf = (req: Request, id: string | undefined) =>
    members.session(id, csrfToken(req, config), isLocal(req, config));

  serve(api.session, async ({ req }) => sessionOf(req, (await currentMember(store, req))?.id));
  serve(api.signIn, async ({ req, body }) => {
    const member = await members.check(body, addressOf(req));
    await beginSession(req, member, store.now().getTime());
    return sessionOf(req, member.id);
  });
  serve(api.enterDemo, async ({ req, body }) => {
    if (!isLocal(req, config))
      throw new Problem('not_allowed', 'Only somebody at the machine itself enters without a password.');
    const member = await members.demoMember(body.signIn);
    await beginSession(req, member, store.now().getTime());
    return sessionOf(req, member.id);
  });
  serve(api.signOut, async ({ req, res }) => {
    await new Promise<void>((done, fail) => req.session.destroy((e: unknown) => (e ? fail(e as Error) : done())));
    clearCookies(res, config);
    return { ok: true as const };
  });
  serve(api.begin, async ({ req, body }) => {
    const id = await members.begin(isLocal(req, config), body);
    await beginSession(req, { id, epoch: 0 }, store.now().getTime());
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
  serve(api.clubSettings, ({ who }) => settingsOf(store, who.clubId));
  serve(api.changeClubSettings, ({ who, body }) => changeSettings(store, who, body));
  serve(api.members, ({ who }) => members.list(who));
  const proven = (req: Request) => demandProof(req, store.now().getTime());
  serve(api.addMember, ({ who, body, req }) => {
    proven(req);
    return members.add(who, body, addressOf(req));
  });
  serve(api.changeMember, ({ who, params, body, req }) => {
    proven(req);
    return members.change(who, params.id, addressOf(req), body);
  });

  const ok = { ok: true as const };
  serve(api.changePassword, async ({ who, body, req }) => {
    req.session.epoch = await own.changePassword(who, req.sessionID, body, addressOf(req));
    req.session.provenAt = store.now().getTime();
    return ok;
  });
  serve(api.prove, async ({ who, body, req }) => {
    await own.prove(who, body);
    req.session.provenAt = store.now().getTime();
    return ok;
  });
  serve(api.ownSessions, ({ who, req }) => own.sessions(who, req.sessionID));
  serve(api.endSession, async ({ who, params, req }) => {
    await own.endSession(who, req.sessionID, params.id, addressOf(req));
    return ok;
  });
  serve(api.prepareSecondFactor, async ({ who, body, req }) => {
    const { key, uri, sealed } = await own.prepareFactor(who, body.password);
    req.session.preparedFactor = sealed;
    return { key, uri };
  });
  serve(api.confirmSecondFactor, async ({ who, body, req }) => {
    const recoveryCodes = await own.confirmFactor(who, req.session.preparedFactor, body.code, addressOf(req));
    delete req.session.preparedFactor;
    return { recoveryCodes };
  });
  serve(api.dropSecondFactor, async ({ who, body, req }) => {
    await own.dropFactor(who, body, addressOf(req));
    return ok;
  });

  serve(api.invite, ({ who, body, req }) => {
    proven(req);
    return invitations.invite(who, body, addressOf(req));
  });
  serve(api.invitations, ({ who }) => invitations.list(who));
  serve(api.withdrawInvitation, async ({ who, params, req }) => {
    await invitations.withdraw(who, params.id, addressOf(req));
    return ok;
  });
  serve(api.lookAtInvitation, async ({ body }) => {
    const { club, name, role, by, expiresAt } = await invitations.look(body.token);
    return { club, name, role, by, expiresAt };
  });
  serve(api.join, async ({ body, req }) => {
    const id = await invitations.join(body, addressOf(req));
    await beginSession(req, { id, epoch: 0 }, store.now().getTime());
    return sessionOf(req, id);
  });
  serve(api.securityLog, ({ who, query }) => log.list(who, query.before ? new Date(query.before) : null));
}
