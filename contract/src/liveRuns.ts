import { FAULTS } from '@keen/core/observatory';
import { COMMANDS, DebriefSchema, HappenedSchema } from '@keen/core/run';
import { SystemKey } from '@keen/core/rig';
import { z } from 'zod';
import { byId, Day, Id, Instant, none, Page } from './common.ts';
import { route } from './route.ts';

export const LiveState = z.enum(['running', 'ended', 'failed']);
/** How many times as fast as the world a run goes on stand-ins. */
export const Speed = z.number().min(1).max(600).meta({ description: 'Times as fast as the world' });
export const SPEEDS = [1, 10, 60, 240, 600] as const;

/** A run that goes on, or went on, on the server. */
export const LiveRun = z.strictObject({
  id: Id,
  planId: Id,
  rigId: Id,
  rig: z.string(),
  system: SystemKey,
  night: Day,
  objects: z.string(),
  state: LiveState,
  speed: z.number().positive().meta({ description: 'Times as fast as the world' }),
  /** The name of the equipment it is driven on; empty: stand-ins. */
  bridge: z.string(),
  by: z.string(),
  begunAt: Instant,
  endedAt: Instant.nullable(),
  /** Who is at the controls; null: nobody. */
  holderId: Id.nullable(),
  holder: z.string(),
  /** Who asks for them. */
  askedById: Id.nullable(),
  askedBy: z.string(),
  /** Events there are, and the moment of the last one. */
  events: z.int().min(0),
  at: Instant,
  frames: z.int().min(0),
  /** A server drives it at this moment; where none does another takes it over. */
  driven: z.boolean(),
  /** How often a server took it over from another. */
  takenOver: z.int().min(0),
  /** What came of it, once it has ended. */
  runId: Id.nullable(),
  problem: z.string(),
  /** What came of what was put in; null: nothing was, or it goes on. */
  debrief: DebriefSchema.nullable(),
});
export type LiveRun = z.infer<typeof LiveRun>;

/** An event and its number. */
export const NumberedEvent = z.strictObject({ seq: z.int().min(1), event: HappenedSchema });
export type NumberedEvent = z.infer<typeof NumberedEvent>;

/** Events sent at a time. */
export const MOST_EVENTS = 1000;
const After = z.strictObject({ after: z.coerce.number().int().min(0).max(1e9).default(0) });

/** A fault is put on the stand-ins within so long [min] of the night. */
export const MOST_WITHIN_MIN = 120;

/** A frame of a run, as it is kept on the server. */
export const KeptFrame = z.strictObject({
  n: z.int().min(0),
  /** Of the second camera, which counts its own. */
  second: z.boolean(),
  start: Instant,
  filter: z.string(),
  /** It is there, or why it is not. */
  kept: z.boolean(),
  problem: z.string(),
  bytes: z.int().min(0),
  /** As measured on the file; null where it is not there, or nothing could be measured. */
  stars: z.int().min(0).nullable(),
  hfdPx: z.number().nullable(),
  eccentricity: z.number().nullable(),
});
export type KeptFrame = z.infer<typeof KeptFrame>;
export const KeptFrames = z.strictObject({
  /** For so long [days]; null: this server keeps none. */
  days: z.int().min(1).nullable(),
  frames: z.array(KeptFrame),
});
export type KeptFrames = z.infer<typeof KeptFrames>;
const ofFrame = byId.extend({ n: z.coerce.number().int().min(0).max(100_000) });
const ofCamera = z.strictObject({
  second: z.enum(['true', 'false']).default('false').meta({ description: 'Of the second camera' }),
});

export const liveRunRoutes = {
  startRun: route({
    method: 'post',
    path: '/api/plans/:id/live-runs',
    summary: 'Begin to run a plan on the stand-ins, driven by the server; one a rig at a time',
    area: 'Live runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      speed: Speed.default(60),
      seed: z.int().min(1).max(2147483647),
      bridge: z
        .string()
        .max(60)
        .default('')
        .meta({ description: 'Equipment elsewhere, by its name; empty: stand-ins' }),
      wholeFrames: z
        .boolean()
        .default(false)
        .meta({ description: 'Frames are kept as large as the sensor, not their middle alone' }),
    }),
    response: LiveRun,
  }),
  bridges: route({
    method: 'get',
    path: '/api/bridges',
    summary: 'Equipment elsewhere that this server knows, by name',
    area: 'Live runs',
    role: 'watcher',
    params: none,
    query: none,
    body: none,
    response: z.array(z.string()),
  }),
  liveRuns: route({
    method: 'get',
    path: '/api/live-runs',
    summary: 'Runs the server drives or drove, newest first',
    area: 'Live runs',
    role: 'watcher',
    params: none,
    query: Page,
    body: none,
    response: z.array(LiveRun),
  }),
  liveRun: route({
    method: 'get',
    path: '/api/live-runs/:id',
    summary: 'One of them: how far it is, and who is at the controls',
    area: 'Live runs',
    role: 'watcher',
    params: byId,
    query: none,
    body: none,
    response: LiveRun,
  }),
  liveRunEvents: route({
    method: 'get',
    path: '/api/live-runs/:id/events',
    summary: 'What happened in it after a number, in order; everything else follows from that',
    area: 'Live runs',
    role: 'watcher',
    params: byId,
    query: After,
    body: none,
    response: z.strictObject({ events: z.array(NumberedEvent), more: z.boolean() }),
  }),
  liveRunStream: route({
    method: 'get',
    path: '/api/live-runs/:id/stream',
    summary:
      'The same as server-sent events (happened, beat), each with its number as id; Last-Event-ID or after= says where to go on',
    area: 'Live runs',
    role: 'watcher',
    stream: true,
    params: byId,
    query: After,
    body: none,
    response: NumberedEvent,
  }),
  liveRunFrames: route({
    method: 'get',
    path: '/api/live-runs/:id/frames',
    summary: 'Its frames as they are kept on the server, measured as they came',
    area: 'Live runs',
    role: 'watcher',
    params: byId,
    query: none,
    body: none,
    response: KeptFrames,
  }),
  liveRunPicture: route({
    method: 'get',
    path: '/api/live-runs/:id/frames/:n/picture',
    summary: 'One of them, small: tones as base64, the first row the top one',
    area: 'Live runs',
    role: 'watcher',
    params: ofFrame,
    query: ofCamera,
    body: none,
    response: z.strictObject({ widthPx: z.int(), heightPx: z.int(), tones: z.string() }),
  }),
  liveRunFile: route({
    method: 'get',
    path: '/api/live-runs/:id/frames/:n/file',
    summary: 'One of them as FITS',
    area: 'Live runs',
    role: 'watcher',
    file: 'application/fits',
    params: ofFrame,
    query: ofCamera,
    body: none,
    response: z.string().meta({ format: 'binary' }),
  }),
  commandRun: route({
    method: 'post',
    path: '/api/live-runs/:id/commands',
    summary: 'Ask for something at the controls: pause, resume, skip, a focus run, centring, guiding anew, stop',
    area: 'Live runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ code: z.enum(COMMANDS) }),
    response: LiveRun,
  }),
  setRunSpeed: route({
    method: 'put',
    path: '/api/live-runs/:id/speed',
    summary: 'How fast its time passes; at the controls',
    area: 'Live runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ speed: Speed }),
    response: LiveRun,
  }),
  runControls: route({
    method: 'post',
    path: '/api/live-runs/:id/controls',
    summary:
      'Who is at the controls: ask for them, give them to whoever asked, let them go, take them where nobody has them or as a steward',
    area: 'Live runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ do: z.enum(['ask', 'give', 'leave', 'take']) }),
    response: LiveRun,
  }),
  throwFault: route({
    method: 'post',
    path: '/api/live-runs/:id/faults',
    summary: 'Put a fault on the stand-ins of a run that goes on, at a drawn moment within some minutes of its night',
    area: 'Live runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      fault: z.enum(FAULTS).nullable().meta({ description: 'Left open: one is drawn' }),
      withinMin: z.int().min(0).max(MOST_WITHIN_MIN),
    }),
    response: LiveRun,
  }),
};
