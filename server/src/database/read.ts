import { DatabaseError, QueryTypes, type Sequelize, type Transaction } from 'sequelize';

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
  if (t)
    return (await db.query(sql, {
      replacements: [...values],
      type: QueryTypes.SELECT,
      transaction: t,
    })) as unknown as T[];
  const pool = (db as unknown as { connectionManager: Pool }).connectionManager;
  const connection = await pool.getConnection({ type: 'read' });
  try {
    return [...(await connection.query(sql, values))] as T[];
  } catch (e) {
    throw new DatabaseError(e as Error & { sql: string });
  } finally {
    pool.releaseConnection(connection);
  }
}
