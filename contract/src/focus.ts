import { z } from 'zod';
import { DriftModel } from '@keen/core/focus';
import { byId, Id, Instant, none, Ok, paged } from './common.ts';
import { route } from './route.ts';

export const FocusRunFields = z.strictObject({
  filter: z.string().trim().min(1).max(40),
  position: z.number().min(-1e7).max(1e7),
  hfd: z.number().positive().max(500).nullable(),
  error: z.number().min(0).max(1e7).nullable(),
  temperatureC: z.number().min(-90).max(70).nullable(),
  time: Instant.nullable(),
  points: z
    .array(z.strictObject({ position: z.number().min(-1e7).max(1e7), hfd: z.number().positive().max(1e4) }))
    .max(200),
  usable: z.boolean(),
  reason: z.string().max(500),
});
export type FocusRunFields = z.infer<typeof FocusRunFields>;

export const FocusRunRecord = z.strictObject({
  id: Id,
  trainStateId: Id,
  ...FocusRunFields.shape,
  source: z.enum(['typed', 'file', 'run']),
  excluded: z.boolean(),
  by: z.string(),
});
export type FocusRunRecord = z.infer<typeof FocusRunRecord>;

/** `interval95` is half the 95 % interval; sets adopted before it was told lack it. */
const OffsetOfFilter = z.strictObject({
  steps: z.number().min(-1e7).max(1e7),
  error: z.number().min(0).max(1e7),
  interval95: z.number().min(0).max(1e9).optional(),
  runs: z.int().min(0).max(1e6),
});
export const OffsetSetFields = z.strictObject({
  trainStateId: Id,
  reference: z.string().min(1).max(40),
  model: DriftModel,
  offsets: z.record(z.string().min(1).max(40), OffsetOfFilter),
  temperatureStepsPerC: z.number().min(-1e6).max(1e6).nullable(),
  zoneSteps: z.number().positive().max(1e6).nullable(),
  runCount: z.int().min(1).max(1e6),
});
export type OffsetSetFields = z.infer<typeof OffsetSetFields>;
export const OffsetSetRecord = z.strictObject({ id: Id, ...OffsetSetFields.shape, adoptedAt: Instant, by: z.string() });
export type OffsetSetRecord = z.infer<typeof OffsetSetRecord>;

const ofState = z.strictObject({ trainStateId: Id });

export const focusRoutes = {
  focusRuns: route({
    method: 'get',
    path: '/api/focus-runs',
    summary: 'Focus runs that hold for a train state, whatever else differs, oldest first',
    area: 'Focus',
    role: 'guest',
    params: none,
    query: z.strictObject({ ...ofState.shape, ...paged }),
    body: none,
    response: z.array(FocusRunRecord),
  }),
  addFocusRuns: route({
    method: 'post',
    path: '/api/focus-runs',
    summary: 'Store focus runs; ones already there (same filter, time and position) are counted, not doubled',
    area: 'Focus',
    role: 'member',
    params: none,
    query: none,
    body: z.strictObject({
      trainStateId: Id,
      source: z.enum(['typed', 'file']),
      runs: z.array(FocusRunFields).min(1).max(2000),
    }),
    response: z.strictObject({ added: z.int(), known: z.int() }),
  }),
  excludeFocusRun: route({
    method: 'put',
    path: '/api/focus-runs/:id',
    summary: 'Leave a run out of the offsets, or take it in again',
    area: 'Focus',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ excluded: z.boolean() }),
    response: Ok,
  }),
  offsetSets: route({
    method: 'get',
    path: '/api/offset-sets',
    summary: 'Offsets that hold for a train state, newest first',
    area: 'Focus',
    role: 'watcher',
    params: none,
    query: ofState,
    body: none,
    response: z.array(OffsetSetRecord),
  }),
  adoptOffsets: route({
    method: 'post',
    path: '/api/offset-sets',
    summary: 'Adopt offsets for a train state',
    area: 'Focus',
    role: 'member',
    params: none,
    query: none,
    body: OffsetSetFields,
    response: OffsetSetRecord,
  }),
};
