// npm run restore -- FILE --yes: puts a dump back; what was there is dumped first.
import { createReadStream, existsSync, mkdirSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { BACKUPS, clientOf, dumpTo } from './backup.mjs';
import { fail, privateDatabase, say, spawn, spawnSync } from './house.mjs';

const [file] = process.argv.slice(2).filter((a) => !a.startsWith('--'));
if (!file) fail('Which file? npm run restore -- backups/keen-….sql.gz --yes');
if (!existsSync(file)) fail(`There is no file ${file}.`);
if (!process.argv.includes('--yes'))
  fail('This replaces everything in the database. Say it again with --yes; what is there now is dumped first.');

const own = process.env.KEEN_DATABASE_URL ? null : await privateDatabase();
const url = process.env.KEEN_DATABASE_URL ?? own.url;
mkdirSync(BACKUPS, { recursive: true });
const before = `${BACKUPS}/before-restore-${Date.now()}.sql.gz`;
await dumpTo(url, before);
say(`what was there: ${before}`);
const { name, args, env } = clientOf(url);
const emptied = spawnSync('mariadb', [...args, '-e', `DROP DATABASE \`${name}\`; CREATE DATABASE \`${name}\``], {
  env,
  stdio: 'inherit',
});
if (emptied.status !== 0) fail('The database could not be emptied.');
const load = spawn('mariadb', [...args, name], { env, stdio: ['pipe', 'inherit', 'inherit'] });
const ended = new Promise((done) => load.once('exit', done));
await pipeline(createReadStream(file), createGunzip(), load.stdin);
if ((await ended) !== 0) fail(`The dump could not be read in. What was there is in ${before}.`);
await own?.stop();
say(`restored from ${file}`);
