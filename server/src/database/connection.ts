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

/** Runs work in a transaction, again when the database found a deadlock. */
export async function inTransaction<T>(db: Sequelize, work: (t: Transaction) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await db.transaction(work);
    } catch (e) {
      const code = (e as { original?: { errno?: number } }).original?.errno;
      if ((code !== 1213 && code !== 1205) || attempt >= 4) throw e;
    }
  }
}
