import { QueryTypes, type Sequelize } from 'sequelize';

/** A club may be one person, or a remote site; the first to begin here owns the installation; the demo may be taken away. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    "ALTER TABLE clubs ADD COLUMN IF NOT EXISTS kind ENUM('alone','club','remote') NOT NULL DEFAULT 'club'",
  );
  await db.query('ALTER TABLE members ADD COLUMN IF NOT EXISTS owner TINYINT NOT NULL DEFAULT 0');
  await db.query(
    `CREATE TABLE IF NOT EXISTS installation (name VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
       value VARCHAR(200) NOT NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
  // whoever set up an earlier installation without the demo owns it: its first steward to have changed anything
  const [first] = await db.query<{ id: string }>(
    `SELECT m.id FROM members m JOIN clubs c ON c.id = m.club_id LEFT JOIN changes h ON h.member_id = m.id
     WHERE c.demo = 0 AND m.role = 'steward' AND m.archived_at IS NULL GROUP BY m.id ORDER BY MIN(h.at) IS NULL, MIN(h.at), m.id LIMIT 1`,
    { type: QueryTypes.SELECT },
  );
  if (first)
    await db.query('UPDATE members SET owner = 1 WHERE id = :id', {
      replacements: first as object as Record<string, unknown>,
    });
}
