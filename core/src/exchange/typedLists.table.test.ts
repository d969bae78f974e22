import { describe, expect, test } from '@jest/globals';
import { words } from '../phrases/index.ts';
import { MOST_HORIZON_POINTS } from '../sky/index.ts';
import { readDrift, readHorizon } from './typedLists.ts';

/** A line of a horizon and its azimuth and altitude; null where it must be refused. */
const LINES: [string, [number, number] | null][] = [
  ['180 25', [180, 25]],
  ['  180   25  ', [180, 25]],
  ['180\t25', [180, 25]],
  ['180;25', [180, 25]],
  ['180 ; 25', [180, 25]],
  ['180,25', [180, 25]],
  ['180, 25', [180, 25]],
  ['180 ,25', [180, 25]],
  ['180 , 25', [180, 25]],
  ['180° 25°', [180, 25]],
  ['180°, 25°', [180, 25]],
  ['10.5 20.3', [10.5, 20.3]],
  ['10.5,20.3', [10.5, 20.3]],
  ['10.5, 20.3', [10.5, 20.3]],
  // a decimal comma is no end of a number
  ['10,5 20,3', [10.5, 20.3]],
  ['10,5;20,3', [10.5, 20.3]],
  ['10,5\t20,3', [10.5, 20.3]],
  ['10,5, 20,3', [10.5, 20.3]],
  ['10,5 20', [10.5, 20]],
  ['10 20,3', [10, 20.3]],
  // what could be either is refused
  ['10,5,20,3', null],
  ['10,5,20', null],
  ['10 5 20', null],
  ['180 25 3.5', null],
  ['180 25 the old oak', [180, 25]],
  // a decimal azimuth without its altitude, or both with a remark
  ['10,5 tree', null],
  ['180,25,oak', [180, 25]],
  ['180;25;"roof, east"', [180, 25]],
  ['-90 12', [270, 12]],
  ['−90 12', [270, 12]],
  ['+90 12', [90, 12]],
  ['0 -3', [0, -3]],
  ['0 −3', [0, -3]],
  ['360 5', [360, 5]],
  ['.5 .25', [0.5, 0.25]],
  ['361 5', null],
  ['-181 5', null],
  ['90 91', null],
  ['90 -11', null],
  ['north 12', null],
  ['180', null],
  ['180 high', null],
  ['1e2 5', [100, 5]],
  ['0x10 5', null],
  ['1.234,5 20', null],
  ['1 234,5 20', null],
  ['12:30 5', null],
  ['NaN 5', null],
  ['90 Infinity', null],
  ['90/12', null],
];

describe('a horizon as it is pasted', () => {
  test.each(LINES)('“%s”', (line, expected) => {
    const got = readHorizon(`0 1\n${line}`);
    if (expected === null) {
      expect(got.ok).toBe(false);
      if (!got.ok) expect(words(got.trouble)).toContain('Line 2: “');
    } else
      expect(got).toEqual({
        ok: true,
        rows: [[0, 1], expected]
          .map(([azimuthDeg, altitudeDeg]) => ({ azimuthDeg: azimuthDeg!, altitudeDeg: altitudeDeg! }))
          .sort((a, b) => a.azimuthDeg - b.azimuthDeg),
      });
  });
  test('all lines are cut in one way: a comma is not a decimal sign here and a separator there', () => {
    expect(readHorizon('10,5 20,3\n15,5').ok).toBe(false);
    expect(readHorizon('10,5\n15,7\n20 9')).toEqual({
      ok: true,
      rows: [
        { azimuthDeg: 10, altitudeDeg: 5 },
        { azimuthDeg: 15, altitudeDeg: 7 },
        { azimuthDeg: 20, altitudeDeg: 9 },
      ],
    });
    // a thousand or a decimal place: nothing in the list says which
    expect(readHorizon('10 1,200').ok).toBe(false);
  });
  test('headings, remarks, empty lines and any end of line are no points; walls keep their order', () => {
    const text = 'Azimuth,Altitude\r\n# surveyed in May\r\n\r\n200,10\r\n200,30\r90,5\n';
    expect(readHorizon(text)).toEqual({
      ok: true,
      rows: [
        { azimuthDeg: 90, altitudeDeg: 5 },
        { azimuthDeg: 200, altitudeDeg: 10 },
        { azimuthDeg: 200, altitudeDeg: 30 },
      ],
    });
    for (const nothing of ['', '\n\n', '# 1 2', 'azimuth altitude'])
      expect([nothing, readHorizon(nothing).ok]).toEqual([nothing, false]);
    const many = readHorizon('1 1\n'.repeat(MOST_HORIZON_POINTS + 1));
    expect(many.ok ? '' : words(many.trouble)).toContain('at most 720');
  });
  test('a long line without an end is no point, and read as quickly as any', () => {
    // one that goes back over what it read would take hours
    for (const line of [`${' '.repeat(200_000)},${', '.repeat(100_000)}`, `1${'0'.repeat(300_000)} 2`])
      expect(readHorizon(line).ok).toBe(false);
  });
});

const AT = '2026-11-24T21:05:00.000Z';
const FRAMES: [string, [string, number, number] | null][] = [
  ['2026-11-24T21:05:00Z, 1204.5, 873.2', [AT, 1204.5, 873.2]],
  ['2026-11-24T21:05:00Z,1204.5,873.2', [AT, 1204.5, 873.2]],
  ['2026-11-24T21:05:00Z;1204,5;873,2', [AT, 1204.5, 873.2]],
  ['2026-11-24 21:05:00, 1204.5, 873.2', [AT, 1204.5, 873.2]],
  ['2026-11-24 21:05 1204.5 873.2', [AT, 1204.5, 873.2]],
  ['2026-11-24T22:05:00+01:00\t1204,5\t873,2', [AT, 1204.5, 873.2]],
  ['2026-11-24T22:05:00+0100, 1204.5, 873.2', [AT, 1204.5, 873.2]],
  ['"2026-11-24T21:05:00", 1204.5, 873.2', [AT, 1204.5, 873.2]],
  ['2026-11-24T21:05:00.250Z, 1, 2', ['2026-11-24T21:05:00.250Z', 1, 2]],
  ['2026-11-24T21:05:00,250Z; 1; 2', ['2026-11-24T21:05:00.250Z', 1, 2]],
  ['2026-11-24T21:05:00Z, 1204,5, 873,2', [AT, 1204.5, 873.2]],
  ['2026-11-24T21:05:00Z,1204,5,873,2', null],
  ['24.11.2026 21:05, 1, 2', ['2026-11-24T21:05:00.000Z', 1, 2]],
  ['11/12/2026 21:05, 1, 2', null],
  ['2026-11-24, 1, 2', null],
  ['2026-02-30T21:05:00Z, 1, 2', null],
  ['2026-11-24 21:05:00,1204.5,873.2', [AT, 1204.5, 873.2]],
  ['2026-13-24T21:05:00Z, 1, 2', null],
  ['21:05:00, 1, 2', null],
  ['2026-11-24T21:05:00Z, 1', null],
  ['2026-11-24T21:05:00Z, 1, 2, 3', null],
];
describe('places of a star as they are pasted', () => {
  test.each(FRAMES)('“%s”', (line, expected) => {
    const got = readDrift(`time, x, y\n${line}`);
    if (expected === null)
      expect([got.ok, got.ok ? '' : words(got.trouble)]).toEqual([false, expect.stringContaining('Line 2')]);
    else expect(got).toEqual({ ok: true, rows: [{ time: expected[0], xPx: expected[1], yPx: expected[2] }] });
  });
});
