import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/**
 * Sign-in names are compared letter by letter, not by the collation; a session belongs to one epoch of its member, which
 * ends with every reset; a counted try is a row that can be taken back; a calendar feed is a person’s own and revocable.
 */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `ALTER TABLE members MODIFY sign_in VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
       ADD COLUMN IF NOT EXISTS session_epoch INT NOT NULL DEFAULT 0`,
  );
  await db.query(
    'ALTER TABLE sign_in_tries ADD COLUMN IF NOT EXISTS id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY FIRST',
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS calendar_feeds (member_id ${ID} NOT NULL, rig_id ${ID} NOT NULL,
       nonce CHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, made_at DATETIME(3) NOT NULL,
       PRIMARY KEY (member_id, rig_id),
       FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE,
       FOREIGN KEY (rig_id) REFERENCES rigs(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
