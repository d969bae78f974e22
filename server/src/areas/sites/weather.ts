import { simulatedForecaster, type Forecast, type Forecaster } from '@keen/core/observatory';
import { isLostToCloud, type RefusalCode } from '@keen/core/record';
import { learnSpells, type LearntSpells, type SkyFrame } from '@keen/core/sequence';
import { nightFrame } from '@keen/core/sky';
import { nightOnRecord, plain, type SiteRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { groupBy, type Actor, type Store } from '../../store.ts';

/** Frames looked at to learn a site's sky, the newest: some hundred nights. */
const MOST_FRAMES = 20_000;
/** Runs whose log is looked at for cloud that was waited out. */
const MOST_RUNS = 60;

export function weatherService(store: Store, forecaster: Forecaster = simulatedForecaster) {
  async function siteOf(who: Actor, id: string): Promise<SiteRow> {
    const row = await store.sites.findOne({ where: { id, clubId: who.clubId, archivedAt: null } });
    if (!row) throw new Problem('not_found', 'There is no such site.');
    return plain(row);
  }
  return {
    async forecast(who: Actor, id: string, night: string): Promise<Forecast> {
      const site = await siteOf(who, id);
      const { from, to } = nightFrame(site, night);
      return forecaster.forecast(site, from, to);
    },
    async learnt(who: Actor, id: string): Promise<LearntSpells | null> {
      const site = await siteOf(who, id);
      // a second camera saw the same sky as its lead: it is no night more
      const rows = await store.read<{ runId: string; startedAt: Date; exposureS: number; refusal: RefusalCode | null }>(
        `SELECT f.run_id AS runId, f.started_at AS startedAt, f.exposure_s AS exposureS, f.refusal
         FROM frames f JOIN runs r ON r.id = f.run_id JOIN rigs g ON g.id = r.rig_id
         WHERE g.site_id = ? AND ${nightOnRecord('r')} AND f.kind = 'light' AND f.started_at IS NOT NULL
           AND r.beside_id IS NULL
         ORDER BY f.started_at DESC LIMIT ${MOST_FRAMES}`,
        [site.id],
      );
      const frames = groupBy(rows.reverse(), (r) => r.runId);
      // the database takes the logs apart: they are megabytes
      const logs = await store.read<{ runId: string; start: string; end: string }>(
        `SELECT r.id AS runId, e.start, e.end
         FROM (SELECT r.id, r.result FROM runs r JOIN rigs g ON g.id = r.rig_id
               WHERE g.site_id = ? AND ${nightOnRecord('r')} AND r.result IS NOT NULL ORDER BY r.at DESC LIMIT ${MOST_RUNS}) r,
              JSON_TABLE(r.result, '$.events[*]' COLUMNS (kind VARCHAR(20) PATH '$.kind', start VARCHAR(40) PATH '$.start', end VARCHAR(40) PATH '$.end')) e
         WHERE e.kind = 'cloud'`,
        [site.id],
      );
      const waitedOut = groupBy(logs, (l) => l.runId);
      return learnSpells(
        [...frames].map(([runId, night]) => {
          const seen = night.map((f): SkyFrame => {
            const startMs = new Date(f.startedAt).getTime();
            return { startMs, endMs: startMs + 1000 * f.exposureS, cloud: isLostToCloud(f.refusal) };
          });
          // cloud during which nothing was exposed, as the run’s log has it
          const waited = (waitedOut.get(runId) ?? []).map((e): SkyFrame => ({
            startMs: Date.parse(e.start),
            endMs: Date.parse(e.end),
            cloud: true,
          }));
          return [...seen, ...waited].sort((a, b) => a.startMs - b.startMs);
        }),
      );
    },
  };
}
