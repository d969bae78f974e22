import { createHmac } from 'node:crypto';
import { SignInName } from '@keen/contract';
import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import { QueryTypes } from 'sequelize';
import type { Config } from '../config.ts';
import { Problem, type ProblemCode } from '../problems.ts';
import type { Store } from '../store.ts';
import { securityLog } from './securityLog.ts';
import { addressOf } from './sessions.ts';

/** Failed tries count for so long [ms]. */
const WINDOW_MS = 15 * 60_000;
/**
 * Beyond so many failures of an account, as a multiple of what one address may, each further try waits. It is not locked:
 * a stranger with five addresses would lock its owner out.
 */
const SLOW_FROM = 5;
/** How long each such try has to wait [ms]. */
const SLOW_MS = 1000;
/** Tries that may wait at a time, in this process. */
const MOST_WAITING = 200;

/** What counts as a guess on routes that are more than a sign-in: a form filled in badly does not. */
const GUESSES: readonly ProblemCode[] = ['wrong_password', 'wrong_code', 'bad_invitation'];

/** One network counts as one address: a household has 2^64 of version 6. */
export const networkOf = (req: Pick<Request, 'ip'>): string => ipKeyGenerator(req.ip ?? '', 64);

/**
 * Tries of the last quarter of an hour, shared by all processes; who tried is kept as a hash. Ours and not a library's, which
 * spend points at an attempt: here a try is a row of its own, written before it is judged and taken back alone when it was
 * none, whichever process judged it.
 */
export function countedTries(store: Store, secret: string) {
  const hashed = (what: string) => createHmac('sha256', secret).update(what).digest('hex');
  const since = () => new Date(store.now().getTime() - WINDOW_MS);
  return {
    /**
     * Writes a try down *before* it is judged, then counts: of any number at one moment no more than `most` find
     * themselves within it. Refused ones are taken back, so that a quarter of an hour is a quarter of an hour.
     */
    async begin(what: string): Promise<{ count: number; takeBack: () => Promise<void> }> {
      const who = hashed(what);
      const [id] = await store.db.query('INSERT INTO sign_in_tries (who, at) VALUES (:who, :now)', {
        replacements: { who, now: store.now() },
        type: QueryTypes.INSERT,
      });
      const [row] = await store.db.query<{ n: number }>(
        'SELECT COUNT(*) AS n FROM sign_in_tries WHERE who = :who AND at > :since',
        { replacements: { who, since: since() }, type: QueryTypes.SELECT },
      );
      return {
        count: Number(row!.n),
        takeBack: async () => {
          await store.db.query('DELETE FROM sign_in_tries WHERE id = :id', { replacements: { id } });
        },
      };
    },
    /** Forgets what was counted under a name. */
    async forget(what: string): Promise<void> {
      await store.db.query('DELETE FROM sign_in_tries WHERE who = :who', { replacements: { who: hashed(what) } });
    },
    async sweep(): Promise<void> {
      await store.db.query('DELETE FROM sign_in_tries WHERE at < :since LIMIT 500', {
        replacements: { since: since() },
      });
    },
  };
}

const tooMany = () => new Problem('too_many', 'Too many failed sign-ins; try again in a quarter of an hour.');

/**
 * Counts a try before it is judged and takes it back when it was none: by address, and by account and address together. An
 * account that is tried from many addresses is slowed down.
 * @param onlySuccess  everything but a success counts, as at the sign-in itself
 */
export function signInTries(store: Store, config: Config, onlySuccess: boolean): RequestHandler {
  const log = securityLog(store);
  const tries = countedTries(store, config.secret);
  let waiting = 0;
  /** Tries of one address that are being looked at here: more than may be judged need not be asked about. */
  const open = new Map<string, number>();
  const refuse = async (req: Request, account: string) => {
    await log.attempt({ kind: 'too_many', ...(await log.account(account)), address: addressOf(req) });
    return tooMany();
  };
  return async (req, res, next) => {
    const address = networkOf(req);
    const beside = open.get(address) ?? 0;
    // no question to the database: three hundred at once would keep everybody else waiting for it
    if (beside >= config.signInLimit) throw tooMany();
    open.set(address, beside + 1);
    res.once('close', () => {
      const left = (open.get(address) ?? 1) - 1;
      if (left > 0) open.set(address, left);
      else open.delete(address);
    });
    // at the sign-in whose name is typed counts, whoever is signed in here already
    const account = accountNamed(req.body) || (req.session.memberId ?? '');
    const pair = account ? `pair ${account} ${address}` : '';
    const begun: Awaited<ReturnType<typeof tries.begin>>[] = [];
    const takeBack = async () => {
      for (const t of begun) await t.takeBack();
    };
    for (const what of [`address ${address}`, ...(pair ? [pair] : [])]) {
      const t = await tries.begin(what);
      begun.push(t);
      if (t.count <= config.signInLimit) continue;
      await takeBack();
      throw await refuse(req, account);
    }
    if (account) {
      const t = await tries.begin(`account ${account}`);
      begun.push(t);
      if (t.count > SLOW_FROM * config.signInLimit) {
        if (waiting >= MOST_WAITING) {
          await takeBack();
          throw await refuse(req, account);
        }
        waiting++;
        await new Promise((done) => setTimeout(done, SLOW_MS)).finally(() => waiting--);
      }
    }
    res.once('finish', () => {
      const problem = res.locals.problem as ProblemCode | undefined;
      const counts = onlySuccess ? res.statusCode >= 300 : problem !== undefined && GUESSES.includes(problem);
      const work = async () => {
        if (!counts) await takeBack();
        // whoever knows the password has made up for the typing errors before
        if (!counts && onlySuccess && pair) await tries.forget(pair);
        await tries.sweep();
      };
      // the answer is out already; a database that is gone says so at the next try
      work().catch(() => undefined);
    });
    next();
  };
}

/** The account that is tried, spelled as accounts are; empty for what no account can be called. */
function accountNamed(body: unknown): string {
  const read = SignInName.safeParse((body as { signIn?: unknown } | undefined)?.signIn);
  return read.success ? read.data : '';
}
