import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

/** Runs the server drives: who drives and who is at the controls, what happened, and what was asked for. */
export async function up(db: Sequelize): Promise<void> {
  // of a rig that runs one may stand in rig_busy: two of them cannot be
  await db.query(
    `CREATE TABLE IF NOT EXISTS live_runs (id ${ID} NOT NULL PRIMARY KEY, plan_id ${ID} NOT NULL, rig_id ${ID} NOT NULL, rig_busy ${ID} NULL UNIQUE,
       by_id ${ID} NOT NULL, state VARCHAR(20) NOT NULL, speed DOUBLE NOT NULL, bridge VARCHAR(60) NOT NULL DEFAULT '', input LONGTEXT NOT NULL, record LONGTEXT NOT NULL,
       holder_id ${ID} NULL, asked_by_id ${ID} NULL, last_seq INT NOT NULL DEFAULT 0, at_ms BIGINT NOT NULL, frames INT NOT NULL DEFAULT 0,
       lease_owner VARCHAR(60) NULL, lease_until DATETIME(3) NULL, claims INT NOT NULL DEFAULT 0, version INT NOT NULL DEFAULT 0,
       begun_at DATETIME(3) NOT NULL, ended_at DATETIME(3) NULL, run_id ${ID} NULL, debrief LONGTEXT NULL, problem VARCHAR(500) NOT NULL DEFAULT '',
       INDEX (state, lease_until), INDEX (rig_id, begun_at), FOREIGN KEY (plan_id) REFERENCES plans(id) ON DELETE CASCADE,
       FOREIGN KEY (rig_id) REFERENCES rigs(id) ON DELETE CASCADE, FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS run_events (run_id ${ID} NOT NULL, seq INT NOT NULL, at_ms BIGINT NOT NULL, data LONGTEXT NOT NULL,
       PRIMARY KEY (run_id, seq), FOREIGN KEY (run_id) REFERENCES live_runs(id) ON DELETE CASCADE) ${TABLE}`,
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS run_commands (id ${ID} NOT NULL PRIMARY KEY, run_id ${ID} NOT NULL, data JSON NOT NULL, by_id ${ID} NOT NULL,
       asked_at DATETIME(3) NOT NULL, taken_seq INT NULL, INDEX (run_id, taken_seq),
       FOREIGN KEY (run_id) REFERENCES live_runs(id) ON DELETE CASCADE, FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ${TABLE}`,
  );
}
