import type { Sequelize } from 'sequelize';

const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';
const WORD = (length: number) => `VARCHAR(${length}) CHARACTER SET ascii COLLATE ascii_bin`;
const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** What people answered in drills, and the logbook. An answer to the same drill counts once. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS drill_answers (id ${ID} NOT NULL PRIMARY KEY, member_id ${ID} NOT NULL,
       situation ${WORD(60)} NOT NULL, seed INT NOT NULL, cause ${WORD(40)} NOT NULL, cure ${WORD(40)} NOT NULL,
       cause_right TINYINT NOT NULL, cure_right TINYINT NOT NULL, at DATETIME(3) NOT NULL,
       UNIQUE KEY (member_id, situation, seed), INDEX (member_id, at),
       FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS log_entries (id ${ID} NOT NULL PRIMARY KEY, rig_id ${ID} NOT NULL, aspect ${WORD(30)} NULL,
       night DATE NULL, problem TEXT NOT NULL, cause TEXT NOT NULL, cure TEXT NOT NULL, finding ${WORD(60)} NOT NULL,
       by_id ${ID} NOT NULL, version INT NOT NULL, updated_at DATETIME(3) NOT NULL, updated_by ${ID} NULL, archived_at DATETIME(3) NULL,
       INDEX (rig_id, updated_at), FOREIGN KEY (rig_id) REFERENCES rigs(id) ON DELETE CASCADE,
       FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
}
