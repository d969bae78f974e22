import { z } from 'zod';
import { DrillAnswer, SITUATION_KEYS } from '@keen/core/drills';
import { Instant, none } from './common.ts';
import { route } from './route.ts';

const count = z.int().min(0);
/** How somebody stands with one situation. */
export const DrillStanding = z.strictObject({
  situation: z.enum(SITUATION_KEYS),
  tries: count,
  causeRight: count,
  cureRight: count,
  /** Right both ways, the latest first, five at most. */
  latest: z.array(z.boolean()),
  at: Instant,
});
export type DrillStanding = z.infer<typeof DrillStanding>;
/** How a club's people stand with one situation together; nobody is named. */
export const WeakSpot = z.strictObject({
  situation: z.enum(SITUATION_KEYS),
  people: count,
  tries: count,
  causeRight: count,
  cureRight: count,
});
export type WeakSpot = z.infer<typeof WeakSpot>;

export const drillRoutes = {
  drills: route({
    method: 'get',
    path: '/api/drills',
    summary: 'How one stands with each situation oneself',
    area: 'Drills',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(DrillStanding),
  }),
  answerDrill: route({
    method: 'post',
    path: '/api/drills',
    summary: 'Answer a drill; the first answer to a situation and seed counts',
    area: 'Drills',
    role: 'member',
    params: none,
    query: none,
    body: DrillAnswer,
    response: z.strictObject({ causeRight: z.boolean(), cureRight: z.boolean(), standing: DrillStanding }),
  }),
  weakSpots: route({
    method: 'get',
    path: '/api/drills/weak-spots',
    summary: 'What the people of the club miss, situation by situation',
    area: 'Drills',
    role: 'steward',
    params: none,
    query: none,
    body: none,
    response: z.array(WeakSpot),
  }),
};
