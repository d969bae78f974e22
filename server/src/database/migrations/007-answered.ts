import type { Sequelize } from 'sequelize';

/** What a creating request was answered, by the key its sender gave it, so that the same request sent again creates nothing. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS answered (
       member_id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, request_key VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
       path VARCHAR(200) NOT NULL, body MEDIUMTEXT NULL, at DATETIME(3) NOT NULL,
       PRIMARY KEY (member_id, request_key), INDEX (at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
