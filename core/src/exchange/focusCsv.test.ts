import { describe, expect, test } from '@jest/globals';
import { toCsv } from './csv.ts';
import { readFocusCsv } from './focusCsv.ts';
import { partsToCsv, readPartsCsv } from './partsCsv.ts';

describe('reading a focus log', () => {
  test('headings are guessed, delimiter and decimal comma recognised', () => {
    const got = readFocusCsv(
      'Filter;Focus Position;Temp;HFR;Date\nL;12045;4,5;2,31;2026-11-20 19:02:11\nHa;12160;4,1;2,40;2026-11-20T19:10:00Z\n',
    );
    expect(got.bad).toEqual([]);
    expect(got.runs).toEqual([
      {
        filter: 'L',
        position: 12045,
        hfd: 4.62,
        temperatureC: 4.5,
        time: '2026-11-20T19:02:11.000Z',
        points: [],
        line: 2,
      },
      {
        filter: 'Ha',
        position: 12160,
        hfd: 4.8,
        temperatureC: 4.1,
        time: '2026-11-20T19:10:00.000Z',
        points: [],
        line: 3,
      },
    ]);
  });
  test('bad rows are listed with line and reason; the others are kept', () => {
    const got = readFocusCsv(
      'filter,position,temperature\nL,12000,5\nR,abc,5\nG,12010\n,12020,4\nB,12030,900\n# a remark\nSII,12040,40F\n',
    );
    expect(got.runs.map((r) => r.filter)).toEqual(['L', 'SII']);
    expect(got.runs[1]!.temperatureC).toBeCloseTo(4.444, 3);
    expect(got.bad.map((b) => b.line)).toEqual([3, 4, 5, 6]);
    expect(got.bad[0]!.reason).toContain('abc');
    expect(got.bad[1]!.reason).toContain('2 cells');
  });
  test('points are gathered into runs, and a run that changes filter is refused', () => {
    const rows = ['a,L,100,4', 'a,L,120,3', 'b,R,100,4', 'b,G,120,3'];
    const got = readFocusCsv(`run,filter,position,hfd\n${rows.join('\n')}\n`);
    expect(got.runs).toHaveLength(1);
    expect(got.runs[0]!.points).toHaveLength(2);
    expect(got.bad[0]!.reason).toContain('changes filter');
  });
  test.each([
    ['', 'empty'],
    ['\u0000\u0001PNG', 'not a text file'],
    ['a,b\n1,2\n', 'filter and position'],
    ['x'.repeat(5_000_001), '5 MB'],
  ])('a file that cannot be used says why', (text, why) => {
    const got = readFocusCsv(text);
    expect(got.runs).toEqual([]);
    expect(got.bad[0]!.reason).toContain(why);
  });
  test('a cell that a spreadsheet would run is written harmless', () => {
    expect(toCsv([{ name: '=1+1' }])).toBe("name\n'=1+1\n".replace("'=1+1", '"\'=1+1"'));
  });
});

describe('the drawer as a file', () => {
  const part = {
    name: 'M54 spacer 10 mm',
    kind: 'adapter' as const,
    massKg: 0.025,
    lengthMm: 10,
    measuredMm: 10.02,
    count: 2,
    note: 'black; long',
    front: { size: 'M54x0.75', gender: 'female' as const },
  };
  test('what is written is read back the same', () => {
    expect(readPartsCsv(partsToCsv([part])).parts).toEqual([part]);
  });
  test('bad rows are named, the others kept; a wrong heading says what is right', () => {
    const got = readPartsCsv(
      'name,kind,mass_kg,front_size,front_gender\nring,adapter,0.01,,\nheavy,adapter,lots,,\n,adapter,1,,\ntube,cannon,3,,\nfaced,adapter,1,M48x0.75,both\n',
    );
    expect(got.parts.map((p) => p.name)).toEqual(['ring']);
    expect(got.bad.map((b) => b.line)).toEqual([3, 4, 5, 6]);
    expect(readPartsCsv('a,b\n1,2\n').bad[0]!.reason).toContain('mass_kg');
  });
});
