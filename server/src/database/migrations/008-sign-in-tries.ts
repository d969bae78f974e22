import type { Sequelize } from 'sequelize';

/** Failed sign-ins, by account and by address, shared by all processes; kept as hashes and for a quarter of an hour. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS sign_in_tries (
       who CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, at DATETIME(3) NOT NULL,
       INDEX (who, at), INDEX (at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
