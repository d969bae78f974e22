import { AsyncLocalStorage } from 'node:async_hooks';
import { setTimeout } from 'node:timers/promises';
import { DataTypes, Sequelize, type Transaction } from 'sequelize';

interface Parses {
  parse: (field: { string(): string }) => unknown;
}
// decimals arrive as text, not as rounded floats
(DataTypes as unknown as { mariadb?: { DECIMAL: Parses } }).mariadb!.DECIMAL.parse = (f) => f.string();

export function connect(url: string, connections = 12): Sequelize {
  const parsed = new URL(url);
  return new Sequelize(
    parsed.pathname.slice(1),
    decodeURIComponent(parsed.username),
    decodeURIComponent(parsed.password),
    {
      dialect: 'mariadb',
      host: parsed.hostname,
      port: Number(parsed.port || 3306),
      logging: false,
      timezone: '+00:00',
      pool: { max: connections, min: 0, idle: 10_000, acquire: 10_000 },
      dialectOptions: { connectTimeout: 4000, charset: 'utf8mb4' },
      define: { timestamps: false, freezeTableName: true, underscored: true },
    },
  );
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

/** Records that guard others. */
export type Guard = 'clubs' | 'rigs';
/**
 * Takes a turn at a record: of those who do, in whichever process, one works at a time, until its transaction ends. It comes
 * before the transaction reads what others may change. The row is written and not only held, because nodes of a cluster are
 * told of what was written alone: whoever comes second there is to be undone at the end and to begin again. That has not been
 * tried on a cluster.
 */
export async function takeTurn(db: Sequelize, guard: Guard, id: string, t: Transaction): Promise<void> {
  await db.query(`UPDATE ${guard} SET turns = turns + 1 WHERE id = :id`, { replacements: { id }, transaction: t });
}

/** What another’s work undid and may be done again: a deadlock or a lost certification, a wait for a lock that was too long. */
const UNDONE: ReadonlySet<unknown> = new Set([1213, 1205]);
const MOST_ATTEMPTS = 4;
/** Those that undid each other do not come again at the same moment [ms]. */
const APART_MS = 25;

/** Runs work in a transaction, again when another’s work undid it. */
export async function inTransaction<T>(db: Sequelize, work: (t: Transaction) => Promise<T>): Promise<T> {
  const what = carried.getStore();
  const first = what && !what.written ? what : null;
  for (let attempt = 1; ; attempt++) {
    try {
      const value = await db.transaction(async (t) => {
        await first?.begin(t);
        const done = await work(t);
        await first?.keep(t, done);
        return done;
      });
      if (first) first.written = true;
      return value;
    } catch (e) {
      const code = (e as { original?: { errno?: number } }).original?.errno;
      if (!UNDONE.has(code) || attempt >= MOST_ATTEMPTS) throw e;
      await setTimeout(Math.random() * APART_MS * attempt);
    }
  }
}
