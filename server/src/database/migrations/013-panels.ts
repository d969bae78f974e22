import { QueryTypes, type Sequelize } from 'sequelize';

/**
 * A frame of a mosaic belongs to one of its panels, by where it points; a leg works one panel, may take turns with
 * others, and may have a second camera beside it. What was there before has none of it.
 */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE frames ADD COLUMN IF NOT EXISTS panel SMALLINT NULL AFTER project_id');
  await db.query(
    'ALTER TABLE frames ADD INDEX IF NOT EXISTS progress_by_panel (project_id, kind, run_id, panel, filter, exposure_s, accepted)',
  );
  await db.query('ALTER TABLE frames DROP INDEX IF EXISTS progress');
  const plans = await db.query<{ id: string; legs: string | object[]; watches: string | object }>(
    'SELECT id, legs, watches FROM plans',
    {
      type: QueryTypes.SELECT,
    },
  );
  for (const p of plans) {
    const legs = typeof p.legs === 'string' ? (JSON.parse(p.legs) as object[]) : p.legs;
    const watches = typeof p.watches === 'string' ? (JSON.parse(p.watches) as object) : p.watches;
    await db.query('UPDATE plans SET watches = ?, legs = ? WHERE id = ?', {
      // centring again is what a careful person would have had
      replacements: [
        JSON.stringify({ recentreAboveArcmin: 1, wind: null, damp: null, ...watches }),
        JSON.stringify(
          legs.map((l) => ({ panel: null, turnMin: null, centreWithinArcmin: 0.5, follower: null, ...l })),
        ),
        p.id,
      ],
    });
  }
}
