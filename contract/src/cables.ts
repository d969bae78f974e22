import { z } from 'zod';
import { CableSheet } from '@keen/core/cables';
import { byId, Id, none, versioned } from './common.ts';
import { route } from './route.ts';

export const CablesRecord = z.strictObject({
  rigId: Id,
  sheet: CableSheet,
  /** Somebody kept it; otherwise it is what such a rig usually has. */
  kept: z.boolean(),
  ...versioned,
});
export type CablesRecord = z.infer<typeof CablesRecord>;

export const cableRoutes = {
  cables: route({
    method: 'get',
    path: '/api/rigs/:id/cables',
    summary: 'A rig’s cables: hubs, devices, supply, bundle',
    area: 'Rigs',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: CablesRecord,
  }),
  keepCables: route({
    method: 'put',
    path: '/api/rigs/:id/cables',
    summary: 'Keep them for everybody who uses the rig',
    area: 'Rigs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({
      sheet: CableSheet,
      version: z
        .int()
        .min(0)
        .max(1e9)
        .meta({ description: 'Version the change is based on; 0 while nothing was kept' }),
    }),
    response: CablesRecord,
  }),
};
