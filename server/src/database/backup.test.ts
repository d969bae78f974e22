import { spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { gunzipSync, gzipSync } from 'node:zlib';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { QueryTypes } from 'sequelize';
import { everyNth, THOROUGH } from '../../../core/src/test/rounds.ts';
import { StatementCheck } from '../../../scripts/lib/dumpStatements.mjs';
import { connect, migrate } from './index.ts';

const SCRIPTS = join(import.meta.dirname, '../../../scripts');
/** What a file may say that a dump does not: to the client, to other schemas, or hidden in something that looks like one. */
const HARMFUL = {
  shell: '\\! touch /tmp/keen-was-here',
  system: 'system touch /tmp/keen-was-here',
  use: 'USE keen; UPDATE members SET role = 0;',
  other: "INSERT INTO `keen`.`members` VALUES ('x');",
  read: 'INSERT INTO `clubs` VALUES ((SELECT 1 FROM keen.members));',
  file: "INSERT INTO `clubs` VALUES (LOAD_FILE('/etc/passwd'));",
  update: 'UPDATE `members` SET `role` = 0;',
  grant: "GRANT ALL ON *.* TO 'x'@'%';",
  delimiter: 'DELIMITER $$',
  source: 'source /etc/passwd',
  second: "INSERT INTO `clubs` VALUES ('a'); DROP DATABASE keen;",
  mode: "/*!40101 SET SQL_MODE='NO_BACKSLASH_ESCAPES' */;",
  global: 'SET GLOBAL general_log = 1;',
  hidden: '/*!50003 DROP DATABASE keen */;',
  trigger: 'CREATE TRIGGER t BEFORE INSERT ON clubs FOR EACH ROW SET @a = 1;',
  copied: 'CREATE TABLE `x` (a INT) SELECT * FROM keen.members;',
  linked: "CREATE TABLE `x` (a INT) ENGINE=FEDERATED CONNECTION='mysql://a@b/c/d';",
  placed: "CREATE TABLE `x` (a INT) ENGINE=InnoDB DATA DIRECTORY='/tmp';",
  like: 'CREATE TABLE `x` LIKE `keen`.`members`;',
  unended: "INSERT INTO `clubs` VALUES ('a",
  broken: "INSERT INTO `clubs` VALUES ('a\\'); DROP DATABASE keen;",
  quoted: 'INSERT INTO `clubs` VALUES ("a");',
  hash: '# DROP',
};
/** A dump of some tables, or changed, closed again as the tool would close it. */
function sealed(dump: Buffer, only: string[] | null, change = (sql: string) => sql): Buffer {
  const all = dump.toString('latin1').split('-- keen-meridian dump: ')[0]!;
  const [head, ...parts] = all.split('\n--\n-- Table structure for table `');
  const kept = parts.filter((p) => !only || only.includes(p.slice(0, p.indexOf('`'))));
  const text = change([head!, ...kept].join('\n--\n-- Table structure for table `'));
  const tables = Object.fromEntries(
    [...text.matchAll(/\nCREATE TABLE `(\w+)`/g)].map(([, t]) => [
      t!,
      text.split(`\nINSERT INTO \`${t}\` `).length - 1,
    ]),
  );
  const bytes = Buffer.from(text, 'latin1');
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  return gzipSync(
    Buffer.concat([bytes, Buffer.from(`-- keen-meridian dump: ${JSON.stringify({ tables, sha256 })}\n`)]),
  );
}
const folder = mkdtempSync(join(tmpdir(), 'keen-backup-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const dumpWith = (line: string) => `\nCREATE TABLE \`schema_migrations\` (a INT);\n${line}\n-- Dump completed\n`;
test.each(Object.entries(HARMFUL))('what a dump does not say is found before anything is run: %s', (_, line) => {
  const read = (text: string) => {
    const check = new StatementCheck();
    check.read(Buffer.from(text));
    check.end();
  };
  expect(() => read(dumpWith("INSERT INTO `clubs` VALUES ('a');"))).not.toThrow();
  expect(() => read(dumpWith(line))).toThrow(/line 3 is none/);
});

test('a backup put back is the database as it was, and what it replaced is kept too', async () => {
  const admin = connect(process.env.KEEN_TEST_DATABASE_URL!, 1);
  const name = `keen_${randomBytes(5).toString('hex')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  const url = new URL(process.env.KEEN_TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  await migrate(url.href);
  const run = (script: string, ...args: string[]) =>
    spawnSync(process.execPath, [join(SCRIPTS, script), ...args], {
      encoding: 'utf8',
      env: { ...process.env, KEEN_DATABASE_URL: url.href, KEEN_BACKUPS: folder, NODE_OPTIONS: '' },
    });
  const clubs = async () => {
    const rows = await admin.query<{ name: string }>(`SELECT name FROM ${name}.clubs ORDER BY name`, {
      type: QueryTypes.SELECT,
    });
    return rows.map((r) => r.name);
  };
  const add = (id: number, club: string) =>
    admin.query(`INSERT INTO ${name}.clubs (id, name) VALUES ('00000000-0000-4000-8000-00000000000${id}', '${club}')`);

  await add(1, 'Sternfreunde Überall ★');
  await admin.query(`INSERT INTO ${name}.Sessions (sid, expires, data) VALUES ('secret-session', NOW(3), '{}')`);
  const backup = run('backup.mjs');
  expect([backup.status, backup.stderr]).toEqual([0, '']);
  const file = join(folder, readdirSync(folder)[0]!);
  expect(gunzipSync(readFileSync(file)).toString()).not.toContain('secret-session');
  await add(2, 'came later');

  const unasked = run('restore.mjs', file);
  expect(unasked.status).not.toBe(0);
  expect(unasked.stdout + unasked.stderr).toContain('--yes');
  expect(run('restore.mjs', 'nothing.sql.gz', '--yes').status).not.toBe(0);
  expect(await clubs()).toEqual(['came later', 'Sternfreunde Überall ★']);

  const restored = run('restore.mjs', file, '--yes');
  expect([restored.status, restored.stderr]).toEqual([0, '']);
  expect(await clubs()).toEqual(['Sternfreunde Überall ★']);
  expect(await migrate(url.href)).toEqual([]);

  const before = readdirSync(folder).find((f) => f.startsWith('before-restore'))!;
  expect(gunzipSync(readFileSync(join(folder, before))).toString()).toContain('came later');
  const stands = THOROUGH ? ['came later', 'Sternfreunde Überall ★'] : ['Sternfreunde Überall ★'];
  if (THOROUGH) expect(run('restore.mjs', join(folder, before), '--yes').status).toBe(0);
  expect(await clubs()).toEqual(stands);

  // what is no dump, is cut, changed or of something else is refused before anything is touched
  const dump = gunzipSync(readFileSync(file));
  const spoilt: [string, Buffer, RegExp][] = [
    ['text.sql.gz', Buffer.from('not a dump at all'), /not a compressed dump/],
    ['cut.sql.gz', readFileSync(file).subarray(0, Math.floor(0.6 * readFileSync(file).length)), /cut off/],
    ['short.sql.gz', gzipSync(dump.subarray(0, Math.floor(0.6 * dump.length))), /does not end as a dump does/],
    [
      'changed.sql.gz',
      gzipSync(Buffer.from(dump.toString('latin1').replace('Sternfreunde', 'Sternfeinde!'), 'latin1')),
      /checksum does not fit/,
    ],
    [
      'other.sql.gz',
      gzipSync('CREATE TABLE `x` (a INT);\n-- Dump completed on 2026-01-01\n'),
      /dump of something else/,
    ],
    [
      'sql.sql.gz',
      gzipSync('\nCREATE TABLE `schema_migrations` (a INT);\nSELECT nonsense FROM;\n-- Dump completed\n'),
      /line 3 is none/,
    ],
    ['hidden.sql.gz', gzipSync(dumpWith(HARMFUL.hidden)), /line 3 is none/],
    // a part of a database, with counts and checksum as they should be
    ['two-tables.sql.gz', sealed(dump, ['clubs', 'schema_migrations']), /tables are missing/],
    [
      'newer.sql.gz',
      sealed(dump, null, (sql) => sql.replace("'001-foundation'", "'999-tomorrow'")),
      /another version, which knew “999-tomorrow”/,
    ],
  ];
  for (const [bad, bytes, says] of everyNth(spoilt, 8)) {
    writeFileSync(join(folder, bad), bytes);
    const refused = run('restore.mjs', join(folder, bad), '--yes');
    expect([bad, refused.status]).toEqual([bad, 1]);
    expect(refused.stderr).toMatch(says);
    expect(refused.stderr).toContain('Nothing was changed');
    expect(await clubs()).toEqual(stands);
  }
  // a dump of an earlier version has neither counts nor checksum
  const old = dump.subarray(0, dump.lastIndexOf('-- keen-meridian dump'));
  writeFileSync(join(folder, 'old.sql.gz'), gzipSync(old));
  if (THOROUGH) expect(run('restore.mjs', join(folder, 'old.sql.gz'), '--yes').status).toBe(0);
  expect(await clubs()).toEqual(['Sternfreunde Überall ★']);
  // tables point at each other as before, nobody is signed in, and nothing is left lying about
  await expect(
    admin.query(
      `INSERT INTO ${name}.members (id, club_id, name, sign_in, role, password_hash) VALUES ('00000000-0000-4000-8000-000000000009', '00000000-0000-4000-8000-00000000000f', 'x', 'x', 'guest', 'x')`,
    ),
  ).rejects.toThrow(/foreign key/i);
  const schemas = await admin.query<{ n: string }>('SELECT schema_name AS n FROM information_schema.schemata', {
    type: QueryTypes.SELECT,
  });
  expect(schemas.map((s) => s.n).filter((n) => n.startsWith(`${name}_`))).toEqual([]);
  await admin.query(`DROP DATABASE ${name}`);
  await admin.close();
}, 240_000);
