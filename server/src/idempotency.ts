import { createHash } from 'node:crypto';
import { QueryTypes, type Transaction, UniqueConstraintError } from 'sequelize';
import { carrying, type WithTheWork } from './database/index.ts';
import { Problem } from './problems.ts';
import type { Actor, Store } from './store.ts';

const KEY = /^[A-Za-z0-9_-]{8,80}$/;
/** How long an answer is kept for somebody who asks again [ms]. */
const KEPT_MS = 86_400_000;

/** Every so many of them what is older is swept away. */
const SWEEP_EVERY = 100;
let answeredSoFar = 0;

/** Another request with the same key was first: whatever this one had done is undone. */
class KeyTaken extends Error {}
interface Kept {
  path: string;
  sent: string | null;
  body: string | null;
}

/**
 * Does a creating request once, however often it is sent: a double click, or a second try after an answer that was lost.
 * The key is written in the transaction of the work itself, so that there is the one with the other or neither, whatever
 * crashes; whoever sends it again gets the first answer. A request that failed may be sent again.
 * @param of  the key chosen by the sender (none: done as it comes), where it was sent, and what
 * @param valid  whether a kept answer is one this route gives
 * @throws Problem already_done where it was done and its answer is not known any more
 */
export async function idempotent<T>(
  store: Store,
  who: Actor,
  of: { key: string | undefined; path: string; body: unknown },
  valid: (answer: unknown) => boolean,
  work: () => Promise<T>,
): Promise<T> {
  const { key } = of;
  if (key === undefined) return work();
  if (!KEY.test(key))
    throw new Problem('invalid_input', 'the header Idempotency-Key wants 8 to 80 letters, digits, - or _');
  const sent = createHash('sha256')
    .update(JSON.stringify(of.body ?? null))
    .digest('hex');
  const row = { who: who.id, key, path: of.path.slice(0, 200), sent };
  const first = await find();
  if (first) return answerOf(first);

  let kept: string | null = null;
  const carried: WithTheWork = {
    written: false,
    begin: (t) => insert(null, t).catch(taken),
    keep: async (t, value) => {
      if (value === undefined) return;
      kept = JSON.stringify(value);
      await change(kept, t);
    },
  };
  let result: T;
  try {
    result = await carrying(carried, work);
  } catch (e) {
    // the line was lost while it was committed: the key came with the work, so it knows
    const unsure = e instanceof Problem && e.code === 'unsure';
    const other = e instanceof KeyTaken || unsure ? await find() : null;
    if (other) return answerOf(other);
    throw e;
  }
  // the work is done: an answer that cannot be kept as it went out changes nothing of that
  const told = JSON.stringify(result);
  if (!carried.written) await insert(told).catch(() => undefined);
  else if (told !== kept) await change(told).catch(() => undefined);
  if (++answeredSoFar % SWEEP_EVERY === 0)
    await store.db
      .query('DELETE FROM answered WHERE at < :old LIMIT 2000', {
        replacements: { old: new Date(store.now().getTime() - KEPT_MS) },
      })
      .catch(() => undefined);
  return result;

  async function find(): Promise<Kept | null> {
    const [found] = await store.db.query<Kept>(
      'SELECT path, sent_hash AS sent, body FROM answered WHERE member_id = :who AND request_key = :key',
      { replacements: row, type: QueryTypes.SELECT },
    );
    return found ?? null;
  }
  function answerOf(kept: Kept): T {
    if (kept.path !== row.path || (kept.sent !== null && kept.sent !== sent)) throw new Problem('key_reused');
    const answer: unknown = kept.body === null ? undefined : JSON.parse(kept.body);
    if (answer !== undefined && valid(answer)) return answer as T;
    throw new Problem('already_done', 'The same was asked before, and it was done. Look at what is there.');
  }
  async function insert(body: string | null, transaction?: Transaction): Promise<void> {
    await store.db.query(
      'INSERT INTO answered (member_id, request_key, path, sent_hash, body, at) VALUES (:who, :key, :path, :sent, :body, :now)',
      { replacements: { ...row, body, now: store.now() }, ...(transaction ? { transaction } : {}) },
    );
  }
  async function change(body: string, transaction?: Transaction): Promise<void> {
    await store.db.query('UPDATE answered SET body = :body WHERE member_id = :who AND request_key = :key', {
      replacements: { ...row, body },
      ...(transaction ? { transaction } : {}),
    });
  }
  function taken(e: unknown): never {
    throw e instanceof UniqueConstraintError ? new KeyTaken() : e;
  }
}
