import type { Sequelize } from 'sequelize';

/** A request’s key is written in the transaction of its work, with what was sent, and with the answer as far as it is known then. */
export async function up(db: Sequelize): Promise<void> {
  await db.query(
    `ALTER TABLE answered ADD COLUMN IF NOT EXISTS sent_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
       MODIFY body LONGTEXT NULL`,
  );
}
