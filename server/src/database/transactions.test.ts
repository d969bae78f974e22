import { beforeAll, describe, expect, test } from '@jest/globals';
import { COUNTED_RUN_STATE, countsAsNight, RUN_KINDS } from '@keen/core/record';
import { QueryTypes } from 'sequelize';
import { idempotent } from '../idempotency.ts';
import { testServer } from '../test/harness.ts';
import { inTransaction } from './index.ts';
import { nightOnRecord } from './onRecord.ts';

const { server } = testServer([], { demo: false });
beforeAll(async () => {
  await server.db.query('CREATE TABLE tally (id INT PRIMARY KEY, n INT NOT NULL) ENGINE=InnoDB');
  await server.db.query('INSERT INTO tally VALUES (1, 0), (2, 0)');
}, 60_000);

const tally = async () =>
  (await server.db.query<{ n: number }>('SELECT n FROM tally ORDER BY id', { type: QueryTypes.SELECT })).map(
    (r) => r.n,
  );

describe('two that wait for each other', () => {
  test('both get done: the one the database gives up is done again from its beginning', async () => {
    let attempts = 0;
    // each takes its own row first; neither goes on to the other’s before both have theirs
    const holds = new Set<number>();
    const both = async () => {
      for (let i = 0; i < 200 && holds.size < 2; i++) await new Promise((done) => setTimeout(done, 10));
    };
    const add = (first: number, second: number) =>
      inTransaction(server.db, async (transaction) => {
        attempts++;
        const one = (id: number) => server.db.query(`UPDATE tally SET n = n + 1 WHERE id = ${id}`, { transaction });
        await one(first);
        holds.add(first);
        await both();
        await one(second);
      });
    await Promise.all([add(1, 2), add(2, 1)]);
    expect(await tally()).toEqual([2, 2]);
    expect(attempts).toBe(3);
  }, 30_000);
  test('what fails for another reason is not tried again', async () => {
    let attempts = 0;
    const spoilt = inTransaction(server.db, async (transaction) => {
      attempts++;
      await server.db.query('UPDATE tally SET n = 99 WHERE id = 1', { transaction });
      throw new Error('no use');
    });
    await expect(spoilt).rejects.toThrow('no use');
    expect([attempts, await tally()]).toEqual([1, [2, 2]]);
  });
});

describe('a request that is sent again', () => {
  const who = { id: '00000000-0000-4000-8000-000000000001' } as Parameters<typeof idempotent>[1];
  const ask = (key: string, work: () => Promise<{ n: number }>) =>
    idempotent(server.store, who, { key, path: '/api/tally', body: { add: 1 } }, () => true, work);
  const adding = (crash: 'before' | 'after' | null) => async () => {
    const done = await inTransaction(server.db, async (transaction) => {
      await server.db.query('UPDATE tally SET n = n + 1 WHERE id = 1', { transaction });
      if (crash === 'before') throw new Error('gone before it was written');
      return { n: 1 };
    });
    if (crash === 'after') throw new Error('gone before it was answered');
    return done;
  };
  test('whatever ended between the work and its answer, it is done once', async () => {
    const [before] = await tally();
    await expect(ask('crash-0001', adding('before'))).rejects.toThrow('before it was written');
    expect((await tally())[0]).toBe(before);
    await expect(ask('crash-0001', adding('after'))).rejects.toThrow('before it was answered');
    expect((await tally())[0]).toBe(before! + 1);
    // it was written: whoever asks again gets its answer, and nothing is done anew
    expect(await ask('crash-0001', adding(null))).toEqual({ n: 1 });
    expect((await tally())[0]).toBe(before! + 1);
  });
});

test('what counts as a night is the same to a query as to the rule', async () => {
  const states = ['draft', 'accepted', 'discarded', 'undone', COUNTED_RUN_STATE];
  const runs = RUN_KINDS.flatMap((kind) => states.map((state) => ({ kind, state })));
  const rows = runs.map((r) => `SELECT '${r.kind}' AS kind, '${r.state}' AS state`).join(' UNION ');
  const counted = await server.db.query<{ kind: string; state: string }>(
    `SELECT kind, state FROM (${rows}) r WHERE ${nightOnRecord('r')}`,
    { type: QueryTypes.SELECT },
  );
  const key = (r: { kind: string; state: string }) => `${r.kind} ${r.state}`;
  expect(counted.map(key).sort()).toEqual([...new Set(runs.filter(countsAsNight).map(key))].sort());
  expect(counted.length).toBeGreaterThan(0);
});
