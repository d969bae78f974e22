import { setTimeout } from 'node:timers/promises';
import { isGone } from './gone.ts';
import { DatabaseError, type Sequelize, type Transaction } from 'sequelize';

interface Connection {
  query: (what: { sql: string }, values: readonly unknown[]) => Promise<Rows>;
}
interface Rows extends Array<Record<string, unknown>> {
  meta: { type: string; name: () => string }[];
}
interface Pool {
  getConnection: (o: { type: 'read' }) => Promise<Connection>;
  releaseConnection: (c: Connection) => void;
}

/**
 * Rows of a plain SELECT with `?` for values: for what every request asks, the driver alone takes a fifth of the time it
 * takes through a model. Names are as in the statement; JSON columns come as text.
 */
export async function read<T>(db: Sequelize, sql: string, values: readonly unknown[], t?: Transaction): Promise<T[]> {
  return t ? once<T>(db, sql, values, t) : whenThere(() => once<T>(db, sql, values), SOON_MS);
}

/** How long is waited before a lost line is tried again [ms]: a node that is gone is seen by then, and another one taken. */
const AGAIN_MS = [60, 300, 900];
/** The same for one question of several: whoever asks them all has the longer patience. */
const SOON_MS = [100];
/** Does what only reads, again where the line to the database was lost on the way. */
export async function whenThere<T>(work: () => Promise<T>, again: readonly number[] = AGAIN_MS): Promise<T> {
  for (let attempt = 0; ; attempt++)
    try {
      return await work();
    } catch (e) {
      if (!isGone(e) || attempt >= again.length) throw e;
      await setTimeout(again[attempt]);
    }
}

async function once<T>(db: Sequelize, sql: string, values: readonly unknown[], t?: Transaction): Promise<T[]> {
  const within = (t as unknown as { connection?: Connection } | undefined)?.connection;
  if (within) return rowsOf<T>(within, sql, values);
  const pool = (db as unknown as { connectionManager: Pool }).connectionManager;
  const connection = await pool.getConnection({ type: 'read' });
  try {
    return await rowsOf<T>(connection, sql, values);
  } finally {
    pool.releaseConnection(connection);
  }
}
/**
 * What the library's models give, without its function for every single value (two fifths of the time a wide row takes): decimals
 * and JSON as text, whole numbers as numbers, and times as text too, for the driver would read them in the machine's own zone.
 */
const AS_MODELS_DO = {
  typeCast: undefined,
  dateStrings: true,
  jsonStrings: true,
  supportBigNumbers: false,
  bigIntAsNumber: true,
  decimalAsNumber: false,
  checkNumberRange: true,
};
async function rowsOf<T>(connection: Connection, sql: string, values: readonly unknown[]): Promise<T[]> {
  try {
    const rows = await connection.query({ ...AS_MODELS_DO, sql }, values);
    for (const column of rows.meta) {
      if (column.type !== 'DATETIME' && column.type !== 'TIMESTAMP') continue;
      const name = column.name();
      for (const row of rows) row[name] = instantOf(row[name] as string | null);
    }
    return [...rows] as T[];
  } catch (e) {
    throw new DatabaseError(e as Error & { sql: string });
  }
}
/** A moment as the database writes it, on a line whose zone is UTC: 2026-11-24 21:07:03.250 */
const instantOf = (text: string | null): Date | null => (text === null ? null : new Date(`${text.replace(' ', 'T')}Z`));
