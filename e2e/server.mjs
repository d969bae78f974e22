// The application for the browser tests: fresh databases with the demo club, and servers that are started again when killed.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { NOW } from './instant.mjs';
import { DEMO_PORTS, EMPTY_PORT, LATE } from './ports.mjs';
import { spawn } from 'node:child_process';
import { setTimeout } from 'node:timers/promises';
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
    if (!stopping) void setTimeout(300).then(() => begin(name, port, databaseUrl, more));
  });
};
const stop = async () => {
  stopping = true;
  for (const server of running.values()) server.kill('SIGTERM');
  await database.stop();
  process.exit(0);
};
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
const answers = async (port) => {
  while (
    !stopping &&
    !(await fetch(`http://127.0.0.1:${port}/healthz`).then(
      (r) => r.ok,
      () => false,
    ))
  )
    await setTimeout(100);
};
// one that nobody has begun on yet
const empty = new URL(database.url);
empty.pathname = '/keen_e2e_empty';
database.sql('CREATE DATABASE IF NOT EXISTS keen_e2e_empty');
begin('empty', EMPTY_PORT, empty.href, { KEEN_DEMO: '0' });
await answers(EMPTY_PORT);
for (const { name, port, now } of LATE) {
  const own = new URL(database.url);
  own.pathname = `/keen_e2e_${name}`;
  database.sql(`CREATE DATABASE IF NOT EXISTS keen_e2e_${name}`);
  begin(name, port, own.href, { KEEN_DEMO: '0', KEEN_CLOCK: now });
  await answers(port);
}
// one for each of the two browsers that walk at the same time: neither sees what the other does
for (const [place, port] of DEMO_PORTS.entries()) {
  const own = new URL(database.url);
  own.pathname = `/keen_e2e_${place}`;
  database.sql(`CREATE DATABASE IF NOT EXISTS keen_e2e_${place}`);
  writeFileSync(join(folder, `url-${place}`), own.href);
  begin(`server-${place}`, port, own.href);
  // the last to answer says that all do
  await answers(port);
}
