import { ClearSpells, MOST_NIGHTS, Order } from '@keen/core/sequence';
import { z } from 'zod';
import { Id, none } from './common.ts';
import { JobRecord } from './jobs.ts';
import { PlanFields } from './plans.ts';
import { route } from './route.ts';

/** A plan, saved or not, one of whose legs is asked about. */
export const RiskQuestion = z.strictObject({
  plan: PlanFields,
  /** Under which it is saved; null: it is not yet. */
  planId: Id.nullable().default(null),
  legIndex: z.int().min(0).max(1000),
  weather: ClearSpells,
  nights: z.int().min(1).max(MOST_NIGHTS).default(2000),
  seed: z
    .int()
    .min(0)
    .max(2 ** 32 - 1)
    .default(1),
  orders: z
    .array(Order)
    .min(1)
    .max(3)
    .refine((o) => new Set(o).size === o.length, 'names an order twice')
    .default(['rolling', 'block', 'lagging']),
});
export type RiskQuestion = z.infer<typeof RiskQuestion>;

export const riskRoutes = {
  playRisk: route({
    method: 'post',
    path: '/api/jobs/risk',
    summary: 'Play a laid-out night under many drawn skies, as a job',
    area: 'Jobs',
    role: 'guest',
    params: none,
    query: none,
    body: RiskQuestion,
    response: JobRecord,
  }),
};
