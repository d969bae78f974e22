import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { QueryTypes, type Sequelize } from 'sequelize';

/** A lease that is not renewed is over after so long [s]: whoever held it is gone. */
const HOLD_S = 15;
const RENEW_MS = 4000;
const ASK_AGAIN_MS = 200;

/** What is done under a lease asks from time to time whether it still holds. */
export interface Held {
  /** @throws where it was lost meanwhile: another may be at work already */
  demand: () => Promise<void>;
}

/**
 * Does something that one process of the whole installation does at a time; the others wait. A row with an end, and not a lock
 * of the database: of such a lock the other nodes of a cluster know nothing. The time is the database’s own.
 * @throws where it could not be had within `patienceMs`
 */
export async function underLease<T>(
  db: Sequelize,
  name: string,
  work: (held: Held) => Promise<T>,
  patienceMs = 120_000,
): Promise<T> {
  await db.query(
    `CREATE TABLE IF NOT EXISTS leases (name VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
       holder CHAR(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, until DATETIME(3) NOT NULL,
       taken BIGINT UNSIGNED NOT NULL DEFAULT 0) ENGINE=InnoDB`,
  );
  const holder = randomUUID();
  const ask = async (sql: string) => {
    const [, rows] = await db.query(sql, { replacements: { name, holder }, type: QueryTypes.UPDATE });
    return rows > 0;
  };
  const take = () =>
    ask(
      // counted too: a row that is written as it was is none that was changed
      `UPDATE leases SET taken = taken + 1, holder = :holder, until = NOW(3) + INTERVAL ${HOLD_S} SECOND WHERE name = :name AND (until < NOW(3) OR holder = :holder)`,
    );
  await db.query("INSERT IGNORE INTO leases (name, holder, until) VALUES (:name, '', '2000-01-01')", {
    replacements: { name },
  });
  for (const end = Date.now() + patienceMs; !(await take());) {
    if (Date.now() > end)
      throw new Error(`another process has been at “${name}” for ${Math.round(patienceMs / 1000)} s`);
    await pause(ASK_AGAIN_MS);
  }
  let lost = false;
  const renewing = setInterval(() => {
    take().then(
      (still) => (lost ||= !still),
      () => undefined,
    );
  }, RENEW_MS);
  const demand = async () => {
    if (lost || !(await take())) throw new Error(`“${name}” went on for too long without a word and is another’s now`);
  };
  try {
    return await work({ demand });
  } finally {
    clearInterval(renewing);
    await ask('UPDATE leases SET until = NOW(3) - INTERVAL 1 SECOND WHERE name = :name AND holder = :holder').catch(
      () => undefined,
    );
  }
}
