import type { NightFigures } from '@keen/contract';
import { nightSlope } from '@keen/core/focus';
import type { LogSummary } from '@keen/core/guiding';
import { isOfNight } from '@keen/core/record';
import { frameCounts, lostToCloud, nightOnRecord, plain } from '../../database/index.ts';
import { groupBy, type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';

/** Nights told at most: those of two years. */
const MOST_NIGHTS = 400;
const number = (v: string | number | null) => (v === null ? null : Number(v));
const iso = (v: Date | string | null) => (v === null ? null : new Date(v).toISOString());

/** The nights of a system in figures: light, losses, star widths, guiding. Rehearsals and undone nights are none. */
export async function nightFiguresOf(
  store: Store,
  who: Actor,
  rigId: string,
  system?: string,
): Promise<NightFigures[]> {
  const now = await currentSystem(store, who.clubId, rigId, system);
  const { timeZone } = plain((await store.sites.findByPk(now.rig.siteId))!);
  const of = [rigId, now.system.key];
  const FRAMES = `FROM frames f JOIN runs r ON r.id = f.run_id WHERE r.rig_id = ? AND r.system = ? AND ${nightOnRecord('r')} AND f.kind = 'light'`;
  const day = (column: string) => `DATE_FORMAT(${column}, '%Y-%m-%d') AS night`;
  const nights = await store.read<{
    night: string;
    countedS: string;
    refusedS: string;
    cloudS: string;
    frames: string;
    first: Date | null;
    last: Date | null;
  }>(
    `SELECT ${day('r.night')}, SUM(IF(${frameCounts('f')}, f.exposure_s, 0)) AS countedS, SUM(IF(${frameCounts('f')}, 0, f.exposure_s)) AS refusedS,
            SUM(IF(${lostToCloud('f')}, f.exposure_s, 0)) AS cloudS, COUNT(*) AS frames,
            MIN(f.started_at) AS first, MAX(f.started_at + INTERVAL f.exposure_s SECOND) AS last
     ${FRAMES} GROUP BY r.night ORDER BY r.night DESC LIMIT ${MOST_NIGHTS}`,
    of,
  );
  const oldest = nights.at(-1)?.night;
  if (!oldest) return [];
  const median = (key: string) => `MEDIAN(CAST(JSON_VALUE(f.look, '$.${key}') AS DOUBLE)) OVER (PARTITION BY r.night)`;
  const widths = await store.read<{ night: string; hfdPx: number | null; eccentricity: number | null }>(
    `SELECT DISTINCT ${day('r.night')}, ${median('hfdPx')} AS hfdPx, ${median('eccentricity')} AS eccentricity
     ${FRAMES} AND ${frameCounts('f')} AND f.look IS NOT NULL AND r.night >= ?`,
    [...of, oldest],
  );
  const logs = await store.read<{ night: string; summary: string | LogSummary }>(
    `SELECT ${day('night')}, summary FROM guide_logs WHERE rig_id = ? AND system = ? AND archived_at IS NULL AND night >= ?`,
    [...of, oldest],
  );
  const runs = await store.read<{ at: Date; filter: string; position: number; temperatureC: number | null }>(
    // a focuser moves one camera of the rig: the runs of another have steps of their own
    `SELECT f.time AS at, f.filter, f.position, f.temperature_c AS temperatureC FROM focus_runs f JOIN train_states s ON s.id = f.train_state_id
     WHERE f.rig_id = ? AND s.system = ? AND f.time IS NOT NULL AND f.usable = 1 AND f.excluded = 0 AND f.time >= ? - INTERVAL 1 DAY`,
    [...of, oldest],
  );
  const widthOf = new Map(widths.map((w) => [w.night, w]));
  const logsOf = groupBy(logs, (l) => l.night);
  const focused = runs.map((r) => ({ ...r, ms: new Date(r.at).getTime(), error: null }));
  return nights.map((n) => {
    const [first, last] = [iso(n.first), iso(n.last)];
    const own = focused.filter((r) => isOfNight(iso(r.at), n.night, timeZone));
    return {
      night: n.night,
      countedS: Number(n.countedS),
      refusedS: Number(n.refusedS),
      cloudS: Number(n.cloudS),
      frames: Number(n.frames),
      first,
      last,
      hfdPx: number(widthOf.get(n.night)?.hfdPx ?? null),
      eccentricity: number(widthOf.get(n.night)?.eccentricity ?? null),
      guidingArcsec: guidingOf(logsOf.get(n.night) ?? []),
      focusRuns: own.length,
      focusStepsPerC: nightSlope(own),
    };
  });
}
/** Scatter over several logs: their squares weighed by their samples. */
function guidingOf(logs: readonly { summary: string | LogSummary }[]): number | null {
  const read = logs.map((l) => (typeof l.summary === 'string' ? (JSON.parse(l.summary) as LogSummary) : l.summary));
  const samples = read.reduce((s, l) => s + l.samples, 0);
  return samples > 0 ? Math.sqrt(read.reduce((s, l) => s + l.samples * l.rms.total ** 2, 0) / samples) : null;
}
