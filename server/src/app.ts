import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express } from 'express';
import packedFiles from 'express-static-gzip';
import { demandKnownName, demandToken, sessions } from './access/index.ts';
import { archiveRoutes } from './areas/archive/routes.ts';
import { bookingRoutesOf } from './areas/bookings/routes.ts';
import { upkeepRoutesOf } from './areas/upkeep/routes.ts';
import { ownFeedRoutes } from './areas/bookings/ownFeed.ts';
import { calculationPool, type Workers } from './areas/calculations/pool.ts';
import { calculationRoutes } from './areas/calculations/routes.ts';
import { changeRoutes } from './areas/changes/routes.ts';
import { drillRoutesOf } from './areas/drills/routes.ts';
import { duskRoutesOf } from './areas/dusk/routes.ts';
import { focusRoutesOf } from './areas/focus/routes.ts';
import { guidingRoutesOf } from './areas/guiding/routes.ts';
import { memberRoutes } from './areas/members/routes.ts';
import { liveRunRoutesOf } from './areas/live/routes.ts';
import { makeLive, type Live } from './areas/live/index.ts';
import { logbookRoutesOf } from './areas/logbook/routes.ts';
import { nightRoutesOf } from './areas/nights/routes.ts';
import { partRoutes } from './areas/parts/routes.ts';
import { feedRoutes } from './areas/plans/feed.ts';
import { planRoutes } from './areas/plans/routes.ts';
import { projectRoutesOf } from './areas/projects/routes.ts';
import { rigRoutesOf } from './areas/rigs/routes.ts';
import { runRoutes } from './areas/runs/routes.ts';
import { seasonRoutesOf } from './areas/season/routes.ts';
import { siteRoutes } from './areas/sites/routes.ts';
import type { Config } from './config.ts';
import { makeEnding, type Ending } from './ending.ts';
import { bodies } from './bodies.ts';
import { reporter, requestLog } from './errorsLogged.ts';
import { headers } from './headers.ts';
import { healthRoutes } from './health.ts';
import { serveOn } from './http.ts';
import { jobRoutesOf } from './jobs/routes.ts';
import { jobRunner, type JobRunner } from './jobs/runner.ts';
import { makeMetrics, type Metrics } from './metrics.ts';
import { Problem, problemHandler } from './problems.ts';
import type { Store } from './store.ts';
import { eventHub } from './streams/hub.ts';
import { streamsOf } from './streams/open.ts';
import { eventRoutesOf } from './streams/routes.ts';

/** Answers are read once: at this level packing them is half the work, and they are a twentieth longer. */
const PACKING = { level: 3 };

/** What the application is put together from. */
export interface Parts {
  workers: Workers;
  ending: Ending;
  metrics: Metrics;
  jobs: JobRunner;
  live: Live;
}

/** @param given  what stands already; the rest is made here */
export function makeApp(config: Config, store: Store, given: Partial<Parts> = {}): Express {
  const { db } = store;
  const {
    workers = calculationPool(config.dataFolder),
    ending = makeEnding(),
    metrics = makeMetrics(),
    jobs = jobRunner(store, workers.runJob, metrics, reporter(config.logLevel)),
    live = makeLive(store, workers.runTask, config, reporter(config.logLevel)),
  } = given;
  const app = express();
  app.disable('x-powered-by');
  // answers are never kept by browsers, so a mark to compare them by is work for nothing; files have their own
  app.set('etag', false);
  if (config.trustProxy) app.set('trust proxy', 1);
  app.use(requestLog(config.logLevel));
  app.use(metrics.requests);
  app.use(headers(config));
  // a balancer asks also while we end, and under whatever name it likes
  healthRoutes(app, db, ending);
  app.use(ending.middleware);
  app.use(demandKnownName(config));
  // what goes in a few packets is not worth packing
  app.use(compression({ threshold: '4kb', ...PACKING }));
  metrics.serve(app, config);

  const feeds = Router();
  feedRoutes(feeds, store, config);
  ownFeedRoutes(feeds, store, config);
  app.use(feeds);
  app.use('/data', packed(config.dataFolder, { maxAge: '30d' }));
  app.use('/api', sessions(store, config));
  const open = Router();
  calculationRoutes(open, store, config, workers, metrics);
  app.use(open);

  app.use('/api', demandToken(config));
  app.use('/api', bodies());
  const router = Router();
  const serve = serveOn(router, store, config.checkAnswers);
  memberRoutes(router, serve, store, config);
  siteRoutes(serve, store);
  partRoutes(serve, store);
  rigRoutesOf(serve, store);
  focusRoutesOf(serve, store, workers.calculate);
  projectRoutesOf(serve, store);
  planRoutes(serve, store, config);
  runRoutes(serve, store);
  bookingRoutesOf(serve, store, config);
  upkeepRoutesOf(serve, store);
  seasonRoutesOf(serve, store);
  jobRoutesOf(serve, store, jobs);
  const hub = eventHub(store, reporter(config.logLevel));
  store.onWritten(hub.wake);
  const streams = streamsOf(store, metrics);
  ending.onDrain(streams.close);
  eventRoutesOf(router, serve, hub, streams);
  liveRunRoutesOf(router, serve, store, {
    ...live,
    runTask: workers.runTask,
    streams,
    bridges: config.bridges,
  });
  nightRoutesOf(serve, store);
  duskRoutesOf(serve, store);
  guidingRoutesOf(serve, store, workers.runTask);
  drillRoutesOf(serve, store);
  logbookRoutesOf(serve, store);
  changeRoutes(serve, store);
  archiveRoutes(router, store);
  app.use(router);
  app.use('/api', () => {
    throw new Problem('not_found', 'There is no such route; see /api/docs.');
  });

  serveWeb(app, config);
  app.use(problemHandler);
  return app;
}

/** Files that never change under their name; one that the build packed goes out as it lies there, and not packed anew each time. */
const packed = (folder: string, options: { maxAge: string; fallthrough?: boolean }) =>
  packedFiles(folder, { index: false, serveStatic: { immutable: true, ...options } });

/** The built interface: hashed files cached for long, the page itself with a fresh nonce each time. */
function serveWeb(app: Express, config: Config): void {
  const page = join(config.webFolder, 'index.html');
  if (!existsSync(page)) return;
  const html = readFileSync(page, 'utf8');
  app.use('/assets', packed(join(config.webFolder, 'assets'), { maxAge: '365d', fallthrough: false }));
  app.use(express.static(config.webFolder, { index: false, maxAge: '1h' }));
  app.get(/^\/(?!api|data|assets|feeds|healthz|metrics).*/, (_req, res) => {
    res
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(html.replaceAll('__NONCE__', String(res.locals.nonce)));
  });
}
