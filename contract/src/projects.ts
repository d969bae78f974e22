import { goalFor } from '@keen/core/record';
import { z } from 'zod';
import { SystemKey } from '@keen/core/rig';
import { MoonRule } from '@keen/core/sequence';
import { byId, Day, Id, Instant, none, Page, versioned, version } from './common.ts';
import { route } from './route.ts';

export const Goal = z.strictObject({
  filter: z.string().trim().min(1).max(40),
  exposureS: z.number().positive().max(7200),
  quota: z.int().min(1).max(9999),
});

/** When a project may have hours, and how its owner weighs it among their own. */
export const ProjectSeason = z.strictObject({
  /** Against the owner’s other projects: what one has more, the others have less. */
  priority: z.number().min(0.1).max(10).default(1),
  /** The last night on which it is of use; null: any. */
  deadline: Day.nullable().default(null),
  /** Only within these, where any are named: a transit, an opposition. */
  spells: z
    .array(
      z.strictObject({ start: Instant, end: Instant }).refine((s) => Date.parse(s.end) > Date.parse(s.start), {
        path: ['end'],
        message: 'comes before the beginning',
      }),
    )
    .max(50)
    .default([]),
  /** When the Moon lets it be taken; null: each filter minds it by itself. */
  moon: MoonRule.nullable().default(null),
  /** Only with the train its framing was pinned for. */
  sameTrain: z.boolean().default(false),
});
export type ProjectSeason = z.infer<typeof ProjectSeason>;
/** Where nothing was said: at any time, like the owner’s others. */
export const USUAL_SEASON: ProjectSeason = ProjectSeason.parse({});

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
  season: ProjectSeason.prefault({}),
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

export const projectRoutes = {
  projects: route({
    method: 'get',
    path: '/api/projects',
    summary: 'Projects with their progress',
    area: 'Projects',
    role: 'watcher',
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
};
