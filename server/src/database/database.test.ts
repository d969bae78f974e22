import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { QueryTypes } from 'sequelize';
import { privateDatabase } from '../../../scripts/lib/database.mjs';
import { startServer } from '../test/harness.ts';
import { connect, migrate } from './index.ts';

/** Looks through the arguments of every process until its input ends, for the text of one file; says how often, and where. */
const LOOK_THROUGH = `
const { readdirSync, readFileSync } = require('node:fs');
const read = (path) => { try { return readFileSync(path, 'utf8'); } catch { return ''; } };
let looks = 0;
const hits = new Set();
const look = () => {
  const secret = read(process.argv[1]).trim();
  if (secret) {
    looks++;
    for (const id of readdirSync('/proc').filter((p) => /^[0-9]+$/.test(p))) {
      const given = read('/proc/' + id + '/cmdline');
      if (given.includes(secret)) hits.add(given.split('\\0')[0]);
    }
  }
  again = setImmediate(look);
};
let again = setImmediate(look);
process.stdin.on('end', () => { clearImmediate(again); console.log(JSON.stringify([looks, [...hits]])); process.exit(0); }).resume();
`;
const folder = mkdtempSync(join(tmpdir(), 'keen-db-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('migrations run once, whoever comes first', async () => {
  const admin = connect(process.env.KEEN_TEST_DATABASE_URL!, 1);
  const name = `keen_${randomBytes(5).toString('hex')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  const url = new URL(process.env.KEEN_TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  const answers = await Promise.all([migrate(url.href), migrate(url.href), migrate(url.href)]);
  expect(answers.flat().length).toBeGreaterThan(0);
  expect(answers.filter((a) => a.length > 0)).toHaveLength(1);
  expect(await migrate(url.href)).toEqual([]);
  await admin.query(`DROP DATABASE ${name}`);
  await admin.close();
});

test('the database itself refuses what must not be', async () => {
  const server = await startServer();
  const one = async (sql: string) =>
    (await server.db.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT }))[0]!;
  const rig = await one('SELECT * FROM rigs LIMIT 1');
  const id = randomBytes(8).toString('hex');
  await expect(
    server.db.query(
      `INSERT INTO rigs (id, club_id, site_id, name, version, updated_at) VALUES ('${id}', '${String(rig.club_id)}', '${String(rig.site_id)}', '${String(rig.name)}', 1, NOW(3))`,
    ),
  ).rejects.toThrow();
  await expect(
    server.db.query(`DELETE FROM members WHERE id = (SELECT by_id FROM rig_revisions LIMIT 1)`),
  ).rejects.toThrow();
  await expect(server.db.query('UPDATE plans SET end = start LIMIT 1')).rejects.toThrow();
  await expect(server.db.query('UPDATE project_goals SET quota = 0 LIMIT 1')).rejects.toThrow();
  await server.stop();
}, 60_000);

describe('a private database', () => {
  test('belongs to nobody else: no other local user signs in, and the application’s account touches its own schema alone', async () => {
    const database = await privateDatabase({ folder, firstPort: 33261, name: 'keen_own' });
    const as = (user: string, account: string) =>
      spawnSync(
        'runuser',
        ['-u', user, '--', 'mariadb', '--no-defaults', `--socket=${database.socket}`, `-u${account}`, '-e', 'SELECT 1'],
        { encoding: 'utf8' },
      );
    if (process.getuid!() === 0)
      for (const account of ['root', 'mysql', 'keen'])
        expect([account, as('nobody', account).status]).toEqual([account, 1]);
    const db = connect(database.url);
    const asked = (sql: string) =>
      db.query(sql).then(
        () => 'done',
        (e: Error) => e.message,
      );
    expect(await asked('CREATE TABLE mine (n INT)')).toBe('done');
    for (const sql of [
      'SELECT * FROM mysql.user',
      'CREATE DATABASE other',
      "SELECT 1 INTO OUTFILE '/tmp/keen-written'",
      "SELECT LOAD_FILE('/etc/passwd') IS NULL OR x",
      "CREATE USER 'x'@'%'",
    ])
      expect(await asked(sql)).toMatch(/denied|Unknown column/);
    const [row] = await db.query<{ p: string }>('SELECT @@secure_file_priv AS p', { type: QueryTypes.SELECT });
    expect(row!.p).toContain(folder);
    await db.close();
    // one set up by an earlier version, whose superuser had no password, is closed at the next start
    database.sql("ALTER USER 'root'@'localhost' IDENTIFIED VIA mysql_native_password USING PASSWORD('')");
    database.sql("GRANT ALL ON *.* TO 'keen'@'127.0.0.1'");
    await database.stop();
    const again = await privateDatabase({ folder, firstPort: 33261, name: 'keen_own' });
    expect(again.sql("SHOW CREATE USER 'root'@'localhost'").stdout).toContain('unix_socket');
    expect(again.sql("SHOW GRANTS FOR 'keen'@'127.0.0.1'").stdout).not.toMatch(/ALL PRIVILEGES ON \*\.\*/);
    await again.stop();
  }, 60_000);
  test('tells its password to nobody who lists the processes', async () => {
    const own = join(folder, 'listed');
    // a process of its own, so that it looks while this one waits for a client
    const looker = spawn(process.execPath, ['-e', LOOK_THROUGH, join(own, 'password')], {
      stdio: ['pipe', 'pipe', 'inherit'],
    });
    let said = '';
    looker.stdout.setEncoding('utf8').on('data', (text: string) => (said += text));
    const database = await privateDatabase({ folder: own, firstPort: 33271, name: 'keen_listed' });
    for (let i = 0; i < 5; i++) database.sql('SELECT 1');
    await database.stop();
    looker.stdin.end();
    await once(looker, 'close');
    const [looks, hits] = JSON.parse(said) as [number, string[]];
    expect(looks).toBeGreaterThan(20);
    expect(hits).toEqual([]);
  }, 60_000);
  test('killed without warning it comes back with every row, and a waiting pool reconnects', async () => {
    const first = await privateDatabase({ folder, firstPort: 33261, name: 'keen_kill' });
    const db = connect(first.url);
    await db.query('CREATE TABLE kept (n INT PRIMARY KEY) ENGINE=InnoDB');
    for (let n = 0; n < 50; n++) await db.query(`INSERT INTO kept VALUES (${n})`);
    process.kill(first.pid, 'SIGKILL');
    for (let i = 0; i < 100 && first.isUp(); i++) await new Promise((r) => setTimeout(r, 20));
    const second = await privateDatabase({ folder, firstPort: 33261, name: 'keen_kill' });
    expect(second.port).toBe(first.port);
    const count = async () =>
      Number((await db.query<{ n: number }>('SELECT COUNT(*) AS n FROM kept', { type: QueryTypes.SELECT }))[0]!.n);
    expect(await count().catch(count)).toBe(50);
    await db.close();
    await second.stop();
    expect(second.isUp()).toBe(false);
  }, 60_000);
});
