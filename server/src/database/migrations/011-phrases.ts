import type { Sequelize } from 'sequelize';

/**
 * What was kept of runs and guide logs carries the codes of its sentences under a plainer name. Inside a text that
 * somebody typed the quotes would be escaped, so that only names of fields are met.
 */
export async function up(db: Sequelize): Promise<void> {
  for (const [table, column] of [
    ['runs', 'result'],
    ['guide_logs', 'summary'],
  ])
    await db.query(
      `UPDATE ${table} SET ${column} = REPLACE(${column}, '"said":[', '"phrases":[') WHERE ${column} LIKE '%"said":[%'`,
    );
}
