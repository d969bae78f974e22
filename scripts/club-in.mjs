// npm run club:in -- FILE: reads a whole club in, beside those that are here, from the archive its steward was given.
import { existsSync, readFileSync } from 'node:fs';
import { privateDatabase } from './lib/database.mjs';
import { fail, needBuild, needModules, say } from './lib/environment.mjs';

const [file] = process.argv.slice(2);
if (!file) fail('Which file? npm run club:in -- keen-club-….zip');
if (!existsSync(file)) fail(`There is no file ${file}.`);
needModules();
needBuild();
const url = process.env.KEEN_DATABASE_URL ?? (await privateDatabase()).url;
const { connect, migrate } = await import('../server/dist/database/index.js');
const { makeStore } = await import('../server/dist/store.js');
const { ArchiveTrouble, readArchive } = await import('../server/dist/areas/archive/index.js');
await migrate(url);
const db = connect(url, 2);
try {
  const done = await readArchive(makeStore(db), readFileSync(file));
  say(`${done.club} is here: ${done.rows} rows.`);
  for (const [from, to] of done.renamed) say(`somebody here signs in as ${from} already: from now on it is ${to}`);
  say(
    'Passwords are in no archive. Stewards sign in with these, once, and give the others theirs under Club, Members:',
  );
  for (const s of done.stewards) say(`  ${s.name}: ${s.signIn}  ${s.password}`);
} catch (e) {
  if (!(e instanceof ArchiveTrouble)) throw e;
  console.error(`${file} cannot be read in: ${e.message}`);
  process.exitCode = 1;
} finally {
  await db.close();
}
process.exit();
