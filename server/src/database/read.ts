import { setTimeout } from 'node:timers/promises';
import { isGone } from './gone.ts';
import { DatabaseError, type Sequelize, type Transaction } from 'sequelize';

interface Connection {
  query: (sql: string, values: readonly unknown[]) => Promise<unknown[]>;
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
async function rowsOf<T>(connection: Connection, sql: string, values: readonly unknown[]): Promise<T[]> {
  try {
    return [...(await connection.query(sql, values))] as T[];
  } catch (e) {
    throw new DatabaseError(e as Error & { sql: string });
  }
}
