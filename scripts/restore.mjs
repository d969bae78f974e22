// npm run restore -- FILE --yes: puts a dump back. It is looked through first, loaded beside, counted, and only then swapped in.
import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { BACKUPS, clientOf, dumpTo, OF_NO_DUMP } from './backup.mjs';
import { privateDatabase } from './lib/database.mjs';
import { examine } from './lib/dump.mjs';
import { fail, needBuild, needModules, say } from './lib/environment.mjs';

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
const { name, args, env } = await clientOf(url);
/** The dump is loaded into the first, what is replaced waits in the second until all is done. */
const [fresh, old] = [`${name}_new`, `${name}_old`];
const ask = (sql) => {
  const done = spawnSync('mariadb', [...args, '-N', '-B'], { env, input: sql, encoding: 'utf8' });
  if (done.status !== 0) throw new Error(done.stderr.trim());
  return done.stdout.trim().split('\n').filter(Boolean);
};
const tablesOf = (schema) =>
  ask(
    `SELECT table_name FROM information_schema.tables WHERE table_schema = '${schema}' AND table_name <> '${OF_NO_DUMP}' ORDER BY 1`,
  );
const drop = () => ask(`DROP DATABASE IF EXISTS \`${fresh}\`; DROP DATABASE IF EXISTS \`${old}\``);
const urlOf = (schema) => url.replace(/[^/]*$/, schema);
/** Schemas are made with the application’s own migrations, which know every table and version there has been. */
needModules();
needBuild();
const { migrate, MIGRATION_NAMES } = await import('../server/dist/database/migrate.js');

/** An account that reaches nothing but the schema the dump is loaded into; null where none may be made. */
function loaderAccount() {
  const [user, password] = [`keen_load_${randomBytes(4).toString('hex')}`, randomBytes(18).toString('base64url')];
  const who = `'${user}'@'${own ? '127.0.0.1' : '%'}'`;
  const make = `CREATE USER ${who} IDENTIFIED BY '${password}'; GRANT ALL ON \`${fresh.replaceAll('_', '\\_')}\`.* TO ${who}`;
  const gone = `DROP USER IF EXISTS ${who}`;
  try {
    if (own) {
      if (own.sql(make).status !== 0) return null;
    } else ask(make);
  } catch {
    return null;
  }
  const reach = [...args.filter((a) => !a.startsWith('--user=')), `--user=${user}`];
  return { args: reach, env: { ...env, MYSQL_PWD: password }, end: () => (own ? own.sql(gone) : ask(gone)) };
}
/** The client’s own door to the file system is closed where it has one. */
const sandbox = spawnSync('mariadb', ['--help'], { encoding: 'utf8' }).stdout.includes('--sandbox')
  ? ['--sandbox']
  : [];
async function load() {
  const loader = loaderAccount();
  if (!loader) say('loaded by the database’s own account: it may not make one that reaches less');
  try {
    const by = loader ?? { args, env };
    const client = spawn('mariadb', [...by.args, ...sandbox, fresh], {
      env: by.env,
      stdio: ['pipe', 'inherit', 'inherit'],
    });
    const ended = new Promise((done) => client.once('exit', done));
    // a client that stops early says why itself
    await pipeline(createReadStream(file), createGunzip(), client.stdin).catch(() => undefined);
    if ((await ended) !== 0) throw new Error('it cannot be read in');
  } finally {
    loader?.end();
  }
}
/** Every version in order and every table of the last: a part of a database is none. */
async function demandWhole() {
  const there = tablesOf(fresh);
  if (!there.includes('schema_migrations')) throw new Error('its tables are not ours');
  const versions = ask(`SELECT name FROM \`${fresh}\`.schema_migrations ORDER BY name`);
  const unknown = versions.find((v) => !MIGRATION_NAMES.includes(v));
  if (unknown) throw new Error(`it was written by another version, which knew “${unknown}”`);
  if (versions.some((v, i) => v !== MIGRATION_NAMES[i])) throw new Error('versions are missing between those it names');
  // made beside with the same versions, from nothing
  await migrate(urlOf(old), versions.at(-1));
  const whole = tablesOf(old);
  const [lacks, more] = [whole.filter((t) => !there.includes(t)), there.filter((t) => !whole.includes(t))];
  if (lacks.length)
    throw new Error(`${lacks.length} of its ${whole.length} tables are missing: ${lacks.slice(0, 5).join(', ')}`);
  if (more.length) throw new Error(`it brings tables that are not ours: ${more.slice(0, 5).join(', ')}`);
  ask(`DROP DATABASE \`${old}\`; CREATE DATABASE \`${old}\``);
  await migrate(urlOf(fresh));
}

try {
  drop();
  ask(`CREATE DATABASE \`${fresh}\`; CREATE DATABASE \`${old}\``);
  await load();
  for (const [table, rows] of Object.entries(held.tables)) {
    const [there] = ask(`SELECT COUNT(*) FROM \`${fresh}\`.\`${table}\``);
    // a dump of an earlier version holds many rows in a line
    if (held.verified && Number(there) !== rows)
      throw new Error(`of ${table} it brought ${there} rows where ${rows} were written`);
  }
  await demandWhole();
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
