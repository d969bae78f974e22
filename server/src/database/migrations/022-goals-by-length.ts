import type { Sequelize } from 'sequelize';

/** A filter may be wanted at two lengths, as for a bright core: goals are told apart by filter and exposure. */
export async function up(db: Sequelize): Promise<void> {
  // the new key first: the foreign key rests on one that begins with the project
  await db.query('ALTER TABLE project_goals ADD UNIQUE KEY IF NOT EXISTS goal_length (project_id, filter, exposure_s)');
  // unnamed when it was made, so it bears its first column's name
  await db.query('ALTER TABLE project_goals DROP KEY IF EXISTS project_id');
}
