import type { Sequelize } from 'sequelize';

const REF = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

export async function up(db: Sequelize): Promise<void> {
  await db.query(`CREATE TABLE dusk_settings (
    id ${REF} NOT NULL PRIMARY KEY, rig_id ${REF} NOT NULL UNIQUE, settings JSON NOT NULL,
    version INT NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by ${REF} NULL, archived_at DATETIME(3) NULL,
    FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (updated_by) REFERENCES members(id))
    ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`);
}
