import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { QueryTypes, type Sequelize } from 'sequelize';
import { testServer } from '../test/harness.ts';
import { connect, underLease } from './index.ts';

const { server } = testServer([], { demo: false });
let second: Sequelize;
beforeAll(() => {
  second = connect(server.config.databaseUrl, 2);
});
afterAll(() => second.close());
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

test('two processes take their turns, and none of what they do overlaps', async () => {
  let inside = 0;
  let most = 0;
  const work = async () => {
    most = Math.max(most, ++inside);
    await wait(40);
    inside--;
  };
  await Promise.all([server.db, second, server.db, second].map((db) => underLease(db, 'both', work)));
  expect(most).toBe(1);
});
test('what fails gives its turn back at once', async () => {
  await expect(underLease(server.db, 'fails', () => Promise.reject(new Error('no use')))).rejects.toThrow('no use');
  expect(await underLease(second, 'fails', async () => 'done', 0)).toBe('done');
});
test('whoever went silent loses it, is told so, and leaves the next one’s alone', async () => {
  const over = () => server.db.query("UPDATE leases SET until = NOW(3) - INTERVAL 1 SECOND WHERE name = 'silent'");
  await underLease(server.db, 'silent', async (held) => {
    await held.demand();
    // as if it had not been renewed
    await over();
    await underLease(second, 'silent', async (next) => {
      await expect(held.demand()).rejects.toThrow('another’s now');
      await next.demand();
    });
    await expect(underLease(second, 'silent', async () => 'had it', 0)).resolves.toBe('had it');
  });
});
test('whoever cannot wait longer says for what', async () => {
  await underLease(server.db, 'long', async () => {
    await expect(underLease(second, 'long', async () => 1, 100)).rejects.toThrow('another process has been at “long”');
    const rows = await second.query<{ name: string }>("SELECT name FROM leases WHERE name = 'long'", {
      type: QueryTypes.SELECT,
    });
    expect(rows).toHaveLength(1);
  });
});
