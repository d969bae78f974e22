import { z } from 'zod';
import { FrameKind } from '@keen/core/exchange';
import { SystemKey } from '@keen/core/rig';
import { byId, Day, Id, none, Ok } from './common.ts';
import { route } from './route.ts';

/** A master: many calibration frames made one, with what decides which frames it serves. */
export const MasterFields = z.strictObject({
  system: SystemKey,
  kind: FrameKind.exclude(['light']),
  filter: z.string().trim().max(40).default(''),
  exposureS: z.number().min(0).max(86_400),
  gain: z.number().min(0).max(1e6).nullable().default(null),
  setPointC: z.number().min(-120).max(60).nullable().default(null),
  binning: z.int().min(1).max(16).default(1),
  /** Camera angle, for flats. */
  angleDeg: z.number().min(-720).max(720).nullable().default(null),
  frames: z.int().min(1).max(100_000),
  madeOn: Day,
  file: z.string().trim().max(255).default(''),
  note: z.string().trim().max(500).default(''),
});
export type MasterFields = z.infer<typeof MasterFields>;
export const MasterRecord = z.strictObject({
  id: Id,
  ...MasterFields.shape,
  rigId: Id,
  words: z.string(),
  /** Flats: camera, train and filters still stand as they did. Others do not depend on them. */
  holds: z.boolean(),
  by: z.string(),
  byId: Id,
});
export type MasterRecord = z.infer<typeof MasterRecord>;

export const masterRoutes = {
  masters: route({
    method: 'get',
    path: '/api/rigs/:id/masters',
    summary: 'Masters of a system of a rig and whether they still hold, newest first',
    area: 'Nights',
    role: 'guest',
    params: byId,
    query: z.strictObject({ system: SystemKey.optional() }),
    body: none,
    response: z.array(MasterRecord),
  }),
  addMaster: route({
    method: 'post',
    path: '/api/rigs/:id/masters',
    summary: 'Put a master on record, for the train as it stands',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: MasterFields,
    response: MasterRecord,
  }),
  dropMaster: route({
    method: 'delete',
    path: '/api/masters/:id',
    summary: 'Put a master away',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  restoreMaster: route({
    method: 'post',
    path: '/api/masters/:id/restore',
    summary: 'Bring a master back',
    area: 'Nights',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
};
