import type { CalibrationGroup, FrameFields } from '@keen/contract';
import { calibrationHolds } from '@keen/core/calibration';
import type { AspectHashes } from '@keen/core/rig';
import { QueryTypes } from 'sequelize';
import { frameCounts, nightOnRecord } from '../../database/index.ts';
import { type Actor, type Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';

/** What is on record for calibrating a system: flats hold while the aspect they were taken in does. */
export async function calibrationOf(
  store: Store,
  who: Actor,
  rigId: string,
  system?: string,
): Promise<CalibrationGroup[]> {
  const now = await currentSystem(store, who.clubId, rigId, system);
  const rows = await store.db.query<{
    kind: CalibrationGroup['kind'];
    filter: string;
    exposureS: number;
    header: string | FrameFields['header'];
    aspects: string | AspectHashes | null;
    night: string;
  }>(
    `SELECT f.kind, f.filter, f.exposure_s AS exposureS, f.header, r.aspects, DATE_FORMAT(r.night, '%Y-%m-%d') AS night
     FROM frames f JOIN runs r ON r.id = f.run_id
     WHERE r.rig_id = :rigId AND r.system = :system AND ${nightOnRecord('r')} AND f.kind <> 'light' AND ${frameCounts('f')}
     ORDER BY r.night DESC LIMIT 20000`,
    { type: QueryTypes.SELECT, replacements: { rigId, system: now.system.key } },
  );
  const groups = new Map<string, CalibrationGroup>();
  for (const r of rows) {
    const header = typeof r.header === 'string' ? (JSON.parse(r.header) as FrameFields['header']) : r.header;
    const aspects = typeof r.aspects === 'string' ? (JSON.parse(r.aspects) as AspectHashes) : r.aspects;
    const holds = calibrationHolds(r.kind, aspects, now.aspects);
    const head = {
      kind: r.kind,
      filter: r.kind === 'flat' ? r.filter : '',
      exposureS: r.exposureS,
      gain: header.gain ?? null,
      setPointC: header.setPointC ?? (header.sensorC === undefined ? null : Math.round(header.sensorC)),
      binning: header.binning ?? 1,
      holds,
    };
    const key = JSON.stringify(head);
    const group = groups.get(key);
    if (group) group.frames++;
    else groups.set(key, { ...head, frames: 1, newest: r.night });
  }
  return [...groups.values()];
}
