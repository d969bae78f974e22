import { expect, test } from '@jest/globals';
import { words } from '../phrases/index.ts';
import { AbsenceNights, isAbsent, readAbsences } from './absences.ts';

const SPAN = { from: '2026-11-19', until: '2027-02-28', timeZone: 'Europe/Zurich' };
const calendar = (...events: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//EN', ...events, 'END:VCALENDAR'].join('\r\n');
const event = (...lines: string[]) =>
  ['BEGIN:VEVENT', `UID:${lines.join('').length}@x`, 'DTSTAMP:20261101T000000Z', ...lines, 'END:VEVENT'].join('\r\n');
const read = (text: string, span: Partial<typeof SPAN> = {}) => {
  const got = readAbsences(text, { ...SPAN, ...span });
  if (!got.ok) return words(got.trouble);
  return got.value.absences.map((a) => (a.from === a.until ? a.from : `${a.from}…${a.until}`)).join(' ');
};
/** Eastern time as a calendar describes it, under a name of its own. */
const EASTERN = [
  'BEGIN:VTIMEZONE',
  'TZID:Own Eastern',
  'BEGIN:STANDARD',
  'DTSTART:20251102T020000',
  'TZOFFSETFROM:-0400',
  'TZOFFSETTO:-0500',
  'END:STANDARD',
  'END:VTIMEZONE',
].join('\r\n');

test.each<[what: string, events: string[], nights: string]>([
  ['a whole day takes its evening', ['DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261225'], '2026-12-24'],
  [
    'days in a row, the end not with them',
    ['DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261228'],
    '2026-12-24…2026-12-27',
  ],
  ['a day without an end', ['DTSTART;VALUE=DATE:20261224'], '2026-12-24'],
  ['by length', ['DTSTART;VALUE=DATE:20261224', 'DURATION:P3D'], '2026-12-24…2026-12-26'],
  ['an evening in UTC', ['DTSTART:20261204T190000Z', 'DTEND:20261204T220000Z'], '2026-12-04'],
  // half past two in the morning here is the night of the evening before
  ['after midnight', ['DTSTART:20261205T013000Z', 'DTEND:20261205T020000Z'], '2026-12-04'],
  ['by day nothing', ['DTSTART:20261204T080000Z', 'DTEND:20261204T160000Z'], ''],
  ['from morning to the next evening', ['DTSTART:20261204T080000Z', 'DTEND:20261205T190000Z'], '2026-12-04…2026-12-05'],
  ['by the site’s clock where no zone is said', ['DTSTART:20261204T173000', 'DTEND:20261204T175900'], ''],
  ['the same half an hour later', ['DTSTART:20261204T173000', 'DTEND:20261204T183000'], '2026-12-04'],
  // noon in New York is 18:00 here
  [
    'by a zone of its name',
    ['DTSTART;TZID=America/New_York:20261204T121500', 'DTEND;TZID=America/New_York:20261204T130000'],
    '2026-12-04',
  ],
  [
    'by a zone the calendar describes',
    ['DTSTART;TZID=Own Eastern:20261204T121500', 'DTEND;TZID=Own Eastern:20261204T130000'],
    '2026-12-04',
  ],
  [
    'every week, but for one',
    ['DTSTART:20261201T190000Z', 'DTEND:20261201T200000Z', 'RRULE:FREQ=WEEKLY;COUNT=4', 'EXDATE:20261208T190000Z'],
    '2026-12-01 2026-12-15 2026-12-22',
  ],
  ['every year from long ago', ['DTSTART;VALUE=DATE:20101231', 'RRULE:FREQ=YEARLY'], '2026-12-31'],
  [
    'every day without an end stops with the span',
    ['DTSTART;VALUE=DATE:20270225', 'RRULE:FREQ=DAILY'],
    '2027-02-25…2027-02-28',
  ],
  ['free time', ['DTSTART;VALUE=DATE:20261224', 'TRANSP:TRANSPARENT'], ''],
  ['called off', ['DTSTART;VALUE=DATE:20261224', 'STATUS:CANCELLED'], ''],
  ['over', ['DTSTART;VALUE=DATE:20261101', 'DTEND;VALUE=DATE:20261110'], ''],
  ['begun before the span', ['DTSTART;VALUE=DATE:20261101', 'DTEND;VALUE=DATE:20261121'], '2026-11-19…2026-11-20'],
  ['lines that are folded', ['DTSTART;VALUE=DATE:2026\r\n 1224', 'SUMMARY:a long\r\n  title'], '2026-12-24'],
])('%s', (_, lines, nights) => {
  expect(read(calendar(EASTERN, event(...lines)))).toBe(nights);
});

test('two events beside each other are two, what overlaps is taken once, and days change with the clock of the place', () => {
  const one = event('DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261226', 'SUMMARY:Family');
  const two = event('DTSTART;VALUE=DATE:20261225', 'DTEND;VALUE=DATE:20261228', 'SUMMARY:Skiing, far');
  const got = readAbsences(calendar(one, two), SPAN);
  expect(got.ok && got.value.absences).toEqual([
    { from: '2026-12-24', until: '2026-12-25', title: 'Family' },
    { from: '2026-12-26', until: '2026-12-27', title: 'Skiing, far' },
  ]);
  const late = event('DTSTART:20261204T100000Z', 'DTEND:20261204T110000Z');
  expect(read(calendar(late))).toBe('');
  expect(read(calendar(late), { timeZone: 'Australia/Sydney' })).toBe('2026-12-04');
});

test('a recurring event is followed to the nights that are asked for, or it is said that it was not', () => {
  expect(
    read(calendar(event('DTSTART:20050101T190000Z', 'DTEND:20050101T200000Z', 'RRULE:FREQ=DAILY')), {
      until: '2026-11-20',
    }),
  ).toBe('2026-11-19…2026-11-20');
  const often = event('SUMMARY:Beat', 'DTSTART:20050101T190000Z', 'DTEND:20050101T190100Z', 'RRULE:FREQ=MINUTELY');
  expect(read(calendar(often))).toMatch(/Beat.*recurs too often/);
});

test('what is no calendar is said to be none; what passes over is counted', () => {
  for (const text of ['', 'hello', 'BEGIN:VCALENDAR', '{"a":1}', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nEND:VCALENDAR'])
    expect(read(text)).toMatch(/no calendar/);
  expect(read(calendar())).toBe('');
  const free = readAbsences(calendar(event('DTSTART;VALUE=DATE:20261224', 'TRANSP:TRANSPARENT')), SPAN);
  expect(free.ok && free.value.passedOver).toBe(1);
  expect(read(calendar(event('SUMMARY:without a day')))).toMatch(/without a day/);
  expect(read('x'.repeat(4_000_001))).toMatch(/longer/);
});

test('nights are by their evenings, the last with them', () => {
  const away = [{ from: '2026-12-24', until: '2026-12-26', title: '' }];
  expect(['2026-12-23', '2026-12-24', '2026-12-26', '2026-12-27'].map((n) => isAbsent(away, n))).toEqual([
    false,
    true,
    true,
    false,
  ]);
  expect(AbsenceNights.safeParse({ from: '2026-12-26', until: '2026-12-24' }).success).toBe(false);
});
