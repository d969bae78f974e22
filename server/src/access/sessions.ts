import { randomBytes, timingSafeEqual } from 'node:crypto';
import connectSequelize from 'connect-session-sequelize';
import type { Request, RequestHandler } from 'express';
import session from 'express-session';
import type { Sequelize } from 'sequelize';
import type { Role } from '@keen/contract';
import type { Config } from '../config.ts';
import { plain } from '../database/index.ts';
import { Problem } from '../problems.ts';
import type { Actor, Store } from '../store.ts';

declare module 'express-session' {
  interface SessionData {
    memberId: string;
    csrf: string;
  }
}

export const COOKIE = 'keen.sid';
const TWO_WEEKS_MS = 14 * 86_400_000;

/** Sessions in the database, so that any process can answer any request. */
export function sessions(db: Sequelize, config: Config): RequestHandler {
  const SequelizeStore = connectSequelize(session.Store);
  return session({
    name: COOKIE,
    secret: config.secret,
    resave: false,
    saveUninitialized: false,
    store: new SequelizeStore({
      db,
      tableName: 'Sessions',
      checkExpirationInterval: 900_000,
      expiration: TWO_WEEKS_MS,
    }),
    cookie: { httpOnly: true, sameSite: 'lax', secure: config.secureCookies, maxAge: TWO_WEEKS_MS },
  });
}

/** The token every change must carry; made with the session. */
export function csrfToken(req: Request): string {
  req.session.csrf ??= randomBytes(24).toString('base64url');
  return req.session.csrf;
}

/** Refuses changes without the session's token: another site can send the cookie, but cannot read the token. */
export const demandToken: RequestHandler = (req, _res, next) => {
  if (req.method === 'GET' || req.method === 'HEAD') {
    next();
    return;
  }
  const sent = Buffer.from(req.get('x-keen-token') ?? '');
  const held = Buffer.from(req.session.csrf ?? '');
  if (held.length === 0 || sent.length !== held.length || !timingSafeEqual(sent, held)) throw new Problem('bad_token');
  next();
};

const RANK: Record<Role, number> = { guest: 0, member: 1, steward: 2 };

/** The signed-in member, if there is one and the account still stands. */
export async function currentMember(store: Store, req: Request): Promise<Actor | null> {
  const id = req.session.memberId;
  if (!id) return null;
  const row = await store.members.findByPk(id);
  const m = row ? plain(row) : null;
  return m && !m.archivedAt ? { id: m.id, clubId: m.clubId, name: m.name, role: m.role } : null;
}

/** The one place where rights by role are decided; ownership is decided by the services. */
export async function demandRole(store: Store, req: Request, role: Role): Promise<Actor> {
  const who = await currentMember(store, req);
  if (!who) throw new Problem('not_signed_in');
  if (RANK[who.role] < RANK[role])
    throw new Problem('not_allowed', `This needs the role “${role}”; you are signed in as ${who.role}.`);
  return who;
}
