import { QueryTypes } from 'sequelize';
import { Problem } from './problems.ts';
import type { Actor, Store } from './store.ts';

const KEY = /^[A-Za-z0-9_-]{8,80}$/;
/** How long an answer is kept for somebody who asks again [ms], and how long such a one waits for the first to end. */
const KEPT_MS = 86_400_000;
const WAIT_MS = 15_000;
const LOOK_MS = 100;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/**
 * Does a creating request once, however often it is sent: a double click, or a second try after an answer that was lost.
 * Whoever sends it again gets the first answer. A request that failed may be sent again.
 * @param key  chosen by the sender; none: done as it comes
 * @throws Problem already_done when the first has not ended in time: whether it did anything must be looked at
 */
export async function doneOnce<T>(
  store: Store,
  who: Actor,
  key: string | undefined,
  path: string,
  work: () => Promise<T>,
): Promise<T> {
  if (key === undefined) return work();
  if (!KEY.test(key))
    throw new Problem('invalid_input', 'the header Idempotency-Key wants 8 to 80 letters, digits, - or _');
  const replacements = { who: who.id, key, path: path.slice(0, 200), now: store.now(), old: new Date(store.now().getTime() - KEPT_MS) }; // prettier-ignore
  const ask = (sql: string, more: object = {}) => store.db.query(sql, { replacements: { ...replacements, ...more } });
  for (const end = Date.now() + WAIT_MS; Date.now() < end; await pause(LOOK_MS)) {
    const [, changed] = await store.db.query('INSERT IGNORE INTO answered (member_id, request_key, path, at) VALUES (:who, :key, :path, :now)', { replacements, type: QueryTypes.INSERT }); // prettier-ignore
    if (changed === 1) {
      try {
        const result = await work();
        await ask('UPDATE answered SET body = :body WHERE member_id = :who AND request_key = :key', { body: JSON.stringify(result) }); // prettier-ignore
        await ask('DELETE FROM answered WHERE at < :old LIMIT 200');
        return result;
      } catch (e) {
        await ask('DELETE FROM answered WHERE member_id = :who AND request_key = :key');
        throw e;
      }
    }
    const [first] = await store.db.query<{ path: string; body: string | null }>(
      'SELECT path, body FROM answered WHERE member_id = :who AND request_key = :key',
      { replacements, type: QueryTypes.SELECT },
    );
    if (first && first.path !== replacements.path)
      throw new Problem('invalid_input', 'the header Idempotency-Key was used for another request');
    if (first?.body) return JSON.parse(first.body) as T;
  }
  throw new Problem('already_done', 'The same was asked before and has not ended. Look whether it is there.');
}
