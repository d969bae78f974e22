import { describe, expect, test } from '@jest/globals';
import { readFramesCsv } from './framesCsv.ts';
import { recogniseText } from './recognise.ts';

describe('a table of frames', () => {
  test('columns are guessed, rows read, and a row may stand for several frames', () => {
    const got = readFramesCsv(
      'File,Object,Filter,Exposure time,Date (UTC),Frames\na.fits,M 31,L,60,2026-11-18 20:00:00,1\n,M 31,Ha,"300,0",,12\n',
    );
    expect(got.bad).toEqual([]);
    expect(got.frames).toMatchObject([
      { file: 'a.fits', filter: 'L', exposureS: 60, startedAt: '2026-11-18T20:00:00.000Z', count: 1 },
      { filter: 'Ha', exposureS: 300, startedAt: null, count: 12 },
    ]);
  });
  test('what cannot be read is told by its line', () => {
    const got = readFramesCsv('filter,exposure,time,kind\nL,long,,\nR,60,half past,\nG,60,,painting\nB,60,,dark\n');
    expect(got.bad.map((b) => b.line)).toEqual([2, 3, 4]);
    expect(got.frames).toMatchObject([{ filter: 'B', kind: 'dark' }]);
  });
  test('a table without an exposure is refused in words; a cell of 40,000 digits is answered at once', () => {
    expect(readFramesCsv('a,b\n1,2\n').bad[0]!.reason).toContain('exposure');
    const begun = performance.now();
    expect(readFramesCsv(`filter,exposure\nL,${'1'.repeat(40_000)}\n`).bad[0]!.reason).toContain('longer');
    expect(performance.now() - begun).toBeLessThan(500);
  });
});

describe('what a text file is', () => {
  test.each([
    ['time,ra error,dec error,snr\n0,0.1,0.2,30\n', 'guide-log'],
    ['# made tonight\nrun,filter,position,hfd,temperature\n1,L,9000,4,5\n', 'focus-log'],
    ['file,filter,exposure\na.fits,L,60\n', 'frames'],
    ['the moon was bright\nnothing else\n', null],
    ['1,2,3\n4,5,6\n', null],
  ])('%j', (text, kind) => {
    expect(recogniseText(text)).toBe(kind);
  });
});
