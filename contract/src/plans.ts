import { RunState } from './runs.ts';
import { z } from 'zod';
import { SystemKey } from '@keen/core/rig';
import { Closing, Leg, legList, Opening, PlanField, PlanLock, PlanLocks, Watches } from '@keen/core/sequence';
import { AspectNames } from './rigs.ts';
import { byId, Day, Id, Instant, none, Ok, paged, versioned, version } from './common.ts';
import { route } from './route.ts';

/** A leg as it is saved: its target is a project of the rig. */
export const PlanLeg = Leg.extend({ projectId: Id });
export type PlanLeg = z.infer<typeof PlanLeg>;

export const PlanFields = z.strictObject({
  rigId: Id,
  night: Day,
  opening: Opening,
  legs: legList(PlanLeg),
  closing: Closing,
  watches: Watches.prefault({}),
  /** All of it is closed to members. */
  locked: z.boolean().default(false),
  /** Single fields closed to members, by a steward; of anybody else what is sent here is not looked at. */
  locks: PlanLocks,
});
export type PlanFields = z.infer<typeof PlanFields>;
/** As it may be sent: what has a usual value may be left out. */
export type PlanSent = z.input<typeof PlanFields>;

/** A leg with its hours of this night, as they were when the plan was saved. */
export const PlanLegRecord = z.strictObject({
  ...PlanLeg.shape,
  projectName: z.string(),
  object: z.string(),
  /** Null: it has no hours this night. */
  start: Instant.nullable(),
  end: Instant.nullable(),
  flipAt: Instant.nullable(),
});
export type PlanLegRecord = z.infer<typeof PlanLegRecord>;

export const PlanRecord = z.strictObject({
  id: Id,
  ...PlanFields.shape,
  legs: z.array(PlanLegRecord).min(1),
  locks: z.array(PlanLock.extend({ by: z.string() })),
  /** The protected plan it was made from, and in what it is no longer like it. */
  madeFrom: z.strictObject({ planId: Id, owner: z.string(), night: Day, changed: z.array(PlanField) }).nullable(),
  /** From the first step of the opening to the last of the closing: for so long the rig is taken. */
  start: Instant,
  end: Instant,
  status: z.enum(['planned', 'done', 'cancelled']),
  owner: z.string(),
  ownerId: Id,
  runs: z.array(z.strictObject({ id: Id, state: RunState, at: Instant })),
  system: SystemKey,
  /** What it was made for; null for plans from before this was kept. */
  madeFor: z.strictObject({ aspects: AspectNames, offsetSetId: Id.nullable(), revision: z.int() }).nullable(),
  ...versioned,
});
export type PlanRecord = z.infer<typeof PlanRecord>;

export const planRoutes = {
  plans: route({
    method: 'get',
    path: '/api/plans',
    summary: 'Plans of a night (all rigs), or of the last weeks',
    area: 'Plans',
    role: 'watcher',
    params: none,
    query: z.strictObject({ night: Day.optional(), ...paged }),
    body: none,
    response: z.array(PlanRecord),
  }),
  addPlan: route({
    method: 'post',
    path: '/api/plans',
    summary: 'Save a plan; refused when it overlaps another on the same rig',
    area: 'Plans',
    role: 'member',
    params: none,
    query: none,
    body: z.strictObject({ ...PlanFields.shape, fromPlanId: Id.nullable().default(null) }),
    response: PlanRecord,
  }),
  changePlan: route({
    method: 'put',
    path: '/api/plans/:id',
    summary: 'Change a plan (its owner or a steward)',
    area: 'Plans',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ ...PlanFields.shape, version }),
    response: PlanRecord,
  }),
  calendarFeed: route({
    method: 'get',
    path: '/api/rigs/:id/calendar',
    summary: 'Address of a rig’s nights as iCalendar, for calendars that cannot sign in; whoever has it can read them',
    area: 'Plans',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: z.strictObject({ path: z.string() }),
  }),
  dropCalendarFeed: route({
    method: 'delete',
    path: '/api/rigs/:id/calendar',
    summary: 'Take one’s own calendar address of a rig back; the next one asked for is another',
    area: 'Plans',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  cancelPlan: route({
    method: 'delete',
    path: '/api/plans/:id',
    summary: 'Cancel a plan',
    area: 'Plans',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
};
