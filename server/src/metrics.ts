import { timingSafeEqual } from 'node:crypto';
import type { Express, Request, RequestHandler } from 'express';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';
import type { Sequelize } from 'sequelize';
import { isLoopback, type Config } from './config.ts';
import { Problem } from './problems.ts';

/** A calculation that takes longer is slow [s]. */
const SLOW_S = 2;
const SECONDS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 60];

interface Pool {
  size: number;
  available: number;
  using: number;
  waiting: number;
}

/** What a server counts of itself, as Prometheus reads it. */
export function makeMetrics(options: { process?: boolean } = {}) {
  const registers = [new Registry()];
  const [registry] = registers as [Registry];
  if (options.process) collectDefaultMetrics({ register: registry });
  const requests = new Histogram({
    name: 'keen_http_request_seconds',
    help: 'Time until an answer was sent',
    labelNames: ['method', 'route', 'status'],
    buckets: SECONDS,
    registers,
  });
  const calculations = new Histogram({
    name: 'keen_calculation_seconds',
    help: 'Time a calculation took, with its wait for a worker',
    labelNames: ['name'],
    buckets: SECONDS,
    registers,
  });
  const slow = new Counter({
    name: 'keen_slow_calculations_total',
    help: `Calculations that took longer than ${SLOW_S} s`,
    labelNames: ['name'],
    registers,
  });
  const jobs = new Counter({
    name: 'keen_jobs_ended_total',
    help: 'Jobs that ended here',
    labelNames: ['kind', 'state'],
    registers,
  });
  const running = new Gauge({ name: 'keen_jobs_running', help: 'Jobs at work here', registers });
  const streams = new Gauge({ name: 'keen_streams_open', help: 'Pages that listen here', registers });

  return {
    jobEnded: (kind: string, state: string) => jobs.inc({ kind, state }),
    jobsRunning: (n: number) => running.set(n),
    streamsOpen: (n: number) => streams.set(n),
    calculated(name: string, seconds: number): void {
      calculations.observe({ name }, seconds);
      if (seconds > SLOW_S) slow.inc({ name });
    },
    /** Counts each answer under its route’s pattern: an address holds ids, and there are as many as there are records. */
    requests: ((req, res, next) => {
      const began = performance.now();
      res.once('close', () => {
        const route = (req.route as { path?: unknown } | undefined)?.path;
        // a stream’s length is nobody’s wait
        if (res.locals.stream) return;
        requests.observe(
          { method: req.method, route: typeof route === 'string' ? route : 'other', status: res.statusCode },
          (performance.now() - began) / 1000,
        );
      });
      next();
    }) as RequestHandler,
    watchPool(db: Sequelize): void {
      const pool = (db as unknown as { connectionManager: { pool: Pool } }).connectionManager.pool;
      const gauge = (name: string, help: string, of: keyof Pool) =>
        new Gauge({
          name: `keen_database_connections_${name}`,
          help,
          registers,
          collect() {
            this.set(pool[of]);
          },
        });
      gauge('open', 'Connections to the database', 'size');
      gauge('used', 'Connections that are at work', 'using');
      gauge('waiting', 'Who waits for a connection', 'waiting');
    },
    /** To whoever is at the machine itself, or has the token. */
    serve(app: Express, config: Pick<Config, 'metricsToken' | 'trustProxy'>): void {
      app.get('/metrics', async (req, res) => {
        if (!atMachine(req) && !hasToken(req, config.metricsToken))
          throw new Problem('not_found', 'There is no such route; see /api/docs.');
        res
          .set('Cache-Control', 'no-store')
          .type(registry.contentType)
          .send(await registry.metrics());
      });
    },
  };
}
export type Metrics = ReturnType<typeof makeMetrics>;

/** Asked on loopback, and not passed on by a proxy there. */
const atMachine = (req: Request): boolean =>
  isLoopback(req.socket.remoteAddress ?? '') &&
  req.get('x-forwarded-for') === undefined &&
  req.get('forwarded') === undefined;

function hasToken(req: Request, token: string): boolean {
  const [sent, held] = [Buffer.from(req.get('authorization') ?? ''), Buffer.from(`Bearer ${token}`)];
  return token !== '' && sent.length === held.length && timingSafeEqual(sent, held);
}
