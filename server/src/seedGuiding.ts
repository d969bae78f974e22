import { nightOnRecord } from './database/index.ts';
import { taskAtOnce } from './areas/calculations/worker.ts';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DuskSettings, type ProjectRecord, type RigRecord } from '@keen/contract';
import { guideToCsv } from '@keen/core/exchange';
import { frame, guideViewOf, nearestAngle, reachMm, ringOf, starsIn, windowPa } from '@keen/core/guiding';
import { simulateGuiding } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { scaleArcsecPerPx, offAxisDeg } from '@keen/core/quantities';
import { addDays, bandSource, eveningDate, type StarIndex } from '@keen/core/sky';
import { DUSK, GUIDE_LOGS, PINNED, SITES, RIGS } from '@keen/demo';
import { duskSettingsService } from './areas/dusk/settings.ts';
import { guideLogsService } from './areas/guiding/service.ts';
import { projectsService } from './areas/projects/service.ts';
import { ALL, type Actor, type Store } from './store.ts';

/** One simulated session's length and cadence [s]. */
const SESSION = { seconds: 5400, cadenceS: 2.5, leadS: 60 };
const WISH = { exposureS: 2, snr: 20 };

const dataFolder = join(import.meta.dirname, '../../data');
function shippedStars() {
  const folder = join(dataFolder, 'stars');
  return bandSource(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')) as StarIndex, (file) =>
    readFileSync(join(folder, file)),
  );
}

/** A log as long as the night’s frames, dithering in every other pause between them. */
async function sessionOf(store: Store, rigId: string, night: string) {
  const frames = await store.read<{ startedAt: Date; exposureS: number }>(
    `SELECT f.started_at AS startedAt, f.exposure_s AS exposureS FROM frames f JOIN runs r ON r.id = f.run_id
     WHERE r.rig_id = ? AND r.night = ? AND ${nightOnRecord('r')} AND f.kind = 'light' ORDER BY f.started_at`,
    [rigId, night],
  );
  const spans = frames.map((f) => ({ from: new Date(f.startedAt).getTime() / 1000, lengthS: f.exposureS }));
  const [first, last] = [spans[0], spans.at(-1)];
  if (!first || !last) return { beganAt: null, seconds: SESSION.seconds, ditherAtS: null };
  const began = first.from - SESSION.leadS;
  return {
    beganAt: new Date(1000 * began).toISOString(),
    seconds: last.from + last.lengthS - began,
    ditherAtS: spans
      .slice(1)
      .flatMap((_, i) => (i % 2 ? [spans[i]!.from + spans[i]!.lengthS + SESSION.cadenceS - began] : [])),
  };
}

/** Kept logs of the last weeks, what was told about evenings, and two framings pinned with a real star in their window. */
export async function seedGuiding(
  store: Store,
  steward: Actor,
  rigs: ReadonlyMap<string, RigRecord>,
  today: Date,
  setClock: (to: Date) => void,
): Promise<void> {
  for (const log of GUIDE_LOGS) {
    const rig = rigs.get(log.rig)!;
    const zone = SITES.find((s) => s.key === RIGS.find((r) => r.key === log.rig)!.site)!.timeZone;
    setClock(new Date(today.getTime() - log.daysAgo * 86_400_000));
    const night = addDays(eveningDate(zone, today.getTime()), -log.daysAgo);
    const session = await sessionOf(store, rig.id, night);
    await guideLogsService(store, taskAtOnce).keep(steward, rig.id, {
      night,
      beganAt: session.beganAt,
      name: log.name,
      note: log.note,
      imagingScaleArcsecPerPx: scaleArcsecPerPx(viewOf(rig.setup).camera.pixelUm, viewOf(rig.setup).focalLengthMm),
      csv: guideToCsv(
        simulateGuiding({
          cadenceS: SESSION.cadenceS,
          seconds: session.seconds,
          ...(session.ditherAtS ? { ditherAtS: session.ditherAtS } : {}),
          seed: log.seed,
          fault: log.fault,
          seeingArcsec: log.seeingArcsec,
          wormPeriodS: rig.setup.mount.wormPeriodS,
        }),
      ),
    });
  }
  for (const [key, told] of Object.entries(DUSK))
    await duskSettingsService(store).keep(steward, rigs.get(key)!.id, {
      settings: DuskSettings.parse(told),
      version: 0,
    });
  const source = shippedStars();
  const projects = projectsService(store);
  for (const p of await projects.list(steward, ALL)) {
    if (!PINNED.includes(p.name)) continue;
    const rig = [...rigs.values()].find((r) => r.id === p.rigId)!;
    const sky = SITES.find((s) => s.key === RIGS.find((r) => rigs.get(r.key)!.id === rig.id)!.site)!.skyMagArcsec2;
    await pinFraming(p, rig, sky);
  }

  async function pinFraming(p: ProjectRecord, rig: RigRecord, skyMagArcsec2: number): Promise<void> {
    const view = guideViewOf(viewOf(rig.setup, p.system), { skyMagArcsec2 });
    if (view?.kind !== 'off-axis') return;
    const radiusDeg = offAxisDeg(reachMm(view.window), view.window.focalLengthMm);
    const stars = source({ raDeg: p.raDeg, decDeg: p.decDeg, radiusDeg, faintestMag: 14 });
    const at = (angleDeg: number) =>
      frame(
        view,
        WISH,
        stars,
        [{ column: 0, row: 0, raDeg: p.raDeg, decDeg: p.decDeg, angleDeg, acrossMm: 0, upMm: 0 }],
        angleDeg,
      );
    const angleDeg = nearestAngle(ringOf(at(p.angleDeg), 'camera', p.angleDeg), p.angleDeg)?.angleDeg ?? p.angleDeg;
    const star = starsIn(at(angleDeg), 0, 0).find((c) => c.usable);
    await projects.pin(steward, p.id, {
      framing: {
        raDeg: p.raDeg,
        decDeg: p.decDeg,
        angleDeg,
        windowPaDeg: windowPa(view, angleDeg, 0),
        columns: 1,
        rows: 1,
        overlap: 0.15,
        star: star ? { raDeg: star.raDeg, decDeg: star.decDeg, mag: star.mag } : null,
        guideExposureS: star ? WISH.exposureS : null,
      },
      version: p.version,
    });
  }
}
