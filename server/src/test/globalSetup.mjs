import { join } from 'node:path';
import { privateDatabase } from '../../../scripts/lib/database.mjs';
import { KEEN } from '../../../scripts/lib/environment.mjs';

/** A private MariaDB for the server's tests; every test file makes a database of its own in it. */
export default async function setup() {
  const database = await privateDatabase({
    folder: join(KEEN, 'test-mariadb'),
    firstPort: 33161,
    name: 'keen_test',
    schemas: ['keen\\_%'],
  });
  // the demo of an earlier run, of other code or another day
  database.sql('DROP DATABASE IF EXISTS keen_template');
  process.env.KEEN_TEST_DATABASE_URL = database.url;
  globalThis.keenTestDatabase = database;
}
