import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** Frames of runs that are kept as files: where each stands, what was measured on it, or why it is not there. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS run_frames (run_id ${ID} NOT NULL, n INT NOT NULL, start_ms BIGINT NOT NULL, filter VARCHAR(40) NOT NULL,
       bytes BIGINT NOT NULL DEFAULT 0, measured LONGTEXT NULL, problem VARCHAR(200) NOT NULL DEFAULT '', kept_at DATETIME(3) NOT NULL,
       PRIMARY KEY (run_id, n), INDEX (kept_at), FOREIGN KEY (run_id) REFERENCES live_runs(id) ON DELETE CASCADE)
       ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
