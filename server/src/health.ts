import type { Express } from 'express';
import { QueryTypes, type Sequelize } from 'sequelize';
import type { Ending } from './ending.ts';

/** A database that says nothing for so long is taken for down just now: whoever asks how we are does not wait longer [ms]. */
const PATIENCE_MS = 400;
/**
 * So long it may be away before a balancer is to send nobody here [ms]. A cluster takes seconds to see that a node is gone, and
 * is away for all its servers alike: were they all passed over, nobody would be answered who can wait a moment.
 */
const AWAY_MS = 10_000;

async function answers(db: Sequelize): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<false>((done) => (timer = setTimeout(() => done(false), PATIENCE_MS)));
  const asked = db.query('SELECT 1', { type: QueryTypes.SELECT }).then(
    () => true,
    () => false,
  );
  return Promise.race([asked, late]).finally(() => clearTimeout(timer));
}

/** What a balancer asks: whether to send anybody here, and, for whoever starts servers again, whether this one lives at all. */
export function healthRoutes(app: Express, db: Sequelize, ending: Ending): void {
  let seenAt = -Infinity;
  app.get('/healthz/alive', (_req, res) => {
    res.set('Cache-Control', 'no-store').json({ alive: true });
  });
  app.get(['/healthz', '/healthz/ready'], async (req, res) => {
    const up = await answers(db);
    if (up) seenAt = Date.now();
    const ready = ending.isReady() && Date.now() - seenAt < AWAY_MS;
    // whoever looks after it is told of an absence at once, a balancer of one that lasts
    const good = req.path.endsWith('/ready') ? ready : ready && up;
    res
      .status(good ? 200 : 503)
      .set('Cache-Control', 'no-store')
      .json({ alive: true, ready, database: up ? 'up' : 'down' });
  });
}
