import { Board } from '@keen/core/season';
import { RiskOutput } from '@keen/core/sequence';
import { z } from 'zod';
import { byId, Id, Instant, none, Ok, Page, Problem, SaidPhrase } from './common.ts';
import { route } from './route.ts';

/** Work that outlives the request that asked for it. */
export const JOB_KINDS = ['rehearsal', 'risk', 'board'] as const;
export const JobKind = z.enum(JOB_KINDS);
export type JobKind = z.infer<typeof JobKind>;
export const JobState = z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']);
export type JobState = z.infer<typeof JobState>;

/** Jobs of one member that may wait or run at a time. */
export const MOST_JOBS = 20;

export const JobRecord = z.strictObject({
  id: Id,
  kind: JobKind,
  /** The plan it is about; null: none. */
  subjectId: Id.nullable(),
  state: JobState,
  share: z.number().min(0).max(1).meta({ description: 'Share that is done' }),
  /** What it is at. */
  stage: SaidPhrase.nullable(),
  /** How often it was begun: more than once where a server ended under it. */
  attempts: z.int(),
  cancelRequested: z.boolean(),
  /** Why it failed. */
  problem: Problem.nullable(),
  byId: Id,
  madeAt: Instant,
  begunAt: Instant.nullable(),
  endedAt: Instant.nullable(),
});
export type JobRecord = z.infer<typeof JobRecord>;

/** What came of a job that is done. */
export const JobResult = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('rehearsal'), runId: Id }),
  z.strictObject({ kind: z.literal('risk'), risk: RiskOutput }),
  z.strictObject({ kind: z.literal('board'), board: Board }),
]);
export type JobResult = z.infer<typeof JobResult>;
export const JobWithResult = z.strictObject({ ...JobRecord.shape, result: JobResult.nullable() });
export type JobWithResult = z.infer<typeof JobWithResult>;

export const jobRoutes = {
  jobs: route({
    method: 'get',
    path: '/api/jobs',
    summary: 'One’s own jobs, newest first',
    area: 'Jobs',
    role: 'watcher',
    params: none,
    query: Page,
    body: none,
    response: z.array(JobRecord),
  }),
  job: route({
    method: 'get',
    path: '/api/jobs/:id',
    summary: 'One of one’s own jobs, with what came of it',
    area: 'Jobs',
    role: 'watcher',
    params: byId,
    query: none,
    body: none,
    response: JobWithResult,
  }),
  cancelJob: route({
    method: 'delete',
    path: '/api/jobs/:id',
    summary: 'Cancel a job: one that waits ends at once, one that runs within a second',
    area: 'Jobs',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
};
