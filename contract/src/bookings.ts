import { BookingOrigin, BookingState, HoursOutcome, SeasonRules, Sharing } from '@keen/core/booking';
import { AbsenceNights } from '@keen/core/absences';
import { z } from 'zod';
import { byId, Day, Id, Instant, none, Ok, SaidPhrase, version, versioned } from './common.ts';
import { route } from './route.ts';

export type { AbsenceNights } from '@keen/core/absences';
export { BookingOrigin, BookingState, HoursOutcome, SeasonRules, Sharing } from '@keen/core/booking';

/** Nights that are told at once. */
export const MOST_NIGHTS = 100;
const Note = z.string().trim().max(500);
const span = z
  .strictObject({ from: Day, until: Day })
  .refine((s) => Date.parse(s.until) >= Date.parse(s.from), {
    path: ['until'],
    message: 'comes before the first night',
  })
  .refine((s) => (Date.parse(s.until) - Date.parse(s.from)) / 86_400_000 < MOST_NIGHTS, {
    path: ['until'],
    message: `asks for more than ${MOST_NIGHTS} nights`,
  });

export const BookingFields = z.strictObject({
  rigId: Id,
  night: Day,
  start: Instant,
  end: Instant,
  /** What they are for; null: that is said later. */
  projectId: Id.nullable().default(null),
  /** Whose they will be; a steward may book for others. */
  memberId: Id.nullable().default(null),
  note: Note.default(''),
  /** Where somebody has the hours: wait until they become free. */
  wait: z.boolean().default(false),
});
export type BookingFields = z.infer<typeof BookingFields>;

/** Hours of a rig that somebody has, asked for or gave back. */
export const BookingRecord = z.strictObject({
  id: Id,
  rigId: Id,
  night: Day,
  start: Instant,
  end: Instant,
  memberId: Id,
  member: z.string(),
  projectId: Id.nullable(),
  object: z.string(),
  origin: BookingOrigin,
  state: BookingState,
  note: z.string(),
  /** What a steward said to it. */
  answer: z.string(),
  madeBy: z.string(),
  madeAt: Instant,
  decidedBy: z.string(),
  /** What came of it, as somebody said. */
  outcome: HoursOutcome.nullable(),
  outcomeBy: z.string(),
  /** The plan that works in these hours; null: none yet. */
  planId: Id.nullable(),
  ...versioned,
});
export type BookingRecord = z.infer<typeof BookingRecord>;

export const SharingRecord = z.strictObject({ rigId: Id, ...Sharing.shape, ...versioned });
export type SharingRecord = z.infer<typeof SharingRecord>;

/** Absences of one person that are kept at most. */
export const MOST_ABSENCES = 300;
const Absences = z.array(AbsenceNights).max(MOST_ABSENCES);

const minutes = z.number().min(0).meta({ unit: 'min' });
export const LedgerRecord = z.strictObject({
  memberId: Id,
  member: z.string(),
  projectId: Id.nullable(),
  object: z.string(),
  month: z.string(),
  asked: minutes,
  promised: minutes,
  taken: minutes,
  counted: minutes,
  clouded: minutes,
});
export type LedgerRecord = z.infer<typeof LedgerRecord>;

export const bookingRoutes = {
  bookings: route({
    method: 'get',
    path: '/api/bookings',
    summary:
      'Hours that are somebody’s, of some nights on all rigs; those given back or refused only to whom they concern',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: span,
    body: none,
    response: z.array(BookingRecord),
  }),
  addBooking: route({
    method: 'post',
    path: '/api/bookings',
    summary: 'Book hours of a rig, or wait for them; refused where somebody has them',
    area: 'Bookings',
    role: 'member',
    params: none,
    query: none,
    body: BookingFields,
    response: BookingRecord,
  }),
  decideBooking: route({
    method: 'put',
    path: '/api/bookings/:id/decision',
    summary: 'Say yes or no to hours that were asked for',
    area: 'Bookings',
    role: 'steward',
    params: byId,
    query: none,
    body: z.strictObject({ approved: z.boolean(), answer: Note.default('') }),
    response: BookingRecord,
  }),
  cancelBooking: route({
    method: 'delete',
    path: '/api/bookings/:id',
    summary: 'Give hours back; whoever waited longest for them moves up',
    area: 'Bookings',
    role: 'member',
    params: byId,
    query: none,
    body: none,
    response: Ok,
  }),
  sayOutcome: route({
    method: 'put',
    path: '/api/bookings/:id/outcome',
    summary: 'Say what came of hours that have begun',
    area: 'Bookings',
    role: 'member',
    params: byId,
    query: none,
    body: z.strictObject({ outcome: HoursOutcome.nullable() }),
    response: BookingRecord,
  }),
  sharing: route({
    method: 'get',
    path: '/api/sharing',
    summary: 'How each rig is shared',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.array(SharingRecord),
  }),
  changeSharing: route({
    method: 'put',
    path: '/api/rigs/:id/sharing',
    summary: 'Say how a rig is shared',
    area: 'Bookings',
    role: 'steward',
    params: byId,
    query: none,
    body: z.strictObject({ ...Sharing.shape, version }),
    response: SharingRecord,
  }),
  seasonRules: route({
    method: 'get',
    path: '/api/season/rules',
    summary: 'By which rule the club counts hours, and the rule in one sentence',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.strictObject({ ...SeasonRules.shape, sentence: SaidPhrase }),
  }),
  changeSeasonRules: route({
    method: 'put',
    path: '/api/season/rules',
    summary: 'Say by which rule the club counts hours',
    area: 'Bookings',
    role: 'steward',
    params: none,
    query: none,
    body: SeasonRules,
    response: z.strictObject({ ...SeasonRules.shape, sentence: SaidPhrase }),
  }),
  ledger: route({
    method: 'get',
    path: '/api/ledger',
    summary:
      'Hours asked, promised, taken, counted and lost to cloud, by member, project and month; a member sees their own',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: z.strictObject({ since: Day }),
    body: none,
    response: z.array(LedgerRecord),
  }),
  promise: route({
    method: 'post',
    path: '/api/season/promises',
    summary: 'Promise the hours of a board that was worked out: they are booked for whom it gave them to',
    area: 'Bookings',
    role: 'steward',
    params: none,
    query: none,
    body: z.strictObject({
      jobId: Id,
      /** The last night that is promised. */
      until: Day,
    }),
    response: z.array(BookingRecord),
  }),
  absences: route({
    method: 'get',
    path: '/api/session/absences',
    summary: 'The nights on which one is away oneself',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: Absences,
  }),
  keepAbsences: route({
    method: 'put',
    path: '/api/session/absences',
    summary: 'Say on which nights one is away: the rules give none of them, and one does not move up for them',
    area: 'Bookings',
    role: 'member',
    params: none,
    query: none,
    body: z.strictObject({ absences: Absences }),
    response: Absences,
  }),
  ownFeed: route({
    method: 'get',
    path: '/api/session/calendar',
    summary:
      'Address of one’s own hours on all rigs as iCalendar, for calendars that cannot sign in; whoever has it can read them',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: z.strictObject({ path: z.string() }),
  }),
  dropOwnFeed: route({
    method: 'delete',
    path: '/api/session/calendar',
    summary: 'Take the address of one’s own hours back; the next one asked for is another',
    area: 'Bookings',
    role: 'guest',
    params: none,
    query: none,
    body: none,
    response: Ok,
  }),
  planHours: route({
    method: 'post',
    path: '/api/season/plans',
    summary: 'Make the plan of a night whose hours are spoken for: each project in its hours, others for the gaps',
    area: 'Bookings',
    role: 'member',
    params: none,
    query: none,
    body: z.strictObject({ rigId: Id, night: Day }),
    response: z.strictObject({
      planId: Id,
      /** Objects that one plan could not take too: of another imaging system, or with somebody else’s hours between. */
      left: z.array(z.string()),
    }),
  }),
};
