import { simulatedForecaster, type Forecast, type Forecaster, type RunResult } from '@keen/core/observatory';
import { learnSpells, type LearntSpells, type SkyFrame } from '@keen/core/sequence';
import { nightFrame } from '@keen/core/sky';
import { plain, type SiteRow } from '../../database/index.ts';
import { Problem } from '../../problems.ts';
import { groupBy, type Actor, type Store } from '../../store.ts';

/** Frames looked at to learn a site's sky, the newest: some hundred nights. */
const MOST_FRAMES = 20_000;
/** Why a frame was refused when cloud was the cause. */
const CLOUD = new Set(['cloud', 'bright']);
/** Runs whose log is looked at for cloud that was waited out. */
const MOST_RUNS = 60;

/** Cloud during which nothing was exposed, as a run’s log has it. */
const cloudOf = ({ events }: Pick<RunResult, 'events'>): SkyFrame[] =>
  events
    .filter((e) => e.kind === 'cloud')
    .map((e) => ({ startMs: Date.parse(e.start), endMs: Date.parse(e.end), cloud: true }));

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
      const rows = await store.read<{ runId: string; startedAt: Date; exposureS: number; refusal: string | null }>(
        `SELECT f.run_id AS runId, f.started_at AS startedAt, f.exposure_s AS exposureS, f.refusal
         FROM frames f JOIN runs r ON r.id = f.run_id JOIN rigs g ON g.id = r.rig_id
         WHERE g.site_id = ? AND r.kind IN ('live', 'recorded') AND r.state = 'accepted' AND f.kind = 'light' AND f.started_at IS NOT NULL
         ORDER BY f.started_at DESC LIMIT ${MOST_FRAMES}`,
        [site.id],
      );
      const frames = groupBy(rows.reverse(), (r) => r.runId);
      const logs = await store.read<{ id: string; result: string }>(
        `SELECT r.id, r.result FROM runs r JOIN rigs g ON g.id = r.rig_id
         WHERE g.site_id = ? AND r.kind = 'live' AND r.state = 'accepted' AND r.result IS NOT NULL ORDER BY r.at DESC LIMIT ${MOST_RUNS}`,
        [site.id],
      );
      const waitedOut = new Map(logs.map((l) => [l.id, cloudOf(JSON.parse(l.result) as Pick<RunResult, 'events'>)]));
      return learnSpells(
        [...frames].map(([runId, night]) => {
          const seen = night.map((f): SkyFrame => {
            const startMs = new Date(f.startedAt).getTime();
            return { startMs, endMs: startMs + 1000 * f.exposureS, cloud: CLOUD.has(f.refusal ?? '') };
          });
          return [...seen, ...(waitedOut.get(runId) ?? [])].sort((a, b) => a.startMs - b.startMs);
        }),
      );
    },
  };
}
