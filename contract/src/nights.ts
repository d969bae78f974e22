import { RefusalCode } from '@keen/core/record';
import { z } from 'zod';
import { MissingDark, MissingFlat } from '@keen/core/calibration';
import { FrameKind } from '@keen/core/exchange';
import { FrameMeasures, Judgement } from '@keen/core/frames';
import { SystemKey } from '@keen/core/rig';
import { byId, Day, Id, Instant, none, Ok, Page } from './common.ts';
import { RunKind } from './runs.ts';
import { route } from './route.ts';

/** Most frames whose measures are kept at once. */
export const MOST_LOOKS = 40;
/** A small picture of a frame: a data URL of a picture of some twenty thousand letters at most. */
const SmallPicture = z
  .string()
  .max(24_000)
  .regex(/^data:image\/(png|webp|jpeg);base64,[A-Za-z0-9+/=]+$/, 'a small picture as a data URL');

/** Most frames of one night brought in at once. */
export const MAX_NIGHT_FRAMES = 5000;

/** What a frame's header told, as far as it is kept. */
export const FrameHeader = z.strictObject({
  object: z.string().max(120).optional(),
  raDeg: z.number().min(0).max(360).optional(),
  decDeg: z.number().min(-90).max(90).optional(),
  setPointC: z.number().min(-120).max(60).optional(),
  sensorC: z.number().min(-120).max(80).optional(),
  gain: z.number().min(0).max(1e6).optional(),
  offset: z.number().min(-1e6).max(1e6).optional(),
  binning: z.int().min(1).max(16).optional(),
  pixelUm: z.number().positive().max(200).optional(),
  focalLengthMm: z.number().positive().max(1e5).optional(),
  focuserPosition: z.number().min(-1e7).max(1e7).optional(),
  focuserC: z.number().min(-90).max(80).optional(),
  rotationDeg: z.number().min(-720).max(720).optional(),
  bayer: z.string().max(8).optional(),
  widthPx: z.int().positive().max(1e6).optional(),
  heightPx: z.int().positive().max(1e6).optional(),
});
export type FrameHeader = z.infer<typeof FrameHeader>;

export const FrameFields = z.strictObject({
  kind: FrameKind,
  /** Null: it belongs to no project (calibration, or nothing matched). */
  projectId: Id.nullable(),
  filter: z.string().trim().max(40),
  exposureS: z.number().min(0).max(86_400),
  startedAt: Instant.nullable(),
  file: z.string().trim().max(255),
  /** SHA-256 of the file's header and size: the same file counts once. Null where there was no file. */
  hash: z
    .string()
    .regex(/^[0-9a-f]{64}$/, '64 hexadecimal digits')
    .nullable(),
  header: FrameHeader,
  accepted: z.boolean(),
  reason: z.string().max(200),
  /** Why it does not count; null for a frame that does, and where nobody said. */
  refusal: RefusalCode.nullable().default(null),
});
export type FrameFields = z.infer<typeof FrameFields>;

export const FrameRecord = z.strictObject({
  id: Id,
  ...FrameFields.shape,
  seq: z.int(),
  measures: z.record(z.string(), z.number()),
  /** What was measured in its picture; null where nobody looked. */
  look: FrameMeasures.nullable(),
  /** A person said whether it counts. */
  judged: z.boolean(),
});
export type FrameRecord = z.infer<typeof FrameRecord>;

/** A night that counts, or was brought in and undone. */
export const NightRecord = z.strictObject({
  id: Id,
  rigId: Id,
  system: SystemKey,
  kind: RunKind,
  night: Day,
  name: z.string(),
  /** What a second camera took beside its lead. */
  beside: z.boolean(),
  planId: Id.nullable(),
  trainStateId: Id,
  words: z.string(),
  by: z.string(),
  at: Instant,
  /** Undone: nothing of it counts. */
  undone: z.boolean(),
  /** Light frames by project, filter and exposure. */
  taken: z.array(
    z.strictObject({
      projectId: Id.nullable(),
      object: z.string(),
      filter: z.string(),
      exposureS: z.number(),
      accepted: z.int(),
      rejected: z.int(),
    }),
  ),
  calibration: z.int(),
});
export type NightRecord = z.infer<typeof NightRecord>;

/** Calibration frames on record, grouped by what decides whether they serve. */
export const CalibrationGroup = z.strictObject({
  kind: FrameKind,
  filter: z.string(),
  exposureS: z.number(),
  gain: z.number().nullable(),
  setPointC: z.number().nullable(),
  binning: z.int(),
  frames: z.int(),
  newest: Day,
  /** Flats: the camera, train and filters still stand as they did. Others do not depend on the train. */
  holds: z.boolean(),
});
export type CalibrationGroup = z.infer<typeof CalibrationGroup>;

/** What the light frames on record still lack. */
export const CalibrationNeeds = z.strictObject({
  missing: z.array(z.union([MissingFlat, MissingDark])),
  /** Of the train as it stands now: taken before anything is turned, or never. */
  urgent: z.array(MissingFlat),
  /** Light frames looked at, and those whose header tells no gain or no temperature. */
  frames: z.int(),
  leftOut: z.int(),
});
export type CalibrationNeeds = z.infer<typeof CalibrationNeeds>;

/** A night in figures, of one system. */
export const NightFigures = z.strictObject({
  night: Day,
  /** Open shutter of frames that count, of refused ones, and of those refused for the sky [s]. */
  countedS: z.number(),
  refusedS: z.number(),
  cloudS: z.number(),
  frames: z.int(),
  first: Instant.nullable(),
  last: Instant.nullable(),
  /** Medians over the measured frames that count. */
  hfdPx: z.number().nullable(),
  eccentricity: z.number().nullable(),
  /** Of the kept guide logs of that night, the mean over their samples [″]. */
  guidingArcsec: z.number().nullable(),
  focusRuns: z.int(),
  /** How far focus moved for a degree, filters apart [steps/°C]; null where the night does not tell. */
  focusStepsPerC: z.number().nullable(),
});
export type NightFigures = z.infer<typeof NightFigures>;

export const nightRoutes = {
  nights: route({
    method: 'get',
    path: '/api/rigs/:id/nights',
    summary: 'Live and recorded nights of a rig, newest first',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: Page,
    body: none,
    response: z.array(NightRecord),
  }),
  recordNight: route({
    method: 'post',
    path: '/api/rigs/:id/nights',
    summary: 'Bring in a night taken elsewhere; a file that is on record already is counted as known, not twice',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      system: SystemKey,
      night: Day,
      name: z.string().trim().min(1, 'must not be empty').max(120),
      frames: z.array(FrameFields).min(1).max(MAX_NIGHT_FRAMES),
    }),
    response: z.strictObject({ night: NightRecord.nullable(), added: z.int(), known: z.int() }),
  }),
  undoNight: route({
    method: 'delete',
    path: '/api/nights/:id',
    summary: 'Undo a night that was brought in: none of its frames counts any more',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  nightFrames: route({
    method: 'get',
    path: '/api/nights/:id/frames',
    summary: 'Every frame of a night with header and measures',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: Page,
    body: none,
    response: z.array(FrameRecord),
  }),
  judgeFrames: route({
    method: 'put',
    path: '/api/nights/:id/frames',
    summary: 'Accept or refuse frames of a night; gives those back',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      frames: z.array(Id).min(1).max(MAX_NIGHT_FRAMES),
      accepted: z.boolean(),
      reason: z.string().max(200).default(''),
      /** Why they are refused; taking a step back gives what was said before. */
      refusal: RefusalCode.nullable().default('by-hand'),
      /** False: nobody’s word after all, a step was taken back. */
      judged: z.boolean().default(true),
    }),
    response: z.array(FrameRecord),
  }),
  keepLooks: route({
    method: 'put',
    path: '/api/nights/:id/looks',
    summary: 'Keep what was measured in pictures of a night’s frames, each with a small picture',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      looks: z
        .array(z.strictObject({ id: Id, look: FrameMeasures, picture: SmallPicture.nullable() }))
        .min(1)
        .max(MOST_LOOKS),
    }),
    response: z.strictObject({ kept: z.int() }),
  }),
  framePictures: route({
    method: 'get',
    path: '/api/nights/:id/pictures',
    summary: 'The small pictures of a night’s frames',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: Page,
    body: none,
    response: z.array(z.strictObject({ id: Id, picture: SmallPicture })),
  }),
  nightFigures: route({
    method: 'get',
    path: '/api/rigs/:id/night-figures',
    summary: 'What each of the last nights of a system brought, in figures, newest first',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: z.strictObject({ system: SystemKey.optional() }),
    body: none,
    response: z.array(NightFigures),
  }),
  judgements: route({
    method: 'get',
    path: '/api/rigs/:id/judgements',
    summary:
      'What people decided over measured frames of a rig’s last nights, and how those compared with their fellows',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: z.strictObject({ system: SystemKey.optional() }),
    body: none,
    response: z.array(Judgement),
  }),
  calibration: route({
    method: 'get',
    path: '/api/rigs/:id/calibration',
    summary: 'Darks, flats and bias frames on record for a rig',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: z.strictObject({ system: SystemKey.optional() }),
    body: none,
    response: z.array(CalibrationGroup),
  }),
  calibrationNeeds: route({
    method: 'get',
    path: '/api/rigs/:id/calibration-needs',
    summary: 'Flats, darks and dark flats that light frames on record still lack',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: z.strictObject({ system: SystemKey.optional() }),
    body: none,
    response: CalibrationNeeds,
  }),
};
