import type { Express } from 'express';
import { QueryTypes, type Sequelize } from 'sequelize';
import type { Ending } from './ending.ts';

/** A database that says nothing for so long is down for whoever asks how we are [ms]. */
const PATIENCE_MS = 2000;

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
  app.get('/healthz/alive', (_req, res) => {
    res.set('Cache-Control', 'no-store').json({ alive: true });
  });
  app.get('/healthz', async (_req, res) => {
    const up = await answers(db);
    const ready = up && ending.isReady();
    res
      .status(ready ? 200 : 503)
      .set('Cache-Control', 'no-store')
      .json({ alive: true, ready, database: up ? 'up' : 'down' });
  });
}
