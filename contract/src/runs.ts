import { RUN_KINDS } from '@keen/core/record';
import { z } from 'zod';
import { SystemKey } from '@keen/core/rig';
import { RunResult, FAULTS } from '@keen/core/observatory';
import { byId, Day, Id, Instant, none, Page } from './common.ts';
import { JobRecord } from './jobs.ts';
import { route } from './route.ts';

export const RunState = z.enum(['rehearsed', 'accepted', 'discarded']);
/** Rehearsed: on stand-ins, never counts. Live: by the conductor. Recorded: taken elsewhere and brought in. */
export const RunKind = z.enum(RUN_KINDS);
export type RunKind = z.infer<typeof RunKind>;

export const RunRecord = z.strictObject({
  id: Id,
  kind: RunKind,
  planId: Id,
  /** Of the plan’s legs, in their order. */
  legs: z.array(z.strictObject({ projectId: Id, projectName: z.string(), object: z.string() })),
  rigId: Id,
  system: SystemKey,
  trainStateId: Id,
  words: z.string(),
  night: Day,
  seed: z.int(),
  state: RunState,
  at: Instant,
  by: z.string(),
  offsetsUsed: z.boolean(),
  planVersion: z.int(),
  result: RunResult,
});
export type RunRecord = z.infer<typeof RunRecord>;

/** Faults of one rehearsal at most. */
export const MOST_FAULTS = 5;

export const runRoutes = {
  rehearse: route({
    method: 'post',
    path: '/api/plans/:id/rehearsals',
    summary: 'Run a plan in virtual time on the stand-ins, as a job; the same seed gives the same night',
    area: 'Runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      seed: z.int().min(1).max(2147483647),
      /** What is to go wrong in it, beside what does by itself; when each comes is drawn from the seed. */
      faults: z
        .array(z.enum(FAULTS))
        .max(MOST_FAULTS)
        .refine((f) => new Set(f).size === f.length, 'names a fault twice')
        .default([]),
    }),
    response: JobRecord,
  }),
  runs: route({
    method: 'get',
    path: '/api/runs',
    summary: 'Runs, newest first, without their events',
    area: 'Runs',
    role: 'watcher',
    params: none,
    query: Page,
    body: none,
    response: z.array(RunRecord.omit({ result: true })),
  }),
  run: route({
    method: 'get',
    path: '/api/runs/:id',
    summary: 'One run with its events, frames and focus runs',
    area: 'Runs',
    role: 'watcher',
    params: byId,
    query: none,
    body: none,
    response: RunRecord,
  }),
  acceptRun: route({
    method: 'post',
    path: '/api/runs/:id/accept',
    summary: 'Count a practice rig’s run as its night: good frames and focus runs are kept; once a plan',
    area: 'Runs',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: RunRecord,
  }),
};
