import type { Sequelize } from 'sequelize';

/** Indexes that answer long lists without touching every row: progress of projects, newest changes, runs and plans of a club. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    'ALTER TABLE frames ADD INDEX IF NOT EXISTS progress (project_id, kind, run_id, filter, exposure_s, accepted)',
  );
  await db.query('ALTER TABLE changes ADD INDEX IF NOT EXISTS newest (member_id, at)');
  await db.query('ALTER TABLE projects ADD INDEX IF NOT EXISTS by_name (club_id, name, id)');
  await db.query('ALTER TABLE runs ADD INDEX IF NOT EXISTS newest (rig_id, at)');
}
