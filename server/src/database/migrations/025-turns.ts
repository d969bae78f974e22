import type { Sequelize } from 'sequelize';

/**
 * What must exclude itself writes into the record that guards it: a lock that is only held says nothing to another node of
 * a cluster, a row that two have written does.
 */
export async function up(db: Sequelize): Promise<void> {
  for (const table of ['clubs', 'rigs'])
    await db.query(`ALTER TABLE ${table} ADD COLUMN IF NOT EXISTS turns BIGINT UNSIGNED NOT NULL DEFAULT 0`);
}
