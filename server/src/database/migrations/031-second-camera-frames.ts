import type { Sequelize } from 'sequelize';

/** Frames of a second camera are kept beside those of the first, counted by themselves. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `ALTER TABLE run_frames ADD COLUMN IF NOT EXISTS second TINYINT NOT NULL DEFAULT 0,
       DROP PRIMARY KEY, ADD PRIMARY KEY (run_id, second, n)`,
  );
}
