// npm start: everything from a bare clone to a running application.
import {
  cookieSecret,
  fail,
  freePort,
  needBuild,
  needModules,
  needPackages,
  portFree,
  privateDatabase,
  ROOT,
  say,
  spawn,
} from './house.mjs';

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 11))
  fail(`Node 20.11 or newer is needed; this is ${process.versions.node}.`);

const given = process.env.KEEN_DATABASE_URL;
say('phase 1: what the machine needs');
if (!given) needPackages([['mariadbd', 'mariadb-server']]);
needModules();
needBuild();
say('phase 2: database and server');
let database = given ? null : await privateDatabase();
const wished = process.env.KEEN_PORT;
if (wished && !(await portFree(Number(wished)))) {
  await database?.stop();
  fail(`Port ${wished} is taken by another program. Free it, or set KEEN_PORT to another one.`);
}
const port = wished ? Number(wished) : await freePort(4310);
const env = {
  ...process.env,
  KEEN_DATABASE_URL: given ?? database.url,
  KEEN_SECRET: process.env.KEEN_SECRET ?? cookieSecret(),
  KEEN_PORT: String(port),
  NODE_ENV: 'production',
};
// a group of its own: Ctrl-C reaches this script, which stops server and database in turn
const server = spawn(process.execPath, ['server/dist/main.js'], {
  cwd: ROOT,
  env,
  stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  detached: true,
});
let stopping = false;
const stop = async (code = 0) => {
  if (stopping) return;
  stopping = true;
  say('stopping …');
  if (server.exitCode === null) {
    const ended = new Promise((done) => server.once('exit', done));
    server.kill('SIGTERM');
    await ended;
  }
  await database?.stop();
  process.exit(code);
};
// a database that dies under the server is started again on the same port; the server's pool reconnects by itself
let reviving = false;
const watch = setInterval(async () => {
  if (!database || stopping || reviving || database.isUp()) return;
  reviving = true;
  say('the database stopped unexpectedly; starting it again');
  database = await privateDatabase();
  reviving = false;
}, 1000);
watch.unref();
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));
server.on('exit', (code) => {
  if (!stopping) void stop(code ?? 1);
});
server.on('message', (m) => {
  if (!m.ready) return;
  say('ready');
  console.log(`\n  Keen Meridian   http://127.0.0.1:${m.port}`);
  if (process.env.KEEN_DEMO !== '0')
    console.log(
      '  demo accounts   odalys (steward), teun, mirela, sefu (members), ines (guest); password larkmoor-nights',
    );
  console.log(`  HTTP interface  http://127.0.0.1:${m.port}/api/docs\n  Ctrl-C stops server and database.\n`);
});
