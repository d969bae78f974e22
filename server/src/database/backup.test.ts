import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { QueryTypes } from 'sequelize';
import { connect, migrate } from './index.ts';

const SCRIPTS = join(import.meta.dirname, '../../../scripts');
const folder = mkdtempSync(join(tmpdir(), 'keen-backup-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

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
  const backup = run('backup.mjs');
  expect([backup.status, backup.stderr]).toEqual([0, '']);
  const file = join(folder, readdirSync(folder)[0]!);
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
  expect(run('restore.mjs', join(folder, before), '--yes').status).toBe(0);
  expect(await clubs()).toEqual(['came later', 'Sternfreunde Überall ★']);
  await admin.query(`DROP DATABASE ${name}`);
  await admin.close();
}, 60_000);
