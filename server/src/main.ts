import { join } from 'node:path';
import { makeApp } from './app.ts';
import { calculationPool } from './areas/calculations/pool.ts';
import { makeClock } from './clock.ts';
import { readConfig } from './config.ts';
import { demoService } from './areas/members/demo.ts';
import { connect, migrate } from './database/index.ts';

import { makeStore } from './store.ts';

/** Starts the server: migrate, load the demo into an empty database, listen, stop gracefully. */
const root = join(import.meta.dirname, '../..');
const config = readConfig(process.env, root);
const db = connect(config.databaseUrl);
const store = makeStore(db, makeClock(config.clock));

const say = (line: string) => process.stdout.write(`${line}\n`);
const applied = await migrate(config.databaseUrl);
if (applied.length) say(`database: ${applied.join(', ')}`);
const demo = demoService(store);
if (config.loadDemo && (await store.members.count()) === 0 && !(await demo.removed()) && (await demo.bringBack()))
  say('demo club loaded');

const pool = calculationPool(config.dataFolder);
const server = makeApp(config, db, store, pool.calculate).listen(config.port, config.host);
server.on('listening', () => {
  say(`listening on http://${config.host}:${config.port}`);
  process.send?.({ ready: true, port: config.port });
});
server.on('error', (e: NodeJS.ErrnoException) => {
  say(
    e.code === 'EADDRINUSE'
      ? `port ${config.port} is taken by another program; set KEEN_PORT to a free one`
      : `cannot listen: ${e.message}`,
  );
  process.exit(1);
});

let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  server.close(() => {
    void Promise.all([db.close(), pool.close()]).then(() => process.exit(0));
  });
  server.closeIdleConnections();
  setTimeout(() => process.exit(0), 5000).unref();
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
