import { createHttpTerminator } from 'http-terminator';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { setFlagsFromString } from 'node:v8';
import { makeApp } from './app.ts';
import { calculationPool } from './areas/calculations/pool.ts';
import { makeClock } from './clock.ts';
import { readConfig } from './config.ts';
import { makeLive } from './areas/live/index.ts';
import { demoService } from './areas/members/demo.ts';
import { connect, faultAt, migrate } from './database/index.ts';

import { makeEnding } from './ending.ts';
import { reporter } from './errorsLogged.ts';
import { jobRunner } from './jobs/runner.ts';
import { makeMetrics } from './metrics.ts';
import { makeStore } from './store.ts';

/** Starts the server: migrate, load the demo into an empty database, listen, stop gracefully. */
// left to itself the engine clears up late: under load a server had 370 MB where it has 256 MB now, at no cost that could be measured
setFlagsFromString('--heap-growing-percent=120');

const root = join(import.meta.dirname, '../..');
const config = readConfig(process.env, root);
const db = connect(config.databaseUrl);
const store = makeStore(db, makeClock(config.clock));

// looked for by tests: the process ends in the middle of a write
if (process.env.KEEN_FAULT) faultAt(process.env.KEEN_FAULT, () => process.kill(process.pid, 'SIGKILL'));

const say = (line: string) => process.stdout.write(`${line}\n`);
if (config.clock)
  say(
    `KEEN_CLOCK: this server lives at ${config.clock}, whatever the hour is; nothing that is planned or kept here is true`,
  );
const applied = await migrate(config.databaseUrl);
if (applied.length) say(`database: ${applied.join(', ')}`);
const demo = demoService(store);
if (config.loadDemo && (await demo.neverHeldAnything()) && (await demo.bringBack())) say('demo club loaded');
const hasDemo = (await store.clubs.count({ where: { demo: 1 } })) > 0;

const pool = calculationPool(config.dataFolder);
const ending = makeEnding();
const metrics = makeMetrics({ process: true });
metrics.watchPool(db);
const jobs = jobRunner(store, pool.runJob, metrics, reporter(config.logLevel));
const live = makeLive(store, pool.runTask, config, reporter(config.logLevel));
const server = makeApp(config, store, { workers: pool, ending, metrics, jobs, live }).listen(config.port, config.host);
server.on('listening', () => {
  // what a server left behind that ended
  jobs.look();
  live.runner.look();
  say(`listening on http://${config.host}:${config.port}`);
  process.send?.({ ready: true, port: config.port, demo: hasDemo });
});
server.on('error', (e: NodeJS.ErrnoException) => {
  say(
    e.code === 'EADDRINUSE'
      ? `port ${config.port} is taken by another program; set KEEN_PORT to a free one`
      : `cannot listen: ${e.message}`,
  );
  process.exit(1);
});

/** Longest a graceful stop may take [ms]. */
const STOP_MS = 5000;
const terminator = createHttpTerminator({ server, gracefulTerminationTimeout: STOP_MS });
let stopping = false;
/** No new work: what was begun is answered, open connections are told to close, and the process ends. */
const stop = () => {
  if (stopping) return;
  stopping = true;
  ending.drain();
  void wait(config.drainS * 1000)
    .then(() => {
      ending.begin();
      return terminator.terminate();
    })
    .then(() => Promise.all([jobs.stop(), live.runner.stop()]))
    .then(() => Promise.all([db.close(), pool.close()]))
    .finally(() => process.exit(0));
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// whoever started this is gone: nobody would stop it any more
process.on('disconnect', stop);
