import { parse } from 'cookie';
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import connectSequelize from 'connect-session-sequelize';
import type { Request, RequestHandler, Response } from 'express';
import session, { type SessionData } from 'express-session';
import type { Role } from '@keen/contract';
import type { Config } from '../config.ts';
import { read } from '../database/index.ts';
import { Problem } from '../problems.ts';
import { RANK } from './ranks.ts';
import type { Actor, Store } from '../store.ts';

declare module 'express-session' {
  interface SessionData {
    memberId: string;
    /** The member's epoch in which it was begun: a reset ends the epoch. */
    epoch: number;
    /** When password and code were last given [ms]; what is dangerous asks for them again. */
    provenAt: number;
    csrf: string;
    /** When it was begun, and when it was last seen to be used [ms]. */
    begunAt: number;
    seenAt: number;
    /** What somebody is told of their own sessions. */
    device: 'phone' | 'computer' | 'unknown';
    address: string;
    /** Key of a second factor that is being set up, sealed. */
    preparedFactor?: string;
  }
}

/** Behind HTTPS the cookies are the host's own: no neighbouring name can set them. */
const cookieNames = (config: Pick<Config, 'secureCookies'>) => {
  const own = config.secureCookies ? '__Host-' : '';
  return { session: `${own}keen.sid`, visitor: `${own}keen.visitor` };
};
/** A session ends when it was not used for so long, and after so long in any case. */
const IDLE_MS = 14 * 86_400_000;
const LIFE_MS = 30 * 86_400_000;
/** How often it is written down that a session is used. */
const SEEN_EVERY_MS = 3_600_000;

interface StandingRow extends Actor {
  epoch: number;
}
type SessionRow = { data: string; clubTurn: number } & (StandingRow | { id: null });
const SESSION_AND_MEMBER = `SELECT s.data, m.id, m.club_id AS clubId, m.name, m.role, m.session_epoch AS epoch, c.turns AS clubTurn
  FROM Sessions s LEFT JOIN members m ON m.id = CONVERT(JSON_VALUE(s.data, '$.memberId') USING ascii) COLLATE ascii_bin AND m.archived_at IS NULL
  LEFT JOIN clubs c ON c.id = m.club_id
  WHERE s.sid = ? AND s.expires > ?`;
/** Whose a session was when it was looked up, on the way to the request that brought it. */
const found = new WeakMap<SessionData, StandingRow>();
const standings = new WeakMap<Request, StandingRow>();

/** Sessions in the database, so that any process can answer any request. */
export function sessions({ db, sawClub }: Pick<Store, 'db' | 'sawClub'>, config: Config): RequestHandler {
  const SequelizeStore = connectSequelize(session.Store);
  /** Every request looks its session up, and whose it is: that one question goes to the driver directly. */
  class Sessions extends SequelizeStore {
    override get = (sid: string, done: (error: unknown, found?: SessionData | null) => void) => {
      read<SessionRow>(db, SESSION_AND_MEMBER, [sid, new Date()]).then(([row]) => {
        if (!row) return done(null, null);
        const data = JSON.parse(row.data) as SessionData;
        if (row.id) {
          found.set(data, row as StandingRow);
          sawClub(row.clubId, row.clubTurn);
        }
        done(null, data);
      }, done);
    };
    // the session itself is made anew from what was found
    override createSession = (req: Request, data: SessionData) => {
      const made = SequelizeStore.prototype.createSession.call(this, req, data);
      const standing = found.get(data);
      if (standing) standings.set(req, standing);
      return made;
    };
  }
  return session({
    name: cookieNames(config).session,
    secret: config.secret,
    resave: false,
    saveUninitialized: false,
    store: new Sessions({
      db,
      tableName: 'Sessions',
      checkExpirationInterval: 900_000,
      expiration: IDLE_MS,
      disableTouch: true,
    } as ConstructorParameters<typeof SequelizeStore>[0]),
    cookie: { httpOnly: true, sameSite: 'lax', secure: config.secureCookies, maxAge: IDLE_MS, path: '/' },
  });
}

const cookieOf = (req: Request, name: string): string => parse(req.headers.cookie ?? '')[name] ?? '';
/** A visitor's token follows from their cookie: nothing is written down for people who never sign in. */
const visitorToken = (config: Config, nonce: string) =>
  createHmac('sha256', config.secret).update(`visitor ${nonce}`).digest('base64url');

/** The token every change must carry: of the session, or of the visitor's cookie before there is one. */
export function csrfToken(req: Request, config: Config): string {
  if (req.session.memberId) return (req.session.csrf ??= randomBytes(24).toString('base64url'));
  const { visitor } = cookieNames(config);
  let nonce = cookieOf(req, visitor);
  if (!/^[\w-]{24,64}$/.test(nonce)) {
    nonce = randomBytes(24).toString('base64url');
    req.res!.cookie(visitor, nonce, { httpOnly: true, sameSite: 'lax', secure: config.secureCookies, path: '/' });
  }
  return visitorToken(config, nonce);
}
export function clearCookies(res: Response, config: Config): void {
  for (const name of Object.values(cookieNames(config)))
    res.clearCookie(name, { path: '/', secure: config.secureCookies });
}

/** Refuses changes without the token: another site can send the cookie, but cannot read the token. */
export const demandToken =
  (config: Config): RequestHandler =>
  (req, _res, next) => {
    if (req.method === 'GET' || req.method === 'HEAD') {
      next();
      return;
    }
    const sent = Buffer.from(req.get('x-keen-token') ?? '');
    const nonce = cookieOf(req, cookieNames(config).visitor);
    const held = Buffer.from(
      req.session.memberId ? (req.session.csrf ?? '') : nonce ? visitorToken(config, nonce) : '',
    );
    if (held.length === 0 || sent.length !== held.length || !timingSafeEqual(sent, held))
      throw new Problem('bad_token');
    next();
  };

/** The signed-in member, if there is one and the account still stands. */
export async function currentMember(store: Store, req: Request): Promise<Actor | null> {
  const id = req.session.memberId;
  if (!id) return null;
  const now = store.now().getTime();
  // a session of an earlier version has no dates: it begins to count now
  const { begunAt = now, seenAt = now } = req.session;
  if (now - seenAt > IDLE_MS || now - begunAt > LIFE_MS) {
    await new Promise<void>((done) => req.session.regenerate(() => done()));
    return null;
  }
  if (!req.session.seenAt || now - seenAt > SEEN_EVERY_MS) [req.session.begunAt, req.session.seenAt] = [begunAt, now];
  const standing = standings.get(req);
  if (standing?.id === id && standing.epoch === (req.session.epoch ?? 0)) {
    const { clubId, name, role } = standing;
    return { id, clubId, name, role };
  }
  const sql =
    'SELECT id, club_id AS clubId, name, role FROM members WHERE id = ? AND session_epoch = ? AND archived_at IS NULL';
  return (await store.read<Actor>(sql, [id, req.session.epoch ?? 0]))[0] ?? null;
}

/** How long password and code hold for what is dangerous [ms]. */
const PROOF_MS = 10 * 60_000;
/** What hands out rights or takes a lock away asks for the password again: a session can be stolen, a password is known. */
export function demandProof(req: Request, now: number): void {
  const at = req.session.provenAt;
  if (at === undefined || now - at > PROOF_MS || at > now) throw new Problem('proof_needed');
}

/** The one place where rights by role are decided; ownership is decided by the services. */
export function demandRole(who: Actor | null, role: Role): asserts who is Actor {
  if (!who) throw new Problem('not_signed_in');
  if (RANK[who.role] < RANK[role])
    throw new Problem('not_allowed', `This needs the role “${role}”; you are signed in as ${who.role}.`);
}

/** A fresh session id at sign-in, so that an id from before cannot be reused. */
export async function beginSession(req: Request, member: { id: string; epoch: number }, now: number): Promise<void> {
  await new Promise<void>((done, fail) => req.session.regenerate((e: unknown) => (e ? fail(e as Error) : done())));
  const agent = req.get('user-agent') ?? '';
  Object.assign(req.session, {
    memberId: member.id,
    epoch: member.epoch,
    provenAt: now,
    begunAt: now,
    seenAt: now,
    device: /mobi|android/i.test(agent) ? 'phone' : agent ? 'computer' : 'unknown',
    address: addressOf(req),
  });
}
/** Where a request came from, as the log and the list of sessions tell it. */
export const addressOf = (req: Request): string => (req.ip ?? '').replace(/^::ffff:/, '').slice(0, 60);
