import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { words } from '../phrases/index.ts';
import {
  hadSince,
  ledger,
  movingUp,
  rulePhrase,
  Sharing,
  stretches,
  USUAL_SHARING,
  wayOf,
  type LedgerBooking,
  type LedgerNight,
} from './index.ts';

const HOUR = 3_600_000;
const ZERO = Date.parse('2027-01-08T18:00:00Z');
const hours = (from: number, until: number) => ({ fromMs: ZERO + from * HOUR, untilMs: ZERO + until * HOUR });

test('the way of a night follows its weekday, whatever the year', () => {
  const ways = ['calendar', 'queue', 'mixed', 'queue', 'calendar', 'mixed', 'queue'] as const;
  // a Monday, by any calendar on the wall: 2027-01-04
  for (let day = 0; day < 400; day++) {
    const date = new Date(Date.UTC(2027, 0, 4 + day)).toISOString().slice(0, 10);
    expect([date, wayOf({ ways: [...ways] }, date)]).toEqual([date, ways[day % 7]]);
  }
  expect(Sharing.safeParse({ ...USUAL_SHARING, ways: ['calendar'] }).success).toBe(false);
  expect(Sharing.parse(USUAL_SHARING)).toEqual(USUAL_SHARING);
});

test('slots of one project that follow each other are one stretch', () => {
  const slot = (rigId: string, projectId: string, from: number, until: number, night = '2027-01-08') => ({
    rigId,
    projectId,
    night,
    ...hours(from, until),
  });
  expect(
    stretches([
      slot('r', 'a', 2, 3),
      slot('r', 'a', 1, 2),
      slot('r', 'b', 3, 4),
      slot('r', 'a', 4, 5),
      slot('q', 'a', 1, 2),
      slot('q', 'a', 2.5, 3),
      slot('r', 'a', 24, 25, '2027-01-09'),
    ]),
  ).toEqual([
    slot('q', 'a', 1, 2),
    slot('q', 'a', 2.5, 3),
    slot('r', 'a', 1, 3),
    slot('r', 'b', 3, 4),
    slot('r', 'a', 4, 5),
    slot('r', 'a', 24, 25, '2027-01-09'),
  ]);
});

const span = fc
  .tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 1, max: 4 }))
  .map(([from, long]) => hours(from, from + long));
test('who waits moves up in their order, and never onto hours that somebody has', () => {
  fc.assert(
    fc.property(fc.array(span, { maxLength: 8 }), fc.array(span, { maxLength: 3 }), (waiting, taken) => {
      const up = movingUp(waiting, taken);
      // hour by hour: nobody twice
      const at = (h: number) => [...taken, ...up].filter((s) => s.fromMs <= h && h < s.untilMs);
      const before = (h: number) => taken.filter((s) => s.fromMs <= h && h < s.untilMs);
      for (let h = 0; h < 14; h++)
        expect(at(ZERO + (h + 0.5) * HOUR).length).toBeLessThanOrEqual(
          Math.max(1, before(ZERO + (h + 0.5) * HOUR).length),
        );
      // whoever still waits is in the way of somebody who asked earlier, or of who had it
      for (const [i, w] of waiting.entries()) {
        if (up.includes(w)) continue;
        const earlier = [...taken, ...waiting.slice(0, i).filter((x) => up.includes(x))];
        expect(earlier.some((e) => e.fromMs < w.untilMs && w.fromMs < e.untilMs)).toBe(true);
      }
    }),
    { seed: 11 },
  );
});

const booking = (more: Partial<LedgerBooking>): LedgerBooking => ({
  memberId: 'ann',
  projectId: 'a',
  night: '2027-01-08',
  rigId: 'r',
  origin: 'rules',
  state: 'held',
  outcome: null,
  ...hours(0, 3),
  ...more,
});
const night = (more: Partial<LedgerNight>): LedgerNight => ({
  projectId: 'a',
  ownerId: 'ann',
  rigId: 'r',
  night: '2027-01-08',
  openMinutes: 60,
  countedMinutes: 45,
  ...more,
});

test('the ledger tells asked, promised, taken, counted and lost to cloud', () => {
  const bookings = [
    booking({ outcome: 'clouded' }),
    booking({ night: '2027-01-09', origin: 'member', state: 'declined', ...hours(24, 26) }),
    booking({ night: '2027-02-01', outcome: 'fault', ...hours(600, 602) }),
    booking({ memberId: 'bo', projectId: null, origin: 'member', outcome: 'clouded', ...hours(3, 5) }),
  ];
  const lines = ledger(bookings, [
    night({}),
    night({ ownerId: 'bo', projectId: 'b', openMinutes: 120, countedMinutes: 0 }),
  ]);
  expect(lines.map((l) => ({ ...l, clouded: Math.round(l.clouded) }))).toEqual([
    { memberId: 'ann', projectId: 'a', month: '2027-02', asked: 0, promised: 120, taken: 0, counted: 0, clouded: 0 },
    {
      memberId: 'ann',
      projectId: 'a',
      month: '2027-01',
      asked: 120,
      promised: 180,
      taken: 60,
      counted: 45,
      clouded: 120,
    },
    { memberId: 'bo', projectId: null, month: '2027-01', asked: 120, promised: 120, taken: 0, counted: 0, clouded: 0 },
    { memberId: 'bo', projectId: 'b', month: '2027-01', asked: 0, promised: 0, taken: 120, counted: 0, clouded: 0 },
  ]);
});

test('what cloud took counts as much as the club says, and of two stretches no minute twice', () => {
  const bookings = [booking({ outcome: 'clouded' }), booking({ outcome: 'clouded', ...hours(5, 6) })];
  const nights = [night({})];
  expect(hadSince(bookings, nights, '2027-01-08', 0)).toEqual({ ann: 45 });
  // four hours held, one exposed: three were lost
  expect(hadSince(bookings, nights, '2027-01-08', 1).ann).toBeCloseTo(45 + 180, 9);
  expect(hadSince(bookings, nights, '2027-01-08', 0.5).ann).toBeCloseTo(45 + 90, 9);
  expect(hadSince(bookings, nights, '2027-01-09', 1)).toEqual({});
  // more open than held: nothing lost
  expect(hadSince(bookings, [night({ openMinutes: 600 })], '2027-01-01', 1)).toEqual({ ann: 45 });
});

test('lost hours are those of the clock: against counting minute by minute', () => {
  const draw = fc.array(fc.tuple(span, fc.constantFrom('clouded', 'used', null)), { minLength: 1, maxLength: 3 });
  fc.assert(
    fc.property(draw, fc.integer({ min: 0, max: 900 }), (drawn, openMinutes) => {
      // apart, as the database keeps them
      const apart = drawn.map(([s, outcome], i) =>
        booking({ outcome, fromMs: s.fromMs + i * 20 * HOUR, untilMs: s.untilMs + i * 20 * HOUR }),
      );
      const held: boolean[] = [];
      for (const b of apart) for (let m = b.fromMs; m < b.untilMs; m += 60_000) held.push(b.outcome === 'clouded');
      const share = Math.max(0, 1 - openMinutes / held.length);
      const lost = held.filter(Boolean).length * share;
      const got = ledger(apart, [night({ openMinutes })]).reduce((s, l) => s + l.clouded, 0);
      expect(got).toBeCloseTo(lost, 6);
    }),
    { seed: 12 },
  );
});

test('the rule is one sentence', () => {
  expect(words(rulePhrase({ fairDays: null, cloudShare: 0 }))).toMatch(/no shares/);
  expect(words(rulePhrase({ fairDays: 1, cloudShare: 0 }))).toMatch(/last 1 day and .*does not count/);
  expect(words(rulePhrase({ fairDays: 90, cloudShare: 0.5 }))).toMatch(/last 90 days and .*counts 50.% as had/);
});
