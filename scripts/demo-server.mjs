// The built application with the demo club on a database of its own, for pictures and measurements.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { spawn } from 'node:child_process';
import { endLeftover, freePort, privateDatabase } from './lib/database.mjs';
import { browserPath, cookieSecret, KEEN, ROOT } from './lib/environment.mjs';

/** @returns the port it answers at, and how to stop server and database; whatever goes wrong neither is left behind */
export async function demoServer({ name, firstPort, clock }) {
  const folder = join(KEEN, name);
  await endLeftover(join(folder, 'mariadb'));
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const database = await privateDatabase({ folder: join(folder, 'mariadb'), firstPort, name: `keen_${name}` });
  const port = await freePort(4420);
  const server = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      KEEN_DATABASE_URL: database.url,
      KEEN_SECRET: cookieSecret(),
      KEEN_PORT: String(port),
      KEEN_FRAMES: '.keen/demo-frames',
      KEEN_LOG: 'warn',
      KEEN_CLOCK: clock,
    },
  });
  await new Promise((done) => server.on('message', done));
  for (const event of ['unhandledRejection', 'uncaughtException'])
    process.on(event, (e) => {
      console.error(e);
      server.kill('SIGKILL');
      void database.stop().then(() => process.exit(1));
    });
  const stop = async () => {
    server.kill('SIGTERM');
    await new Promise((done) => (server.exitCode === null ? server.on('exit', done) : done(undefined)));
    await database.stop();
  };
  return { port, stop };
}

/** Chromium without a display and without a word to the network. */
export const BROWSER = {
  executablePath: browserPath(),
  // people see scroll bars, and they take room and light
  ignoreDefaultArgs: ['--hide-scrollbars'],
  args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
    ' ',
  ),
};
