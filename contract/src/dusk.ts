import { z } from 'zod';
import { LogSummary } from '@keen/core/guiding';
import { SystemKey } from '@keen/core/rig';
import { SetupItems } from '@keen/core/setup';
import { byId, Day, Id, Instant, none, Ok, Page, versioned } from './common.ts';
import { route } from './route.ts';

export const SetupTick = z.strictObject({ key: z.string(), by: z.string(), at: Instant });
export const SetupListRecord = z.strictObject({
  rigId: Id,
  items: SetupItems,
  /** The steward made it; otherwise it is the one a rig begins with. */
  own: z.boolean(),
  ticks: z.array(SetupTick),
  ...versioned,
});
export type SetupListRecord = z.infer<typeof SetupListRecord>;

/** Largest guide log kept, in characters: a long night at one second. */
export const MAX_LOG_TEXT = 3_000_000;
export const GuideLogFields = z.strictObject({
  night: Day,
  /** The imaging system it was guided for; none: the rig's first. */
  system: SystemKey.optional(),
  name: z.string().trim().min(1, 'must not be empty').max(120),
  /** What was different from the night before. */
  note: z.string().max(1000).default(''),
  /** When its first sample was taken: with it the frames of the night know how they were guided. */
  beganAt: Instant.nullable().default(null),
  imagingScaleArcsecPerPx: z.number().positive().max(1e5).optional(),
  /** Own columns, as the export writes them. */
  csv: z.string().min(1).max(MAX_LOG_TEXT),
});
export type GuideLogFields = z.infer<typeof GuideLogFields>;

export const GuideLogRecord = z.strictObject({
  id: Id,
  rigId: Id,
  system: SystemKey,
  trainStateId: Id,
  words: z.string(),
  /** The guider as it was: another name, another guider, and their logs are not alike. */
  guider: z.string().nullable(),
  /** Taken with the guider as it stands now. */
  holds: z.boolean(),
  night: Day,
  name: z.string(),
  note: z.string(),
  beganAt: Instant.nullable(),
  by: z.string(),
  at: Instant,
  summary: LogSummary,
});
export type GuideLogRecord = z.infer<typeof GuideLogRecord>;

const key = z.string().min(1).max(60);
export const duskRoutes = {
  setupList: route({
    method: 'get',
    path: '/api/rigs/:id/setup-list',
    summary: 'The set-up list of a rig with a night’s ticks',
    area: 'Dusk',
    role: 'guest',
    params: byId,
    query: z.strictObject({ night: Day }),
    body: none,
    response: SetupListRecord,
  }),
  changeSetupList: route({
    method: 'put',
    path: '/api/rigs/:id/setup-list',
    summary: 'Make the club’s own list for a rig',
    area: 'Dusk',
    role: 'steward',
    params: byId,
    query: z.strictObject({ night: Day }),
    body: z.strictObject({
      items: SetupItems,
      version: z
        .int()
        .min(0)
        .max(1e9)
        .meta({ description: 'Version the change is based on; 0 for the list a rig begins with' }),
    }),
    response: SetupListRecord,
  }),
  tickSetup: route({
    method: 'post',
    path: '/api/rigs/:id/setup-ticks',
    summary: 'Tick a step of a night, or take the tick back',
    area: 'Dusk',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ night: Day, key, done: z.boolean() }),
    response: SetupListRecord,
  }),
  guideLogs: route({
    method: 'get',
    path: '/api/rigs/:id/guide-logs',
    summary: 'Kept guide logs of a rig, newest night first, without their samples',
    area: 'Guiding',
    role: 'guest',
    params: byId,
    query: Page,
    body: none,
    response: z.array(GuideLogRecord),
  }),
  guideLog: route({
    method: 'get',
    path: '/api/guide-logs/:id',
    summary: 'One kept guide log as CSV',
    area: 'Guiding',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: z.strictObject({ log: GuideLogRecord, csv: z.string() }),
  }),
  keepGuideLog: route({
    method: 'post',
    path: '/api/rigs/:id/guide-logs',
    summary: 'Keep a guide log; the figures are worked out again here',
    area: 'Guiding',
    role: 'member',
    params: byId,
    query: none,
    body: GuideLogFields,
    response: GuideLogRecord,
  }),
  timeGuideLog: route({
    method: 'put',
    path: '/api/guide-logs/:id/began',
    summary: 'Say when a kept guide log began',
    area: 'Guiding',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ beganAt: Instant.nullable() }),
    response: GuideLogRecord,
  }),
  dropGuideLog: route({
    method: 'delete',
    path: '/api/guide-logs/:id',
    summary: 'Put a kept guide log away',
    area: 'Guiding',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
};
