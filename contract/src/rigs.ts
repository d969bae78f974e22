import { z } from 'zod';
import { ASPECTS, Part, RigBuild, SystemKey } from '@keen/core/rig';
import { Site as CoreSite } from '@keen/core/sky';
import { byId, Day, Id, Instant, none, Ok, Page, SaidPhrase, versioned, version } from './common.ts';
import { route } from './route.ts';

export const SiteFields = z.strictObject({
  name: z.string().trim().min(1).max(120),
  kind: z.enum(['backyard', 'club', 'remote']),
  ...CoreSite.shape,
  skyMagArcsec2: z.number().min(14).max(23).meta({ unit: 'mag/arcsec²', description: 'Brightness of the dark sky' }),
  horizonNote: z.string().max(500).default(''),
});
export type SiteFields = z.infer<typeof SiteFields>;
export const SiteRecord = z.strictObject({ id: Id, ...SiteFields.shape, ...versioned });
export type SiteRecord = z.infer<typeof SiteRecord>;

export const PartRecord = z.strictObject({
  id: Id,
  ...Part.shape,
  ownerId: Id.nullable(),
  owner: z.string(),
  usedIn: z.array(z.string()),
  ...versioned,
});
export type PartRecord = z.infer<typeof PartRecord>;
const PartBody = z.strictObject({ ...Part.shape, ownedByClub: z.boolean().default(true) });

/** Names of a state, aspect by aspect; null where there is nothing the aspect could be about. */
export const AspectNames = z.record(z.enum(ASPECTS), z.string().nullable());

export const TrainStateInfo = z.strictObject({
  id: Id,
  rigId: Id,
  system: SystemKey,
  words: z.string(),
  since: Instant,
  focusRuns: z.int(),
});
export type TrainStateInfo = z.infer<typeof TrainStateInfo>;

export const RevisionInfo = z.strictObject({
  id: Id,
  number: z.int(),
  at: Instant,
  by: z.string(),
  changes: z.array(SaidPhrase),
  /** Train states of its systems, in their order. */
  words: z.array(z.string()),
  setup: RigBuild,
});
export type RevisionInfo = z.infer<typeof RevisionInfo>;

/** How one imaging system stands now. */
export const SystemState = z.strictObject({
  key: SystemKey,
  name: z.string(),
  trainStateId: Id,
  words: z.string(),
  aspects: AspectNames,
});
export type SystemState = z.infer<typeof SystemState>;

export const RigRecord = z.strictObject({
  id: Id,
  name: z.string(),
  siteId: Id,
  setup: RigBuild,
  revision: z.int(),
  systems: z.array(SystemState),
  ...versioned,
});
export type RigRecord = z.infer<typeof RigRecord>;

const listOf = <R extends z.ZodType>(path: string, summary: string, area: string, item: R) =>
  route({
    method: 'get',
    path,
    summary,
    area,
    // whoever watches a run is told what runs, and where
    role: 'watcher',
    params: none,
    query: none,
    body: none,
    response: z.array(item),
  });

/** What somebody walks into who comes back to a rig. */
export const SinceLastNight = z.strictObject({
  /** Their last night with it; null: there was none. */
  night: Day.nullable(),
  revisions: z.array(z.strictObject({ number: z.int(), at: Instant, by: z.string(), changes: z.array(SaidPhrase) })),
  offsets: z.array(z.strictObject({ at: Instant, by: z.string(), filters: z.array(z.string()) })),
  log: z.array(
    z.strictObject({ at: Instant, by: z.string(), problem: z.string(), cure: z.string(), stops: z.boolean() }),
  ),
});
export type SinceLastNight = z.infer<typeof SinceLastNight>;

export const rigRoutes = {
  sites: listOf('/api/sites', 'Observing sites', 'Sites', SiteRecord),
  addSite: route({
    method: 'post',
    path: '/api/sites',
    summary: 'Add a site',
    area: 'Sites',
    role: 'steward',
    params: none,
    query: none,
    body: SiteFields,
    response: SiteRecord,
  }),
  changeSite: route({
    method: 'put',
    path: '/api/sites/:id',
    summary: 'Change a site',
    area: 'Sites',
    role: 'steward',
    params: byId,
    query: none,
    body: z.strictObject({ ...SiteFields.shape, version }),
    response: SiteRecord,
  }),
  parts: route({
    method: 'get',
    path: '/api/parts',
    summary: 'The equipment drawer',
    area: 'Equipment',
    role: 'guest',
    params: none,
    query: Page,
    body: none,
    response: z.array(PartRecord),
  }),
  addPart: route({
    method: 'post',
    path: '/api/parts',
    summary: 'Add a part',
    area: 'Equipment',
    role: 'member',
    params: none,
    query: none,
    body: PartBody,
    response: PartRecord,
  }),
  changePart: route({
    method: 'put',
    path: '/api/parts/:id',
    summary: 'Change a part',
    area: 'Equipment',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ ...PartBody.shape, version }),
    response: PartRecord,
  }),
  archivePart: route({
    method: 'delete',
    path: '/api/parts/:id',
    summary: 'Put a part away for good; refused while a rig uses it',
    area: 'Equipment',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  restorePart: route({
    method: 'post',
    path: '/api/parts/:id/restore',
    summary: 'Take an archived part back',
    area: 'Equipment',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  rigs: listOf('/api/rigs', 'Rigs as they stand now', 'Rigs', RigRecord),
  addRig: route({
    method: 'post',
    path: '/api/rigs',
    summary: 'Build a rig',
    area: 'Rigs',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({ name: z.string().trim().min(1).max(120), siteId: Id, setup: RigBuild }),
    response: RigRecord,
  }),
  reviseRig: route({
    method: 'post',
    path: '/api/rigs/:id/revisions',
    summary: 'Save a rig as it now stands: a new revision, and a new train state when the train changed',
    area: 'Rigs',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ name: z.string().trim().min(1).max(120), siteId: Id, setup: RigBuild, version }),
    response: RigRecord,
  }),
  sinceLastNight: route({
    method: 'get',
    path: '/api/rigs/:id/since',
    summary: 'What was done to a rig since one’s own last night with it: changes, offsets, faults and cures',
    area: 'Rigs',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: SinceLastNight,
  }),
  revisions: route({
    method: 'get',
    path: '/api/rigs/:id/revisions',
    summary: 'Every state a rig has been in, newest first',
    area: 'Rigs',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: z.array(RevisionInfo),
  }),
  trainStates: route({
    method: 'get',
    path: '/api/rigs/:id/train-states',
    summary: 'Train states of a rig, newest first',
    area: 'Rigs',
    role: 'guest',
    params: byId,
    query: none,
    body: none,
    response: z.array(TrainStateInfo),
  }),
};
