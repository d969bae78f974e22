import { z } from 'zod';
import { Day, Id, Instant, none } from './common.ts';
import { JobRecord } from './jobs.ts';
import { route } from './route.ts';

/** Kinds of records of which it is told that somebody changed them. */
export const CHANGED = [
  'plans',
  'bookings',
  'projects',
  'nights',
  'rigs',
  'parts',
  'sites',
  'members',
  'focus',
  'masters',
  'guide-logs',
  'logbook',
  'upkeep',
  'settings',
  'set-up',
  'live-runs',
] as const;
export type Changed = (typeof CHANGED)[number];

/** What happened, as a page is told it: the number says after what it comes. */
export const ClubEvent = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('changed'),
    seq: z.int(),
    at: Instant,
    what: z.enum(CHANGED),
    byId: Id,
    by: z.string(),
    rigId: Id.nullable(),
    night: Day.nullable(),
  }),
  z.strictObject({ kind: z.literal('job'), seq: z.int(), at: Instant, job: JobRecord }),
]);
export type ClubEvent = z.infer<typeof ClubEvent>;

const After = z.coerce.number().int().min(0).max(1e15);

export const eventRoutes = {
  events: route({
    method: 'get',
    path: '/api/events',
    summary: 'What happened in the club after a number, for where a stream does not come through',
    area: 'Events',
    role: 'watcher',
    params: none,
    query: z.strictObject({ after: After.optional() }),
    body: none,
    response: z.strictObject({
      events: z.array(ClubEvent),
      /** Ask after this next time. */
      last: z.int(),
      /** What was asked after is not kept any more: read everything anew. */
      forgotten: z.boolean(),
    }),
  }),
  eventStream: route({
    method: 'get',
    path: '/api/events/stream',
    summary:
      'The same as server-sent events (happened, forgotten, beat), each with its number as id; Last-Event-ID or after=, whichever is later, says where to go on',
    area: 'Events',
    role: 'watcher',
    stream: true,
    params: none,
    query: z.strictObject({ after: After.optional() }),
    body: none,
    response: ClubEvent,
  }),
};
