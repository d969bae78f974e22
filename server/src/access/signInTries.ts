import { createHmac } from 'node:crypto';
import type { RequestHandler } from 'express';
import { QueryTypes } from 'sequelize';
import type { Config } from '../config.ts';
import { Problem, type ProblemCode } from '../problems.ts';
import type { Store } from '../store.ts';
import { securityLog } from './securityLog.ts';
import { addressOf } from './sessions.ts';

const WINDOW_MS = 15 * 60_000;
/** An account takes more failures than an address: else a stranger could lock its owner out. */
const ACCOUNT_SHARE = 5;

/** What counts as a guess: a form filled in badly does not. */
const GUESSES: readonly ProblemCode[] = ['wrong_password', 'wrong_code', 'bad_invitation'];

/**
 * Refuses who failed too often of late: by address, and by the account that was tried. Counted in the database, so that
 * all processes count together.
 */
export function signInTries(store: Store, config: Config): RequestHandler {
  const log = securityLog(store);
  const hashed = (what: string) => createHmac('sha256', config.secret).update(what).digest('hex');
  return async (req, res, next) => {
    const since = new Date(store.now().getTime() - WINDOW_MS);
    const named = (req.body as { signIn?: unknown } | undefined)?.signIn ?? req.session.memberId ?? '';
    const account = typeof named === 'string' ? named.trim().toLowerCase().slice(0, 200) : '';
    const keys = [
      { who: hashed(`address ${req.ip ?? ''}`), most: config.signInLimit },
      ...(account ? [{ who: hashed(`account ${account}`), most: ACCOUNT_SHARE * config.signInLimit }] : []),
    ];
    for (const { who, most } of keys) {
      const [row] = await store.db.query<{ n: number }>(
        'SELECT COUNT(*) AS n FROM sign_in_tries WHERE who = :who AND at > :since',
        { replacements: { who, since }, type: QueryTypes.SELECT },
      );
      if (Number(row!.n) < most) continue;
      await log.note({ kind: 'too_many', ...(await log.account(account)), address: addressOf(req) });
      throw new Problem('too_many', 'Too many failed sign-ins; try again in a quarter of an hour.');
    }
    res.once('finish', () => {
      if (!GUESSES.includes(res.locals.problem as ProblemCode)) return;
      const work = async () => {
        for (const { who } of keys)
          await store.db.query('INSERT INTO sign_in_tries (who, at) VALUES (:who, :now)', { replacements: { who, now: store.now() } }); // prettier-ignore
        await store.db.query('DELETE FROM sign_in_tries WHERE at < :since LIMIT 500', { replacements: { since } });
      };
      // the answer is out already; a database that is gone says so at the next try
      work().catch(() => undefined);
    });
    next();
  };
}
