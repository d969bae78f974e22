// npm start: everything from a bare clone to a running application.
import { spawn } from 'node:child_process';
import { freePort, portFree, privateDatabase } from './lib/database.mjs';
import { cookieSecret, fail, needBuild, needModules, needPackages, ROOT, say } from './lib/environment.mjs';

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19))
  fail(`Node 20.19 or newer is needed; this is ${process.versions.node}.`);

const given = process.env.KEEN_DATABASE_URL;
// tests start what is installed and built already
if (process.env.KEEN_PREPARED !== '1') {
  say('phase 1: what the machine needs');
  const packages = given ? null : needPackages([['mariadbd', 'mariadb-server']]);
  needModules();
  needBuild();
  await packages;
}
say('phase 2: database and server');
const wait = (ms) => new Promise((done) => setTimeout(done, ms));
/** First pause before something is tried again, the longest one, and how often a server may die before that is given up. */
const PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 30_000;
const MOST_DEATHS = 6;
/** A server that lived so long had started well: its deaths are counted anew. */
const LIVED_MS = 120_000;

let stopping = false;
let server = null;
let database = null;
const stop = async (code = 0) => {
  if (stopping) return;
  stopping = true;
  say('stopping …');
  if (server && server.exitCode === null && server.signalCode === null) {
    const ended = new Promise((done) => server.once('exit', done));
    server.kill('SIGTERM');
    await ended;
  }
  await database?.stop();
  process.exit(code);
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

/** Starts the database, again and again with growing pauses: a full disk may be cleared while this waits. */
async function upDatabase() {
  for (let pause = PAUSE_MS; !stopping; pause = Math.min(2 * pause, LONGEST_PAUSE_MS)) {
    try {
      return await privateDatabase();
    } catch (e) {
      say(`${e.message}\ntrying again in ${pause / 1000} s (Ctrl-C ends this)`);
      await wait(pause);
    }
  }
  return null;
}
database = given ? null : await upDatabase();
const wished = process.env.KEEN_PORT;
if (wished && !(await portFree(Number(wished)))) {
  await database?.stop();
  fail(`Port ${wished} is taken by another program. Free it, or set KEEN_PORT to another one.`);
}
const port = wished ? Number(wished) : await freePort(4310);

let told = false;
let deaths = 0;
/** Starts the server, and starts it again when it dies; one that never came up is not tried again. */
function upServer() {
  const began = Date.now();
  let ready = false;
  // a group of its own: Ctrl-C reaches this script, which stops server and database in turn
  server = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: ROOT,
    env: {
      ...process.env,
      KEEN_DATABASE_URL: given ?? database.url,
      KEEN_SECRET: process.env.KEEN_SECRET ?? cookieSecret(),
      KEEN_PORT: String(port),
      KEEN_FRAMES: process.env.KEEN_FRAMES ?? '.keen/frames',
      NODE_ENV: 'production',
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
  });
  server.on('message', (m) => {
    if (!m.ready) return;
    ready = true;
    if (told) return say('the server answers again');
    told = true;
    say('ready');
    console.log(`\n  Keen Meridian   http://127.0.0.1:${m.port}`);
    if (m.demo)
      console.log(
        '  demo accounts   odalys (steward), teun, mirela, sefu (members), ines (guest); password larkmoor-nights',
      );
    console.log(`  HTTP interface  http://127.0.0.1:${m.port}/api/docs\n  Ctrl-C stops server and database.\n`);
  });
  server.on('exit', async (code, signal) => {
    if (stopping) return;
    const how = signal ? `by ${signal}` : `with status ${code}`;
    if (Date.now() - began > LIVED_MS) deaths = 0;
    deaths++;
    if ((!ready && !told) || deaths > MOST_DEATHS) {
      say(`the server ended ${how}${told ? `, ${deaths} times in a row: given up` : ''}`);
      return stop(1);
    }
    const pause = Math.min(PAUSE_MS * 2 ** (deaths - 1), LONGEST_PAUSE_MS);
    say(`the server ended ${how}; starting it again in ${pause / 1000} s`);
    await wait(pause);
    if (!stopping) upServer();
  });
}
upServer();
// a database that dies under the server is started again on the same port; the server's pool reconnects by itself
let reviving = false;
setInterval(async () => {
  if (!database || stopping || reviving || database.isUp()) return;
  reviving = true;
  say('the database stopped unexpectedly; starting it again');
  database = (await upDatabase()) ?? database;
  reviving = false;
}, 1000).unref();
