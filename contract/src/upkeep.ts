import { z } from 'zod';
import { byId, Day, Id, Instant, none, Ok, version, versioned } from './common.ts';
import { route } from './route.ts';

const Note = z.string().trim().max(1000);
const upkeepShape = {
  rigId: Id,
  what: z.string().trim().min(1, 'must not be empty').max(200),
  /** Again after so many days; null: days do not matter. */
  everyDays: z.int().min(1).max(3650).nullable(),
  /** Again after so many nights of work; null: nights do not matter. */
  everyNights: z.int().min(1).max(2000).nullable(),
  note: Note.default(''),
};
const sometimes = (u: { everyDays: number | null; everyNights: number | null }) =>
  u.everyDays !== null || u.everyNights !== null;
const NEVER = {
  path: ['everyDays'],
  message: 'is missing: say after how many days, or nights of work, it comes again',
};
export const UpkeepFields = z.strictObject(upkeepShape).refine(sometimes, NEVER);
export type UpkeepFields = z.infer<typeof UpkeepFields>;

/** What comes again on a rig, when it was done, and when it is due. */
export const UpkeepRecord = z.strictObject({
  id: Id,
  ...upkeepShape,
  rig: z.string(),
  /** Counted from here: when it was done last, or begun to be counted. */
  since: Day,
  /** Who did it last; empty: nobody yet. */
  doneBy: z.string(),
  /** Nights of work since. */
  nights: z.int(),
  due: z.strictObject({
    state: z.enum(['over', 'soon', 'later']),
    date: Day.nullable(),
    nightsLeft: z.int().nullable(),
  }),
  /** The last times it was done, newest first. */
  done: z.array(z.strictObject({ day: Day, by: z.string(), note: z.string() })),
  ...versioned,
});
export type UpkeepRecord = z.infer<typeof UpkeepRecord>;

/** In which state somebody found or left a rig. */
const state = { inOrder: z.boolean(), note: Note.default('') };
const stateRule = (s: { inOrder: boolean; note: string }) => s.inOrder || s.note !== '';
const UNSAID = { path: ['note'], message: 'is missing: say what is wrong' };

/** Somebody had a rig, as they found it and as they left it. */
export const HandoverRecord = z.strictObject({
  id: Id,
  rigId: Id,
  memberId: Id,
  member: z.string(),
  takenAt: Instant,
  takenInOrder: z.boolean(),
  takenNote: z.string(),
  /** Null: they have it still. */
  givenAt: Instant.nullable(),
  /** Null: it was taken over by the next without being handed back. */
  givenInOrder: z.boolean().nullable(),
  givenNote: z.string(),
});
export type HandoverRecord = z.infer<typeof HandoverRecord>;

/** Parts of one count at most. */
export const MOST_COUNTED = 5000;
export const CountRecord = z.strictObject({
  id: Id,
  at: Instant,
  by: z.string(),
  note: z.string(),
  /** Every part that was counted. */
  rows: z.array(z.strictObject({ partId: Id, name: z.string(), expected: z.int(), found: z.int() })),
  /** The drawer says what was found. */
  adopted: z.boolean(),
});
export type CountRecord = z.infer<typeof CountRecord>;

export const upkeepRoutes = {
  upkeep: route({
    method: 'get',
    path: '/api/upkeep',
    summary: 'What comes again on each rig, and when it is due, what is over first',
    area: 'Upkeep',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(UpkeepRecord),
  }),
  addUpkeep: route({
    method: 'post',
    path: '/api/upkeep',
    summary: 'Say what comes again on a rig',
    area: 'Upkeep',
    role: 'steward',
    params: none,
    query: none,
    body: UpkeepFields,
    response: UpkeepRecord,
  }),
  changeUpkeep: route({
    method: 'put',
    path: '/api/upkeep/:id',
    summary: 'Change what comes again on a rig',
    area: 'Upkeep',
    role: 'steward',
    params: byId,
    query: none,
    body: z.strictObject({ ...upkeepShape, version }).refine(sometimes, NEVER),
    response: UpkeepRecord,
  }),
  dropUpkeep: route({
    method: 'delete',
    path: '/api/upkeep/:id',
    summary: 'It does not come again',
    area: 'Upkeep',
    role: 'steward',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  upkeepDone: route({
    method: 'post',
    path: '/api/upkeep/:id/done',
    summary: 'It was done: counted anew from that day',
    area: 'Upkeep',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ day: Day, note: Note.default(''), version }),
    response: UpkeepRecord,
  }),
  handovers: route({
    method: 'get',
    path: '/api/handovers',
    summary: 'Who has which rig, and who had it before, newest first',
    area: 'Upkeep',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(HandoverRecord),
  }),
  takeOver: route({
    method: 'post',
    path: '/api/rigs/:id/handover',
    summary: 'Take a rig over, in the state it is found in; what is wrong goes into the logbook',
    area: 'Upkeep',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject(state).refine(stateRule, UNSAID),
    response: HandoverRecord,
  }),
  handBack: route({
    method: 'put',
    path: '/api/rigs/:id/handover',
    summary: 'Hand a rig back, in the state it is left in; what is wrong goes into the logbook',
    area: 'Upkeep',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject(state).refine(stateRule, UNSAID),
    response: HandoverRecord,
  }),
  counts: route({
    method: 'get',
    path: '/api/counts',
    summary: 'Counts of the equipment, newest first',
    area: 'Equipment',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(CountRecord),
  }),
  keepCount: route({
    method: 'post',
    path: '/api/counts',
    summary: 'Keep what was found on counting the equipment',
    area: 'Equipment',
    role: 'member',
    params: none,
    query: none,
    body: z.strictObject({
      found: z
        .array(z.strictObject({ partId: Id, count: z.int().min(0).max(999) }))
        .min(1, 'is empty: count one part at least')
        .max(MOST_COUNTED),
      note: Note.default(''),
    }),
    response: CountRecord,
  }),
  adoptCount: route({
    method: 'put',
    path: '/api/counts/:id/adopted',
    summary: 'Let the drawer say what was found; parts that were changed since stay as they are',
    area: 'Equipment',
    role: 'steward',
    params: byId,
    query: none,
    body: none,
    response: CountRecord,
  }),
};
