import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** A rig’s cables, one sheet a rig. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS cable_sheets (id ${ID} NOT NULL PRIMARY KEY, rig_id ${ID} NOT NULL UNIQUE, sheet JSON NOT NULL,
       version INT NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by ${ID} NULL, archived_at DATETIME(3) NULL,
       FOREIGN KEY (rig_id) REFERENCES rigs(id) ON DELETE CASCADE, FOREIGN KEY (updated_by) REFERENCES members(id))
       ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
