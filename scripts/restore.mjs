// npm run restore -- FILE --yes: puts a dump back. It is looked through first, loaded beside, counted, and only then swapped in.
import { spawn, spawnSync } from 'node:child_process';
import { createReadStream, existsSync, mkdirSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { BACKUPS, clientOf, dumpTo } from './backup.mjs';
import { privateDatabase } from './lib/database.mjs';
import { examine } from './lib/dump.mjs';
import { fail, say } from './lib/environment.mjs';

const [file] = process.argv.slice(2).filter((a) => !a.startsWith('--'));
if (!file) fail('Which file? npm run restore -- backups/keen-….sql.gz --yes');
if (!existsSync(file)) fail(`There is no file ${file}.`);
if (!process.argv.includes('--yes'))
  fail('This replaces everything in the database. Say it again with --yes; what is there now is dumped first.');
const held = await examine(file).catch((e) => fail(`${file} cannot be put back: ${e.message}. Nothing was changed.`));
if (!held.verified)
  say('this dump was written by an earlier version, without counts and checksum: it is looked at as it loads');

const own = process.env.KEEN_DATABASE_URL ? null : await privateDatabase();
const url = process.env.KEEN_DATABASE_URL ?? own.url;
const { name, args, env } = clientOf(url);
/** The dump is loaded into the first, what is replaced waits in the second until all is done. */
const [fresh, old] = [`${name}_new`, `${name}_old`];
const ask = (sql) => {
  const done = spawnSync('mariadb', [...args, '-N', '-B', '-e', sql], { env, encoding: 'utf8' });
  if (done.status !== 0) throw new Error(done.stderr.trim());
  return done.stdout.trim().split('\n').filter(Boolean);
};
const tablesOf = (schema) =>
  ask(`SELECT table_name FROM information_schema.tables WHERE table_schema = '${schema}' ORDER BY 1`);
const drop = () => ask(`DROP DATABASE IF EXISTS \`${fresh}\`; DROP DATABASE IF EXISTS \`${old}\``);

try {
  drop();
  ask(`CREATE DATABASE \`${fresh}\`; CREATE DATABASE \`${old}\``);
  const load = spawn('mariadb', [...args, fresh], { env, stdio: ['pipe', 'inherit', 'inherit'] });
  const ended = new Promise((done) => load.once('exit', done));
  await pipeline(createReadStream(file), createGunzip(), load.stdin);
  if ((await ended) !== 0) throw new Error('it cannot be read in');
  for (const [table, rows] of Object.entries(held.tables)) {
    const [there] = ask(`SELECT COUNT(*) FROM \`${fresh}\`.\`${table}\``);
    // a dump of an earlier version holds many rows in a line
    if (held.verified && Number(there) !== rows)
      throw new Error(`of ${table} it brought ${there} rows where ${rows} were written`);
  }
  if (!tablesOf(fresh).includes('schema_migrations')) throw new Error('its tables are not ours');
} catch (e) {
  drop();
  await own?.stop();
  fail(`${file} cannot be put back: ${e.message}. Nothing was changed.`);
}

mkdirSync(BACKUPS, { recursive: true });
const before = `${BACKUPS}/before-restore-${Date.now()}.sql.gz`;
await dumpTo(url, before);
say(`what was there: ${before}`);
try {
  const moves = [
    ...tablesOf(name).map((t) => `\`${name}\`.\`${t}\` TO \`${old}\`.\`${t}\``),
    ...tablesOf(fresh).map((t) => `\`${fresh}\`.\`${t}\` TO \`${name}\`.\`${t}\``),
  ];
  // one statement: either all tables change places or none does
  ask(`RENAME TABLE ${moves.join(', ')}`);
} catch (e) {
  await own?.stop();
  fail(`The tables could not be changed over: ${e.message}. What was there is there still.`);
}
drop();
await own?.stop();
say(`restored from ${file}; everybody signs in again`);
