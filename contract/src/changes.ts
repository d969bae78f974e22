import { z } from 'zod';
import { Id, Instant, none, Page } from './common.ts';
import { route } from './route.ts';

export const ChangeRecord = z.strictObject({
  id: Id,
  at: Instant,
  by: z.string(),
  subject: z.string(),
  text: z.string(),
});
export type ChangeRecord = z.infer<typeof ChangeRecord>;

export const changeRoutes = {
  changes: route({
    method: 'get',
    path: '/api/changes',
    summary: 'Who changed what, newest first',
    area: 'Club',
    role: 'guest',
    params: none,
    query: Page,
    body: none,
    response: z.array(ChangeRecord),
  }),
};
