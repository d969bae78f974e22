import { createHmac, randomUUID } from 'node:crypto';
import { MemoryStore, type ClientRateLimitInfo, type Options, type Store as HitStore } from 'express-rate-limit';
import { QueryTypes } from 'sequelize';
import { inTransaction } from '../database/index.ts';
import type { Store } from '../store.ts';

/** Every so many counts what is over is swept away. */
const SWEEP_EVERY = 200;

/** Who is counted, so that the database holds no addresses. */
const hashed = (secret: string, who: string) => createHmac('sha256', secret).update(who).digest('hex');

/**
 * Counts what one address asks for, for the whole installation: two servers allow together what one does. While the database
 * is gone each counts by itself.
 */
export function sharedHits(store: Store, secret: string): HitStore {
  const alone = new MemoryStore();
  let [windowMs, counted] = [60_000, 0];
  const ask = (sql: string, replacements: Record<string, unknown>) => store.db.query(sql, { replacements });
  return {
    localKeys: false,
    init(options: Options) {
      windowMs = options.windowMs;
      alone.init(options);
    },
    async increment(key): Promise<ClientRateLimitInfo> {
      const who = hashed(secret, key);
      const now = Date.now();
      const times = { who, now: new Date(now), until: new Date(now + windowMs) };
      try {
        // counted and told in one: whoever counted after that would find everybody who came in the same moment
        const [total] = await store.db.query(
          `INSERT INTO hits (who, hits, until) VALUES (:who, 1, :until)
             ON DUPLICATE KEY UPDATE hits = LAST_INSERT_ID(IF(until <= :now, 1, hits + 1)), until = IF(until <= :now, :until, until)`,
          { replacements: times, type: QueryTypes.INSERT },
        );
        if (++counted % SWEEP_EVERY === 0) await ask('DELETE FROM hits WHERE until < :now LIMIT 1000', times);
        // a row that is new says nothing, and is the first
        return { totalHits: Number(total) || 1, resetTime: undefined };
      } catch {
        return alone.increment(key);
      }
    },
    async decrement(key) {
      await ask('UPDATE hits SET hits = hits - 1 WHERE who = :who AND hits > 0', { who: hashed(secret, key) });
    },
    async resetKey(key) {
      await ask('DELETE FROM hits WHERE who = :who', { who: hashed(secret, key) });
    },
  };
}

/**
 * Places of which one person has a few in the whole installation: calculations that wait, a picture on its way. A place is a
 * row with an end; a person’s are given out one after the other, so that of any number at one moment just as many get one.
 */
export function sharedPlaces(store: Store, secret: string) {
  let counted = 0;
  return {
    /**
     * @param lastsMs  after so long a place is free again, whatever became of the server that gave it
     * @returns gives it back; null where there is none
     */
    async take(who: string, most: number, lastsMs: number): Promise<(() => Promise<void>) | null> {
      const place = { id: randomUUID(), who: hashed(secret, who), until: new Date(Date.now() + lastsMs) };
      const ask = (sql: string) => store.db.query(sql, { replacements: { ...place, now: new Date() } });
      const giveBack = async () => {
        await ask('DELETE FROM taken_places WHERE id = :id').catch(() => undefined);
      };
      try {
        const given = await inTransaction(
          store.db,
          async (t) => {
            const run = (sql: string) => store.db.query(sql, { replacements: place, transaction: t });
            await run(
              'INSERT INTO hits (who, hits, until) VALUES (:who, 1, :until) ON DUPLICATE KEY UPDATE hits = hits + 1, until = :until',
            );
            const [row] = await store.read<{ n: number }>(
              'SELECT COUNT(*) AS n FROM taken_places WHERE who = ? AND until > ?',
              [place.who, new Date()],
              t,
            );
            if (Number(row!.n) >= most) return false;
            await run('INSERT INTO taken_places (id, who, until) VALUES (:id, :who, :until)');
            return true;
          },
          { patient: false },
        );
        if (++counted % SWEEP_EVERY === 0) await ask('DELETE FROM taken_places WHERE until < :now LIMIT 1000');
        return given ? giveBack : null;
      } catch {
        // without a database each server bounds what it does itself
        return async () => undefined;
      }
    },
  };
}
