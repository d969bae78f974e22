import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { privateDatabase } from '../../../scripts/lib/database.mjs';
import { BUNDLE, bundlePackages } from '../../../scripts/lib/testBundle.mjs';
import { KEEN } from '../../../scripts/lib/environment.mjs';

/** A private MariaDB for the server's tests, with the demo in a template; every test file makes a database of its own in it. */
export default async function setup() {
  await bundlePackages();
  const database = await privateDatabase({
    folder: join(KEEN, 'test-mariadb'),
    firstPort: 33161,
    name: 'keen_test',
    schemas: ['keen\\_%'],
    lasting: false,
  });
  // the demo of an earlier run was of other code or another day
  const left = database
    .sql("SHOW DATABASES LIKE 'keen\\_%'")
    .stdout.trim()
    .split('\n')
    .filter((d) => d && d !== 'keen_test');
  database.sql([...left.map((d) => `DROP DATABASE ${d}`), 'CREATE DATABASE keen_template'].join(';'));
  const url = new URL(database.url);
  url.pathname = '/keen_template';
  const made = spawnSync(process.execPath, [join(BUNDLE, 'template.mjs')], {
    env: { ...process.env, NODE_OPTIONS: '', KEEN_DATABASE_URL: url.href },
    stdio: 'inherit',
  });
  if (made.status !== 0) throw new Error('The demo could not be put into the template of the test databases.');
  // the walks that follow begin with the same one
  if (process.env.KEEN_DEMO_IMAGE) writeFileSync(process.env.KEEN_DEMO_IMAGE, database.image('keen_template'));
  process.env.KEEN_TEST_DATABASE_URL = database.url;
  globalThis.keenTestDatabase = database;
}
