import type { Sequelize } from 'sequelize';

/**
 * What was measured in a frame’s picture, and a small picture of it; whether a person decided over it. Frames of before
 * were never measured; whoever refused one by hand did decide.
 */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE frames ADD COLUMN IF NOT EXISTS look JSON NULL AFTER measures');
  await db.query('ALTER TABLE frames ADD COLUMN IF NOT EXISTS judged TINYINT NOT NULL DEFAULT 0 AFTER accepted');
  await db.query("UPDATE frames SET judged = 1 WHERE refusal = 'by-hand'");
  await db.query(
    `CREATE TABLE IF NOT EXISTS frame_pictures (
      id CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
      picture TEXT CHARACTER SET ascii NOT NULL,
      FOREIGN KEY (id) REFERENCES frames(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4`,
  );
}
