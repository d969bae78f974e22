import { expect, test } from '@jest/globals';
import type { NightSchedule } from '@keen/core/sequence';
import { planCalendar } from './planCalendar.ts';

const at = (h: number) => Date.parse('2026-11-19T00:00:00Z') + h * 3_600_000;
const night = {
  startMs: at(17),
  endMs: at(26),
  pieces: [
    { part: 'opening', step: 'connect', startMs: at(17), endMs: at(18) },
    { part: 'leg', legIndex: 0, startMs: at(18), endMs: at(22) },
    { part: 'leg', legIndex: 1, startMs: at(22), endMs: at(25) },
    { part: 'closing', step: 'park', startMs: at(25), endMs: at(26) },
  ],
  legs: [{ schedule: { frames: { L: 12, R: 3 } } }, { schedule: null }],
} as unknown as NightSchedule;
const text = planCalendar(night, {
  id: 'plan-1',
  rig: 'the triplet',
  site: 'Yard; north',
  names: ['NGC 281', 'M 33'],
  now: new Date(at(12)),
});
/** Lines as a reader unfolds them. */
const lines = text.replace(/\r\n[ \t]/g, '').split('\r\n');

test('a calendar of the night has the whole and each leg, in universal time, with names that stay the same', () => {
  expect(lines.filter((l) => l === 'BEGIN:VEVENT')).toHaveLength(3);
  expect(lines).toEqual(
    expect.arrayContaining([
      'DTSTART:20261119T170000Z',
      'DTEND:20261120T020000Z',
      'DTSTART:20261119T220000Z',
      'DTEND:20261120T010000Z',
    ]),
  );
  expect(lines).toEqual(
    expect.arrayContaining(['SUMMARY:M 33', 'DESCRIPTION:15 frames planned', 'UID:plan-1.night@keen-meridian']),
  );
  // what would end a value is escaped
  expect(lines).toContain('LOCATION:Yard\\; north');
  expect(text).toContain('keen-meridian');
});
