import { z } from 'zod';
import { ASPECTS, SystemKey } from '@keen/core/rig';
import { byId, Day, Id, none, Ok, paged, versioned } from './common.ts';
import { route } from './route.ts';

const prose = z.string().trim().max(2000);
/** Something that went wrong: what was seen, what it was, what cured it. */
export const LogFields = z.strictObject({
  rigId: Id,
  /** What of the rig it touches; null: something else. */
  aspect: z.enum(ASPECTS).nullable().default(null),
  night: Day.nullable().default(null),
  problem: prose.min(1, 'say what was seen'),
  cause: prose.default(''),
  cure: prose.default(''),
  /** The finding that showed it, by its code. */
  finding: z
    .string()
    .max(60)
    .regex(/^[a-z-]*$/, 'the code of a finding, such as prism-shadow')
    .default(''),
  /** What it keeps from work until it is cured; null: nothing. */
  stops: z
    .strictObject({
      /** Null: the whole rig. */
      system: SystemKey.nullable(),
      /** The last night of it, as far as is known; null: until it is cured. */
      until: Day.nullable(),
    })
    .nullable()
    .default(null),
});
export type LogFields = z.infer<typeof LogFields>;

export const LogRecord = z.strictObject({
  id: Id,
  ...LogFields.shape,
  rig: z.string(),
  by: z.string(),
  byId: Id,
  ...versioned,
});
export type LogRecord = z.infer<typeof LogRecord>;

export const logbookRoutes = {
  logbook: route({
    method: 'get',
    path: '/api/log',
    summary: 'The logbook, newest first; entries that hold every word asked for',
    area: 'Logbook',
    role: 'guest',
    params: none,
    query: z.strictObject({ ...paged, rig: Id.optional(), find: z.string().max(200).default('') }),
    body: none,
    response: z.array(LogRecord),
  }),
  stops: route({
    method: 'get',
    path: '/api/log/stops',
    summary: 'Faults that are not cured and keep a rig, or a system of it, from work',
    area: 'Logbook',
    role: 'watcher',
    params: none,
    query: none,
    body: none,
    response: z.array(LogRecord),
  }),
  addLog: route({
    method: 'post',
    path: '/api/log',
    summary: 'Write an entry',
    area: 'Logbook',
    role: 'member',
    params: none,
    query: none,
    body: LogFields,
    response: LogRecord,
  }),
  changeLog: route({
    method: 'put',
    path: '/api/log/:id',
    summary: 'Change an entry: its writer or a steward',
    area: 'Logbook',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ ...LogFields.shape, version: z.int().min(0).max(1e9) }),
    response: LogRecord,
  }),
  dropLog: route({
    method: 'delete',
    path: '/api/log/:id',
    summary: 'Put an entry away',
    area: 'Logbook',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  restoreLog: route({
    method: 'post',
    path: '/api/log/:id/restore',
    summary: 'Bring an entry back',
    area: 'Logbook',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: LogRecord,
  }),
};
