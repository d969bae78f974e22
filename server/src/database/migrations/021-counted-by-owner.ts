import type { Sequelize } from 'sequelize';

/** A file counts once for the owner of its project, else once for who brought it in: nobody can claim it for another. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `UPDATE frames f JOIN runs r ON r.id = f.run_id LEFT JOIN projects p ON p.id = f.project_id
     SET f.counted_hash = CONCAT(COALESCE(p.owner_id, r.by_id), SUBSTRING(f.counted_hash, 37))
     WHERE f.counted_hash IS NOT NULL`,
  );
}
