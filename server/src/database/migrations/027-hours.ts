import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const WORD = (n: number) => `VARCHAR(${n}) CHARACTER SET ascii COLLATE ascii_bin`;
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Whose which hours of a rig are, how each rig is shared, and by which rule the club counts. */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE clubs ADD COLUMN IF NOT EXISTS season_rules JSON NULL');
  await db.query(
    `CREATE TABLE IF NOT EXISTS bookings (id ${ID} NOT NULL PRIMARY KEY, club_id ${ID} NOT NULL, rig_id ${ID} NOT NULL,
       member_id ${ID} NOT NULL, project_id ${ID} NULL, night DATE NOT NULL, start DATETIME(3) NOT NULL, end DATETIME(3) NOT NULL,
       origin ${WORD(10)} NOT NULL, state ${WORD(12)} NOT NULL, note VARCHAR(500) NOT NULL DEFAULT '', answer VARCHAR(500) NOT NULL DEFAULT '',
       made_by ${ID} NOT NULL, made_at DATETIME(3) NOT NULL, decided_by ${ID} NULL, outcome ${WORD(10)} NULL, outcome_by ${ID} NULL,
       version INT NOT NULL DEFAULT 1, updated_at DATETIME(3) NOT NULL, updated_by ${ID} NULL, archived_at DATETIME(3) NULL,
       INDEX hours_of (rig_id, state, start), INDEX nights_of (club_id, night), INDEX (member_id, night), CHECK (end > start),
       FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (member_id) REFERENCES members(id),
       FOREIGN KEY (project_id) REFERENCES projects(id)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS rig_sharing (id ${ID} NOT NULL PRIMARY KEY, data JSON NOT NULL,
       version INT NOT NULL DEFAULT 1, updated_at DATETIME(3) NOT NULL, updated_by ${ID} NULL, archived_at DATETIME(3) NULL,
       FOREIGN KEY (id) REFERENCES rigs(id)) ${TABLE}`,
  );
  for (const table of ['members', 'invitations'])
    await db.query(`ALTER TABLE ${table} MODIFY role ENUM('steward','member','guest','watcher') NOT NULL`);
  // what a fault keeps from work; null: nothing
  await db.query('ALTER TABLE log_entries ADD COLUMN IF NOT EXISTS stops JSON NULL');
  // null: at any time, weighed like its owner’s others
  await db.query('ALTER TABLE projects ADD COLUMN IF NOT EXISTS season JSON NULL');
  await db.query(
    `CREATE TABLE IF NOT EXISTS absences (id ${ID} NOT NULL PRIMARY KEY, member_id ${ID} NOT NULL, from_night DATE NOT NULL, until_night DATE NOT NULL,
       title VARCHAR(200) NOT NULL DEFAULT '', INDEX (member_id, from_night), CHECK (until_night >= from_night),
       FOREIGN KEY (member_id) REFERENCES members(id)) ${TABLE}`,
  );
  // a person's own nights on all rigs, for a calendar that cannot sign in
  await db.query(
    `CREATE TABLE IF NOT EXISTS own_feeds (member_id ${ID} NOT NULL PRIMARY KEY, nonce ${WORD(64)} NOT NULL, made_at DATETIME(3) NOT NULL,
       FOREIGN KEY (member_id) REFERENCES members(id)) ${TABLE}`,
  );
}
