import { z } from 'zod';
import { Forecast } from '@keen/core/observatory';
import { byId, Day, none } from './common.ts';
import { route } from './route.ts';

export { Forecast };

/** What a site's own recorded nights say of its sky; null where there are too few. */
export const ClearSpellsLearnt = z.strictObject({
  nights: z.int(),
  clearMeanMin: z.number().positive(),
  cloudMeanMin: z.number().positive(),
  clearEnds: z.int(),
  cloudEnds: z.int(),
});

export type ClearSpellsLearnt = z.infer<typeof ClearSpellsLearnt>;

export const weatherRoutes = {
  forecast: route({
    method: 'get',
    path: '/api/sites/:id/forecast',
    summary: 'Cloud, air, wind and damp hour by hour for a night, with who says so',
    area: 'Sites',
    role: 'watcher',
    params: byId,
    query: z.strictObject({ night: Day }),
    body: none,
    response: Forecast,
  }),
  clearSpells: route({
    method: 'get',
    path: '/api/sites/:id/clear-spells',
    summary: 'Mean clear and cloudy spells as the site’s recorded nights gave them',
    area: 'Sites',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: ClearSpellsLearnt.nullable(),
  }),
};
