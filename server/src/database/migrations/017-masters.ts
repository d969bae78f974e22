import type { Sequelize } from 'sequelize';

const ID = 'CHAR(36) CHARACTER SET ascii COLLATE ascii_bin';

/** Masters, and the state of the train their flats were taken in. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS masters (id ${ID} NOT NULL PRIMARY KEY, rig_id ${ID} NOT NULL, train_state_id ${ID} NOT NULL,
       flats_aspect VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NULL, data JSON NOT NULL, by_id ${ID} NOT NULL,
       at DATETIME(3) NOT NULL, archived_at DATETIME(3) NULL, INDEX (rig_id, at),
       FOREIGN KEY (rig_id) REFERENCES rigs(id) ON DELETE CASCADE, FOREIGN KEY (train_state_id) REFERENCES train_states(id) ON DELETE CASCADE,
       FOREIGN KEY (by_id) REFERENCES members(id) ON DELETE CASCADE) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  );
}
