import { goalFor } from '@keen/core/record';
import { z } from 'zod';
import { SystemKey } from '@keen/core/rig';
import { Closing, Leg, legList, Opening, PlanField, PlanLock, PlanLocks, Watches } from '@keen/core/sequence';
import { RunResult } from '@keen/core/observatory';
import { AspectNames } from './rigs.ts';
import { byId, Day, Id, Instant, none, Ok, Page, paged, versioned } from './common.ts';
import { route } from './route.ts';

export const Goal = z.strictObject({
  filter: z.string().trim().min(1).max(40),
  exposureS: z.number().positive().max(7200),
  quota: z.int().min(1).max(9999),
});

export const ProjectFields = z.strictObject({
  name: z.string().trim().min(1).max(120),
  object: z.string().trim().min(1).max(60),
  objectType: z.string().max(60).default(''),
  raDeg: z.number().min(0).max(360),
  decDeg: z.number().min(-90).max(90),
  sizeArcmin: z.number().positive().max(10_800).nullable(),
  rigId: Id,
  /** The imaging system of the rig that takes it. */
  system: SystemKey.default('main'),
  angleDeg: z.number().min(0).max(360),
  minimumAltitudeDeg: z.number().min(0).max(85),
  goals: z
    .array(Goal)
    .min(1, 'a project needs a goal for at least one filter')
    .max(24)
    .superRefine((goals, ctx) => {
      goals.forEach((g, i) => {
        if (goalFor(goals.slice(0, i), g))
          ctx.addIssue({
            code: 'custom',
            path: [i, 'filter'],
            message: `“${g.filter}” of ${g.exposureS} s stands twice: a filter’s goals differ in their exposure`,
          });
      });
    }),
  note: z.string().max(4000).default(''),
});
export type ProjectFields = z.infer<typeof ProjectFields>;

/** Where a project points, kept so that every night repeats it. */
export const FramingFields = z.strictObject({
  raDeg: z.number().min(0).max(360),
  decDeg: z.number().min(-90).max(90),
  /** Position angle of the picture's top. */
  angleDeg: z.number().min(0).max(360),
  /** Position angle of the guide window; null without an off-axis guider. */
  windowPaDeg: z.number().min(0).max(360).nullable(),
  columns: z.int().min(1).max(8),
  rows: z.int().min(1).max(8),
  overlap: z.number().min(0).max(0.6),
  star: z
    .strictObject({
      raDeg: z.number().min(0).max(360),
      decDeg: z.number().min(-90).max(90),
      mag: z.number().min(-30).max(40),
    })
    .nullable(),
  guideExposureS: z.number().positive().max(60).nullable(),
});
export type FramingFields = z.infer<typeof FramingFields>;
export const Framing = z.strictObject({
  ...FramingFields.shape,
  /** Train state it was found for, as people say it. */
  words: z.string(),
  /** The framing aspect it holds for; null where that is no longer known. */
  aspect: z.string().nullable(),
  at: Instant,
  by: z.string(),
});
export type Framing = z.infer<typeof Framing>;

export const ProjectRecord = z.strictObject({
  id: Id,
  ...ProjectFields.shape,
  owner: z.string(),
  ownerId: Id,
  archived: z.boolean(),
  framing: Framing.nullable(),
  /** Panels of the pinned mosaic, one for a single field. Goals are per panel. */
  panels: z.int().min(1).max(64),
  /** By panel, accepted frames of each goal; empty for a single field. */
  byPanel: z.array(z.array(z.int())),
  /** Accepted frames of real nights of each goal, in their order; of a mosaic what counts towards all its panels. */
  done: z.array(z.int()),
  /** Everything taken, night by night, by filter and exposure. */
  nights: z.array(
    z.strictObject({
      night: Day,
      panel: z.int().nullable(),
      filter: z.string(),
      accepted: z.int(),
      rejected: z.int(),
      exposureS: z.number(),
      /** Of a filter and exposure that a goal asks for. */
      counts: z.boolean(),
    }),
  ),
  ...versioned,
});
export type ProjectRecord = z.infer<typeof ProjectRecord>;

export const RunState = z.enum(['rehearsed', 'accepted', 'discarded']);
/** Rehearsed: on stand-ins, never counts. Live: by the conductor. Recorded: taken elsewhere and brought in. */
export const RunKind = z.enum(['rehearsed', 'live', 'recorded']);
export type RunKind = z.infer<typeof RunKind>;

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

export const ChangeRecord = z.strictObject({
  id: Id,
  at: Instant,
  by: z.string(),
  subject: z.string(),
  text: z.string(),
});
export type ChangeRecord = z.infer<typeof ChangeRecord>;

const version = z.int().min(0).max(1e9).meta({ description: 'Version the change is based on' });

export const projectRoutes = {
  projects: route({
    method: 'get',
    path: '/api/projects',
    summary: 'Projects with their progress',
    area: 'Projects',
    role: 'guest',
    params: none,
    query: Page,
    body: none,
    response: z.array(ProjectRecord),
  }),
  addProject: route({
    method: 'post',
    path: '/api/projects',
    summary: 'Start a project',
    area: 'Projects',
    role: 'member',
    params: none,
    query: none,
    body: ProjectFields,
    response: ProjectRecord,
  }),
  changeProject: route({
    method: 'put',
    path: '/api/projects/:id',
    summary: 'Change a project (its owner or a steward)',
    area: 'Projects',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ ...ProjectFields.shape, archived: z.boolean(), version }),
    response: ProjectRecord,
  }),
  pinFraming: route({
    method: 'put',
    path: '/api/projects/:id/framing',
    summary: 'Pin a project’s framing for later nights, or let it go (its owner or a steward)',
    area: 'Projects',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ framing: FramingFields.nullable(), version }),
    response: ProjectRecord,
  }),
  plans: route({
    method: 'get',
    path: '/api/plans',
    summary: 'Plans of a night (all rigs), or of the last weeks',
    area: 'Plans',
    role: 'guest',
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
  rehearse: route({
    method: 'post',
    path: '/api/plans/:id/rehearsals',
    summary: 'Run a plan in virtual time on the stand-ins; the same seed gives the same night',
    area: 'Runs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ seed: z.int().min(1).max(2147483647) }),
    response: RunRecord,
  }),
  runs: route({
    method: 'get',
    path: '/api/runs',
    summary: 'Runs, newest first, without their events',
    area: 'Runs',
    role: 'guest',
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
    role: 'guest',
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
