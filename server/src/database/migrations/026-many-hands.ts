import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const WORD = (n: number) => `VARCHAR(${n}) CHARACTER SET ascii COLLATE ascii_bin`;
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/**
 * What several servers share: work that outlives its request, what became of things in the order in which it is told, and what
 * is counted for the whole installation. A person’s own account has turns too.
 */
export async function up(db: Sequelize): Promise<void> {
  // what nights and projects brought is summed along an index alone, in its order: sixty nights of three hundred frames are
  // one reading of it
  await db.query(
    `ALTER TABLE frames ADD INDEX IF NOT EXISTS sums_of (run_id, kind, project_id, panel, filter, exposure_s, accepted),
       ADD INDEX IF NOT EXISTS taken_of (project_id, kind, run_id, panel, filter, exposure_s, accepted), DROP INDEX IF EXISTS progress`,
  );
  // changed with the frames of a run: what was summed under another mark is not what they come to
  await db.query(
    "ALTER TABLE runs ADD COLUMN IF NOT EXISTS frames_mark CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT ''",
  );
  await db.query('UPDATE runs SET frames_mark = UUID()');
  await db.query('ALTER TABLE members ADD COLUMN IF NOT EXISTS turns BIGINT UNSIGNED NOT NULL DEFAULT 0');
  await db.query(
    `CREATE TABLE IF NOT EXISTS jobs (id ${ID} NOT NULL PRIMARY KEY, club_id ${ID} NOT NULL, member_id ${ID} NOT NULL,
       kind ${WORD(40)} NOT NULL, subject_id ${ID} NULL, input JSON NOT NULL, state ${WORD(12)} NOT NULL,
       share DOUBLE NOT NULL DEFAULT 0, stage JSON NULL, result LONGTEXT NULL, problem JSON NULL,
       attempts INT NOT NULL DEFAULT 0, lease_owner ${ID} NULL, lease_until DATETIME(3) NULL, cancel_requested TINYINT NOT NULL DEFAULT 0,
       version INT NOT NULL DEFAULT 0, made_at DATETIME(3) NOT NULL, begun_at DATETIME(3) NULL, ended_at DATETIME(3) NULL,
       INDEX (state, lease_until), INDEX (club_id, made_at), INDEX (member_id, made_at), INDEX (ended_at),
       FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (member_id) REFERENCES members(id)) ${TABLE}`,
  );
  // an event is written with what it tells of, without a number; numbers are given afterwards, in the order in which they can be
  // seen, so that whoever has read up to one has missed none before it
  await db.query(
    `CREATE TABLE IF NOT EXISTS events (id ${ID} NOT NULL PRIMARY KEY, seq BIGINT UNSIGNED NULL UNIQUE, club_id ${ID} NOT NULL,
       member_id ${ID} NULL, kind ${WORD(40)} NOT NULL, data JSON NOT NULL, at DATETIME(3) NOT NULL,
       INDEX (club_id, seq), INDEX (at)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS counters (name ${WORD(40)} NOT NULL PRIMARY KEY, value BIGINT UNSIGNED NOT NULL) ${TABLE}`,
  );
  await db.query("INSERT IGNORE INTO counters (name, value) VALUES ('events', 0)");
  await db.query(
    `CREATE TABLE IF NOT EXISTS taken_places (id ${ID} NOT NULL PRIMARY KEY, who ${WORD(64)} NOT NULL, until DATETIME(3) NOT NULL,
       INDEX (who, until), INDEX (until)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS hits (who ${WORD(64)} NOT NULL PRIMARY KEY, hits INT UNSIGNED NOT NULL, until DATETIME(3) NOT NULL,
       INDEX (until)) ${TABLE}`,
  );
}
