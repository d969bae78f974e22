import type { CalibrationNeeds, FrameFields } from '@keen/contract';
import { needs, type CalibratedFrames, type NeedsInput } from '@keen/core/calibration';
import { frameCounts, nightOnRecord, plain } from '../../database/index.ts';
import type { Actor, Store } from '../../store.ts';
import { currentSystem } from '../rigs/current.ts';

/** Kinds of frames alike that are looked at; the newest nights come first. */
const MOST_KINDS = 2000;
/** Angle of the camera and temperature of the sensor within which frames are of one kind; common practice, no source. */
const TOLERANCE = { angleToleranceDeg: 2, temperatureToleranceC: 1 };

interface Kind {
  kind: FrameFields['kind'];
  filter: string;
  exposureS: number;
  gain: string | null;
  offset: string | null;
  binning: string | null;
  setPointC: string | null;
  sensorC: string | null;
  rotationDeg: string | null;
  flats: string | null;
  count: string;
}
const number = (v: string | null) => (v === null ? null : Number(v));

/**
 * What the counted light frames of a system lack. The train is known by the aspect that decides whether flats hold; the
 * one that stands now is about to be changed some day, so what it lacks is urgent. A frame without an angle in its header
 * is taken for one at 0°, as its flat is.
 */
export async function calibrationNeedsOf(
  store: Store,
  who: Actor,
  rigId: string,
  system?: string,
): Promise<CalibrationNeeds> {
  const now = await currentSystem(store, who.clubId, rigId, system);
  const field = (key: string) => `JSON_VALUE(f.header, '$.${key}')`;
  const keys = ['gain', 'offset', 'binning', 'setPointC', 'sensorC', 'rotationDeg'];
  const kinds = await store.read<Kind>(
    `SELECT f.kind, f.filter, f.exposure_s AS exposureS, ${keys.map((k) => `${field(k)} AS ${k === 'offset' ? '`offset`' : k}`).join(', ')},
            JSON_VALUE(r.aspects, '$.flats') AS flats, COUNT(*) AS count
     FROM frames f JOIN runs r ON r.id = f.run_id
     WHERE r.rig_id = ? AND r.system = ? AND ${nightOnRecord('r')} AND ${frameCounts('f')}
     GROUP BY f.kind, f.filter, f.exposure_s, ${keys.map(field).join(', ')}, flats
     ORDER BY MAX(r.night) DESC LIMIT ${MOST_KINDS}`,
    [rigId, now.system.key],
  );
  const input: NeedsInput = {
    frames: [],
    library: { flats: [], darks: [], darkFlats: [] },
    changing: now.aspects.flats === null ? [] : [now.aspects.flats],
    ...TOLERANCE,
  };
  let [frames, leftOut] = [0, 0];
  for (const k of kinds) {
    const gain = number(k.gain);
    const temperatureC = number(k.setPointC) ?? number(k.sensorC);
    const settings = { gain: gain ?? 0, offset: number(k.offset) ?? undefined, binning: number(k.binning) ?? 1 };
    const train = { trainRevision: k.flats ?? '', angleDeg: number(k.rotationDeg) ?? 0 };
    const of = { exposureS: k.exposureS, ...settings };
    if (k.kind === 'light') frames += Number(k.count);
    const unsaid =
      gain === null || k.exposureS <= 0 || (k.kind !== 'flat' && k.kind !== 'darkFlat' && temperatureC === null);
    if (unsaid) {
      if (k.kind === 'light') leftOut += Number(k.count);
      continue;
    }
    if (k.kind === 'light')
      input.frames.push({
        filter: k.filter,
        ...of,
        temperatureC: temperatureC!,
        ...train,
        count: Number(k.count),
      } satisfies CalibratedFrames);
    else if (k.kind === 'flat')
      input.library.flats.push({ filter: k.filter, ...of, temperatureC: temperatureC ?? undefined, ...train });
    else if (k.kind === 'dark') input.library.darks.push({ ...of, temperatureC: temperatureC! });
    else if (k.kind === 'darkFlat') input.library.darkFlats.push({ ...of, temperatureC: temperatureC ?? undefined });
  }
  // a master serves as the frames it was made of do
  for (const m of await store.masters.findAll({ where: { rigId, archivedAt: null } }).then((all) => all.map(plain))) {
    const { kind, gain, setPointC, exposureS, binning, filter, angleDeg } = m.data;
    if (m.data.system !== now.system.key || gain === null || exposureS <= 0) continue;
    const of = { exposureS, gain, binning };
    if (kind === 'flat' && filter)
      input.library.flats.push({
        filter,
        ...of,
        temperatureC: setPointC ?? undefined,
        trainRevision: m.flatsAspect ?? 'none',
        angleDeg: angleDeg ?? 0,
      });
    else if (kind === 'dark' && setPointC !== null) input.library.darks.push({ ...of, temperatureC: setPointC });
    else if (kind === 'darkFlat') input.library.darkFlats.push({ ...of, temperatureC: setPointC ?? undefined });
  }
  return { ...needs(input), frames, leftOut };
}
