import type { Sequelize } from 'sequelize';

/** When a guide log began, so that frames find their part of it. Logs of before do not know; it can be told. */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE guide_logs ADD COLUMN IF NOT EXISTS began_at DATETIME(3) NULL AFTER note');
}
