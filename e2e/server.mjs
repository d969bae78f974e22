// The application for the browser tests: fresh databases with the demo club, and servers that are started again when killed.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO_MADE } from '../scripts/lib/demoInstant.mjs';
import { NOW } from './instant.mjs';
import { DEMO_PORTS, EMPTY_PORT, LATE, READY_PORT } from './ports.mjs';
import { createServer } from 'node:http';
import { spawn } from 'node:child_process';
import { setTimeout } from 'node:timers/promises';
import { endLeftover, privateDatabase } from '../scripts/lib/database.mjs';
import { KEEN, cookieSecret, ROOT } from '../scripts/lib/environment.mjs';

const folder = join(KEEN, 'e2e');
const IMAGE = process.env.KEEN_DEMO_IMAGE ?? '';
await endLeftover(join(folder, 'mariadb'));
rmSync(folder, { recursive: true, force: true });
mkdirSync(folder, { recursive: true });
const database = await privateDatabase({
  folder: join(folder, 'mariadb'),
  firstPort: 33361,
  name: 'keen_e2e',
  schemas: ['keen\\_e2e%'],
  lasting: false,
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
      KEEN_FRAMES: `.keen/e2e-frames-${port}`,
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
  // one that hears nothing any more would have its port for ever
  await setTimeout(3000);
  for (const server of running.values()) if (server.exitCode === null) server.kill('SIGKILL');
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
const urlOf = (name) => Object.assign(new URL(database.url), { pathname: `/${name}` }).href;
/** Those that nobody has begun on: one is made, the others are copies of it. */
const beginEmpty = async () => {
  database.sql('CREATE DATABASE keen_e2e_empty');
  begin('empty', EMPTY_PORT, urlOf('keen_e2e_empty'), { KEEN_DEMO: '0' });
  await answers(EMPTY_PORT);
  for (const { name, port, now } of LATE) {
    database.copy('keen_e2e_empty', `keen_e2e_${name}`);
    begin(name, port, urlOf(`keen_e2e_${name}`), { KEEN_DEMO: '0', KEEN_CLOCK: now });
  }
  for (const { port } of LATE) await answers(port);
};
/** One with the demo for each of the browsers that walk at the same time: neither sees what the other does. */
const beginDemo = async () => {
  // made already by the tests before, or by the first server
  const image = NOW === DEMO_MADE && existsSync(IMAGE) ? readFileSync(IMAGE) : null;
  for (const [index, port] of DEMO_PORTS.entries()) {
    const name = `keen_e2e_${index}`;
    if (image) database.fill(name, image);
    else if (index === 0) database.sql(`CREATE DATABASE ${name}`);
    else database.copy('keen_e2e_0', name);
    writeFileSync(join(folder, `url-${index}`), urlOf(name));
    begin(`server-${index}`, port, urlOf(name));
    if (!image) await answers(port);
  }
  for (const port of DEMO_PORTS) await answers(port);
};
await Promise.all([beginEmpty(), beginDemo()]);
// only now the walks begin: this is the address they wait for
createServer((_, answer) => answer.end('ready')).listen(READY_PORT, '127.0.0.1');
