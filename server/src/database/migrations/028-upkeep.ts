import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const STAMPS = `version INT NOT NULL DEFAULT 1, updated_at DATETIME(3) NOT NULL, updated_by ${ID} NULL, archived_at DATETIME(3) NULL`;

/** What comes again on a rig, who has it and how they found it, what was counted in the drawer, and what a club holds for usual. */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE clubs ADD COLUMN IF NOT EXISTS settings JSON NULL');
  await db.query(
    `CREATE TABLE IF NOT EXISTS upkeep (id ${ID} NOT NULL PRIMARY KEY, rig_id ${ID} NOT NULL, what VARCHAR(200) NOT NULL,
       every_days INT NULL, every_nights INT NULL, note VARCHAR(1000) NOT NULL DEFAULT '', since DATE NOT NULL, ${STAMPS},
       INDEX (rig_id), CHECK (every_days IS NOT NULL OR every_nights IS NOT NULL), FOREIGN KEY (rig_id) REFERENCES rigs(id)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS upkeep_done (id ${ID} NOT NULL PRIMARY KEY, upkeep_id ${ID} NOT NULL, day DATE NOT NULL, by_id ${ID} NOT NULL,
       note VARCHAR(1000) NOT NULL DEFAULT '', INDEX (upkeep_id, day), FOREIGN KEY (upkeep_id) REFERENCES upkeep(id),
       FOREIGN KEY (by_id) REFERENCES members(id)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS handovers (id ${ID} NOT NULL PRIMARY KEY, rig_id ${ID} NOT NULL, member_id ${ID} NOT NULL,
       taken_at DATETIME(3) NOT NULL, taken_in_order TINYINT NOT NULL, taken_note VARCHAR(1000) NOT NULL DEFAULT '',
       given_at DATETIME(3) NULL, given_in_order TINYINT NULL, given_note VARCHAR(1000) NOT NULL DEFAULT '',
       INDEX (rig_id, taken_at), FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (member_id) REFERENCES members(id)) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS part_counts (id ${ID} NOT NULL PRIMARY KEY, club_id ${ID} NOT NULL, at DATETIME(3) NOT NULL, by_id ${ID} NOT NULL,
       note VARCHAR(1000) NOT NULL DEFAULT '', found JSON NOT NULL, adopted TINYINT NOT NULL DEFAULT 0, INDEX (club_id, at),
       FOREIGN KEY (club_id) REFERENCES clubs(id), FOREIGN KEY (by_id) REFERENCES members(id)) ${TABLE}`,
  );
}
