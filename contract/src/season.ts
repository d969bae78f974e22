import { BoardSettings, Given, MOST } from '@keen/core/season';
import { z } from 'zod';
import { Id, none } from './common.ts';
import { JobRecord } from './jobs.ts';
import { route } from './route.ts';

const GivenSlot = Given.extend({ slot: z.string().max(100), project: Id });
/** Rigs of one board, and slots locked on it, at most. */
const MOST_RIGS = 10;
const MOST_LOCKS = 500;
const MOST_WEIGHTS = 500;

/** The coming nights of some rigs, to be given out. */
export const BoardQuestion = z.strictObject({
  ...BoardSettings.shape,
  /** Null: no shares; left out: by the club’s rule. */
  fairDays: BoardSettings.shape.fairDays.unwrap().optional(),
  rigIds: z
    .array(Id)
    .min(1)
    .max(MOST_RIGS)
    .refine((ids) => new Set(ids).size === ids.length, 'names a rig twice'),
  /** What a minute is worth, by project; 1 where nothing is said, 0 leaves it out. */
  weights: z
    .record(Id, z.number().min(0).max(100))
    .refine((w) => Object.keys(w).length <= MOST_WEIGHTS, `names more than ${MOST_WEIGHTS} projects`)
    .default({}),
  /** Hours that somebody has in any case. */
  locked: z.array(GivenSlot).max(MOST_LOCKS).default([]),
  /** Hours that the rules gave before, and that nobody planned yet, are open again. */
  movesPromises: z.boolean().default(false),
  /** What stood before a wish: only what must change for it does. */
  standing: z.array(GivenSlot).max(MOST.slots).default([]),
});
export type BoardQuestion = z.infer<typeof BoardQuestion>;
export { Board, type BoardProject } from '@keen/core/season';

export const seasonRoutes = {
  workOutBoard: route({
    method: 'post',
    path: '/api/jobs/board',
    summary: 'Work out who has which hours of the coming nights, as a job',
    area: 'Jobs',
    role: 'guest',
    params: none,
    query: none,
    body: BoardQuestion,
    response: JobRecord,
  }),
};
