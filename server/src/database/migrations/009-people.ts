import type { Sequelize } from 'sequelize';

const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const HASH = 'CHAR(64) CHARACTER SET ascii COLLATE ascii_bin';

/** Invitations, a second factor with its recovery codes, and what stewards read about sign-ins and changes of people. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `ALTER TABLE members ADD COLUMN IF NOT EXISTS factor_key VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NULL,
       ADD COLUMN IF NOT EXISTS factor_step BIGINT NOT NULL DEFAULT 0`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS recovery_codes (member_id ${ID} NOT NULL, code ${HASH} NOT NULL, PRIMARY KEY (member_id, code),
       FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS invitations (id ${ID} NOT NULL PRIMARY KEY, club_id ${ID} NOT NULL, token ${HASH} NOT NULL UNIQUE,
       name VARCHAR(120) NOT NULL, role ENUM('steward','member','guest') NOT NULL, by_id ${ID} NOT NULL,
       expires_at DATETIME(3) NOT NULL, used_at DATETIME(3) NULL,
       FOREIGN KEY (club_id) REFERENCES clubs(id) ON DELETE CASCADE, FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
  // a name nobody has belongs to no club; people leave the log with their club
  await db.query(
    `CREATE TABLE IF NOT EXISTS security_events (id ${ID} NOT NULL PRIMARY KEY, club_id ${ID} NULL, subject ${HASH} NOT NULL,
       kind VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, at DATETIME(3) NOT NULL, times INT NOT NULL DEFAULT 1,
       member_id ${ID} NULL, by_id ${ID} NULL, address VARCHAR(60) NOT NULL, detail VARCHAR(200) NOT NULL,
       INDEX (club_id, at), INDEX (subject, at), INDEX (at),
       FOREIGN KEY (club_id) REFERENCES clubs(id) ON DELETE CASCADE, FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE,
       FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
}
