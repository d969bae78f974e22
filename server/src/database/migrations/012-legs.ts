import { QueryTypes, type Sequelize } from 'sequelize';

const REF = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

interface OldPlan {
  id: string;
  projectId: string;
  start: Date;
  end: Date;
  flipAt: Date | null;
  settings: string | object;
}

/**
 * A plan has legs: what it was becomes its only one, from its start to its end by the clock, with nothing around it. Which
 * projects a plan works for stands in a table of its own, so that the database keeps them together. A halted run goes on.
 */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    'ALTER TABLE plans ADD COLUMN IF NOT EXISTS opening JSON NULL, ADD COLUMN IF NOT EXISTS legs JSON NULL, ADD COLUMN IF NOT EXISTS closing JSON NULL, ADD COLUMN IF NOT EXISTS watches JSON NULL, ADD COLUMN IF NOT EXISTS locks JSON NOT NULL DEFAULT (JSON_ARRAY()), ADD COLUMN IF NOT EXISTS from_plan_id ' +
      REF +
      ' NULL',
  );
  await db.query(
    `CREATE TABLE IF NOT EXISTS plan_projects (
      plan_id ${REF} NOT NULL, project_id ${REF} NOT NULL, PRIMARY KEY (plan_id, project_id),
      FOREIGN KEY (plan_id) REFERENCES plans(id), FOREIGN KEY (project_id) REFERENCES projects(id))
      ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
  const column = await db.query(
    "SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = 'plans' AND column_name = 'project_id'",
    { type: QueryTypes.SELECT },
  );
  if (column.length === 0) return;
  const plans = await db.query<OldPlan>(
    'SELECT id, project_id AS projectId, start, end, flip_at AS flipAt, settings FROM plans WHERE legs IS NULL',
    { type: QueryTypes.SELECT },
  );
  for (const p of plans) {
    const [start, end] = [p.start.toISOString(), p.end.toISOString()];
    const leg = {
      id: 'first',
      projectId: p.projectId,
      role: 'main',
      from: { by: 'clock', at: start },
      until: { by: 'clock', at: end },
      settings: typeof p.settings === 'string' ? (JSON.parse(p.settings) as object) : p.settings,
      guiding: true,
      meridian: 'flip',
      start,
      end,
      flipAt: p.flipAt?.toISOString() ?? null,
    };
    await db.query('INSERT IGNORE INTO plan_projects (plan_id, project_id) VALUES (?, ?)', {
      replacements: [p.id, p.projectId],
    });
    await db.query('UPDATE plans SET opening = ?, legs = ?, closing = ?, watches = ? WHERE id = ?', {
      replacements: ['[]', JSON.stringify([leg]), '[]', '{"cloudClosesAfterMin":null,"sunStops":null}', p.id],
    });
  }
  const keys = await db.query<{ name: string }>(
    "SELECT constraint_name AS name FROM information_schema.key_column_usage WHERE table_schema = DATABASE() AND table_name = 'plans' AND column_name = 'project_id' AND referenced_table_name IS NOT NULL",
    { type: QueryTypes.SELECT },
  );
  for (const { name } of keys) await db.query(`ALTER TABLE plans DROP FOREIGN KEY \`${name}\``);
  await db.query(
    'ALTER TABLE plans MODIFY opening JSON NOT NULL, MODIFY legs JSON NOT NULL, MODIFY closing JSON NOT NULL, MODIFY watches JSON NOT NULL, DROP COLUMN project_id, DROP COLUMN flip_at, DROP COLUMN settings',
  );
  await db.query('ALTER TABLE plans ADD FOREIGN KEY IF NOT EXISTS plan_made_from (from_plan_id) REFERENCES plans(id)');
}
