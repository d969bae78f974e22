// npm run backup: a compressed dump of the running database into backups/.
import { createWriteStream, mkdirSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { fail, privateDatabase, say, sizeOf, spawn } from './house.mjs';

/** Where dumps go: `backups/` beside the project, or KEEN_BACKUPS. */
export const BACKUPS = process.env.KEEN_BACKUPS ?? 'backups';

/** Arguments that reach a database by its URL; the password goes by the environment, not by the process list. */
export function clientOf(url) {
  const u = new URL(url);
  return {
    name: u.pathname.slice(1),
    args: [
      '--no-defaults',
      `--host=${u.hostname}`,
      `--port=${u.port || 3306}`,
      `--user=${decodeURIComponent(u.username)}`,
    ],
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(u.password) },
  };
}

/** Dumps a database to a file; the dump is one transaction, so that people may go on working. */
export async function dumpTo(url, file) {
  const { name, args, env } = clientOf(url);
  const dump = spawn(
    'mariadb-dump',
    [...args, '--single-transaction', '--quick', '--hex-blob', '--default-character-set=utf8mb4', name],
    {
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  const ended = new Promise((done) => dump.once('exit', done));
  await pipeline(dump.stdout, createGzip(), createWriteStream(file, { mode: 0o600 }));
  if ((await ended) !== 0) fail('The dump failed; nothing was kept that can be relied on.');
}

if (import.meta.filename === process.argv[1]) {
  const own = process.env.KEEN_DATABASE_URL ? null : await privateDatabase();
  mkdirSync(BACKUPS, { recursive: true });
  const file = `${BACKUPS}/keen-${new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-')}.sql.gz`;
  await dumpTo(process.env.KEEN_DATABASE_URL ?? own.url, file);
  await own?.stop();
  say(`written: ${file} (${(sizeOf(file) / 1000).toFixed(0)} kB)`);
}
