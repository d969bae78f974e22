import { AsyncLocalStorage } from 'node:async_hooks';
import { setTimeout } from 'node:timers/promises';
import { DataTypes, Sequelize, type Transaction } from 'sequelize';
import { Problem } from '../problems.ts';
import { databaseAddress } from './address.ts';
import { writeStep } from './faults.ts';
import { ALONE, isGone, numberOf, UNDONE } from './gone.ts';

interface Parses {
  parse: (field: { string(): string }) => unknown;
}
// decimals arrive as text, not as rounded floats
(DataTypes as unknown as { mariadb?: { DECIMAL: Parses } }).mariadb!.DECIMAL.parse = (f) => f.string();

/** Time for one server to take a connection [ms]; of several the next is tried sooner. */
const CONNECT_MS = { one: 4000, ofSeveral: 1500 };
/** A node that says nothing for so long, while it is asked, is taken for gone [ms]. */
const SILENT_MS = 20_000;
/** A node that would not serve is left alone for so long [ms]. */
const SHUNNED_MS = 3000;
const UNKNOWN_VARIABLE = 1193;

interface Connection {
  query: (...of: unknown[]) => Promise<unknown>;
  isValid: () => boolean;
  destroy: () => void;
  /** Of which host it is. */
  keenHost?: number;
}
interface Connecting {
  connect: (config: { host: string; port: number }) => Promise<Connection>;
}

/**
 * A pool of connections to the first of the servers that serves. Of several nodes the next is taken when one is gone or has lost
 * its cluster, and the first again when it is back. Every question sees all that was acknowledged before, on whichever node:
 * it waits until its node has applied it (a server that is no node has nothing to wait for).
 * @throws TypeError where the address cannot be read
 */
export function connect(url: string, connections = 12): Sequelize {
  const address = databaseAddress(url);
  if (!address) throw new TypeError('the address of the database cannot be read');
  const { hosts } = address;
  const several = hosts.length > 1;
  const shunnedUntil = hosts.map(() => 0);
  const shun = (host: number) => (shunnedUntil[host] = Date.now() + SHUNNED_MS);
  const shunned = (host: number | undefined) => several && host !== undefined && shunnedUntil[host]! > Date.now();

  const db = new Sequelize(address.name, address.user, address.password, {
    dialect: 'mariadb',
    host: hosts[0]!.host,
    port: hosts[0]!.port,
    logging: false,
    timezone: '+00:00',
    pool: {
      max: connections,
      min: 0,
      idle: 10_000,
      acquire: 10_000,
      validate: (c?: object) => Boolean(c && (c as Connection).isValid() && !shunned((c as Connection).keenHost)),
    },
    // a node that has lost its cluster has done nothing of what it was asked
    retry: { max: several ? 3 : 1, match: [/WSREP has not yet prepared/] },
    dialectOptions: {
      connectTimeout: several ? CONNECT_MS.ofSeveral : CONNECT_MS.one,
      charset: 'utf8mb4',
      ...(several ? { socketTimeout: SILENT_MS } : {}),
    },
    define: { timestamps: false, freezeTableName: true, underscored: true },
  });

  if (several) ofSeveral.add(db);
  const manager = (db as unknown as { connectionManager: Connecting }).connectionManager;
  const one = manager.connect.bind(manager);
  /** Connects to one host and has it answer something: a node alone takes connections, and refuses every question. */
  async function serving(config: object, host: number): Promise<Connection> {
    const made = await one({ ...config, ...hosts[host]! });
    const query = made.query.bind(made);
    made.keenHost = host;
    made.query = async (...of) => {
      try {
        return await query(...of);
      } catch (e) {
        if ((e as { errno?: number }).errno === ALONE) shun(host);
        throw e;
      }
    };
    try {
      await made.query('SET SESSION wsrep_sync_wait = 7, wsrep_retry_autocommit = 4').catch((e: { errno?: number }) => {
        // one that cannot be a node has nothing to wait for
        if (e.errno !== UNKNOWN_VARIABLE) throw e;
      });
      if (several) await made.query('SELECT 1');
    } catch (e) {
      made.destroy();
      throw e;
    }
    return made;
  }
  manager.connect = async (config) => {
    const usable = hosts.map((_, i) => i).filter((i) => !shunned(i));
    let failed: unknown = null;
    for (const host of usable.length ? usable : hosts.map((_, i) => i))
      try {
        return await serving(config, host);
      } catch (e) {
        shun(host);
        failed ??= e;
      }
    throw failed;
  };
  return db;
}

/** What a request brings that must be written with its work or not at all: its key, and what it was answered. */
export interface WithTheWork {
  /** A transaction of this request was committed with the key in it. */
  written: boolean;
  begin: (t: Transaction) => Promise<void>;
  keep: (t: Transaction, value: unknown) => Promise<void>;
}
const carried = new AsyncLocalStorage<WithTheWork>();
/** Does something whose first transaction carries the request’s key. */
export const carrying = <T>(what: WithTheWork, work: () => Promise<T>): Promise<T> => carried.run(what, work);

interface Ended {
  commit: () => Promise<void>;
  cleanup: () => void;
  finished: string;
}
/**
 * The commit of a transaction in our words: where one is refused the library gives up the connection too, and on a cluster one is
 * refused whenever two met.
 */
function commitOnce(db: Sequelize, t: Transaction): void {
  const ended = t as unknown as Ended;
  ended.commit = async () => {
    try {
      await db.query('COMMIT', { transaction: t });
    } catch (e) {
      await t.rollback().catch(() => undefined);
      throw e;
    }
    ended.finished = 'commit';
    ended.cleanup();
  };
}

/** How often it is begun: undone by others; without a line to the one server there is; and to any of several. */
const MOST_ATTEMPTS = { undone: 8, gone: 3, goneOfSeveral: 8 };
const ofSeveral = new WeakSet<Sequelize>();
/** Those that undid each other do not come again at the same moment; each time they wait longer [ms]. */
const APART_MS = 15;
/** A cluster takes seconds to see that a node is gone: so long is waited at most before a lost line is tried again [ms]. */
const AWAY_MS = 1000;

/**
 * Runs work in a transaction, again when another’s work undid it or the database went away before it was asked to commit.
 * @param options  patient: a lost line is waited for
 * @throws Problem unsure where the line was lost while it committed; busy where it was undone again and again
 */
export async function inTransaction<T>(
  db: Sequelize,
  work: (t: Transaction) => Promise<T>,
  { patient = true } = {},
): Promise<T> {
  const what = carried.getStore();
  const first = what && !what.written ? what : null;
  for (let attempt = 1; ; attempt++) {
    let committing = false;
    try {
      const value = await db.transaction(async (t) => {
        commitOnce(db, t);
        writeStep('begun');
        await first?.begin(t);
        if (first) writeStep('keyed');
        const done = await work(t);
        writeStep('worked');
        await first?.keep(t, done);
        if (first) writeStep('answered');
        committing = true;
        return done;
      });
      writeStep('committed');
      if (first) first.written = true;
      return value;
    } catch (e) {
      const undone = UNDONE.has(numberOf(e));
      const gone = !undone && isGone(e);
      if (gone && committing) throw new Problem('unsure');
      if (!undone && !gone) throw e;
      const most = undone ? MOST_ATTEMPTS.undone : ofSeveral.has(db) ? MOST_ATTEMPTS.goneOfSeveral : MOST_ATTEMPTS.gone;
      if (attempt >= most || (gone && !patient)) throw undone ? new Problem('busy') : e;
      await setTimeout(undone ? Math.random() * APART_MS * 2 ** attempt : Math.min(AWAY_MS, 100 * 2 ** attempt));
    }
  }
}
