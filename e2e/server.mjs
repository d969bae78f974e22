// The application for the browser tests: a fresh database with the demo club, and a server that is started again when killed.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { NOW } from './instant.mjs';
import { spawn } from 'node:child_process';
import { endLeftover, privateDatabase } from '../scripts/lib/database.mjs';
import { KEEN, cookieSecret, ROOT } from '../scripts/lib/environment.mjs';

const folder = join(KEEN, 'e2e');
await endLeftover(join(folder, 'mariadb'));
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
const database = await privateDatabase({
  folder: join(folder, 'mariadb'),
  firstPort: 33361,
  name: 'keen_e2e',
  schemas: ['keen\\_e2e%'],
});
writeFileSync(join(folder, 'url'), database.url);
// every walk runs at one fixed instant, whatever the hour; after a kill the clock goes on where it was
const began = Date.now();
writeFileSync(join(folder, 'began'), String(began));
let stopping = false;
const running = new Map();
/** A server that is started again when it dies; its process id stands in a file for the walk that kills it. */
const begin = (name, port, databaseUrl, more = {}) => {
  const server = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: ROOT,
    stdio: 'inherit',
    env: {
      ...process.env,
      KEEN_DATABASE_URL: databaseUrl,
      KEEN_SECRET: cookieSecret(),
      KEEN_PORT: String(port),
      KEEN_SIGN_IN_LIMIT: '1000',
      KEEN_LOG: 'warn',
      KEEN_CHECK_ANSWERS: '1',
      KEEN_CLOCK: new Date(Date.parse(NOW) + Date.now() - began).toISOString(),
      ...more,
    },
  });
  running.set(name, server);
  writeFileSync(join(folder, `${name}.pid`), String(server.pid));
  server.on('exit', () => {
    if (!stopping) setTimeout(() => begin(name, port, databaseUrl, more), 300);
  });
};
// one that nobody has begun on yet
const empty = new URL(database.url);
empty.pathname = '/keen_e2e_empty';
database.sql('CREATE DATABASE IF NOT EXISTS keen_e2e_empty');
begin('empty', 4398, empty.href, { KEEN_DEMO: '0' });
begin('server', 4399, database.url);
const stop = async () => {
  stopping = true;
  for (const server of running.values()) server.kill('SIGTERM');
  await database.stop();
  process.exit(0);
};
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
