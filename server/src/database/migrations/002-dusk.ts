import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL';
const REF = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';
const KEY = 'VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL';
const TABLE = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci';

const STEPS = [
  'ALTER TABLE projects ADD COLUMN framing JSON NULL',
  `CREATE TABLE setup_lists (
    id ${ID} PRIMARY KEY, rig_id ${REF} NOT NULL UNIQUE, items JSON NOT NULL,
    version INT NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by ${REF} NULL, archived_at DATETIME(3) NULL,
    FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (updated_by) REFERENCES members(id)) ${TABLE}`,
  `CREATE TABLE setup_ticks (
    id ${ID} PRIMARY KEY, rig_id ${REF} NOT NULL, night DATE NOT NULL, item ${KEY}, by_id ${REF} NOT NULL, at DATETIME(3) NOT NULL,
    UNIQUE (rig_id, night, item), FOREIGN KEY (rig_id) REFERENCES rigs(id), FOREIGN KEY (by_id) REFERENCES members(id)) ${TABLE}`,
  `CREATE TABLE guide_logs (
    id ${ID} PRIMARY KEY, rig_id ${REF} NOT NULL, train_state_id ${REF} NOT NULL, night DATE NOT NULL, name VARCHAR(120) NOT NULL,
    note VARCHAR(1000) NOT NULL, summary JSON NOT NULL, csv MEDIUMTEXT NOT NULL, by_id ${REF} NOT NULL, at DATETIME(3) NOT NULL,
    archived_at DATETIME(3) NULL, INDEX (rig_id, night), FOREIGN KEY (rig_id) REFERENCES rigs(id),
    FOREIGN KEY (train_state_id) REFERENCES train_states(id), FOREIGN KEY (by_id) REFERENCES members(id)) ${TABLE}`,
];

export async function up(db: Sequelize): Promise<void> {
  for (const sql of STEPS) await db.query(sql);
}
