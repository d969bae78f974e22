import { expect, test } from '@jest/globals';
import { readGuideCsv } from './guideCsv.ts';

test('a log of dates tells when it began, one of seconds does not', () => {
  const dated = (rows: string) => readGuideCsv(`time,ra,dec\n${rows}`).beganAt;
  expect(dated('2026-11-24T22:00:00+02:00,0,0\n2026-11-24T22:00:02+02:00,0,0\n')).toBe('2026-11-24T20:00:00.000Z');
  expect(dated('2026-11-24 20:00:00,0,0\n')).toBe('2026-11-24T20:00:00.000Z');
  expect(dated('0,0,0\n2,0,0\n')).toBeNull();
});
test('columns are guessed, pixels are scaled, dates become seconds', () => {
  const got = readGuideCsv(
    'Time,dx,dy,RA pulse,Dec pulse,SNR\n2026-11-24T20:00:00Z,0.5,-0.25,40,-20,33\n2026-11-24T20:00:03Z,0.1,0.2,0,0,31\n',
    undefined,
    2,
  );
  expect(got.bad).toEqual([]);
  expect(got.samples[0]).toEqual({
    timeS: 0,
    raArcsec: 1,
    decArcsec: -0.5,
    raPulseMs: 40,
    decPulseMs: -20,
    snr: 33,
    state: 'guiding',
  });
  expect(got.samples[1]!.timeS).toBe(3);
});
test('bad rows are named; a lost star keeps its place; gaps are counted', () => {
  const rows = [
    '0,0,0,guiding',
    '3,0.1,x,guiding',
    '3,,,lost',
    '2,0,0,guiding',
    '6,0,0,dancing',
    ...Array.from({ length: 10 }, (_, i) => `${9 + 3 * i},0,0,guiding`),
    '900,0,0,guiding',
  ];
  const got = readGuideCsv(`time,ra,dec,state\n${rows.join('\n')}\n`);
  expect(got.bad.map((b) => b.line)).toEqual([3, 5, 6]);
  expect(got.samples[1]!.state).toBe('lost');
  expect(got.gaps).toBe(1);
});
test.each([
  ['', 'empty'],
  ['time,ra,dec\n', 'not one row'],
  ['a,b\n1,2\n', 'time, ra, dec'],
  ['\u0000', 'not a text file'],
])('what cannot be used says why', (text, why) => expect(readGuideCsv(text).bad[0]!.reason).toContain(why));
test('units are read from headings and cells; mixed ones are refused with both named', () => {
  expect(readGuideCsv('time,ra_px,dec_px\n0,1,2\n2,1,2\n').unit).toBe('px');
  expect(readGuideCsv('time,ra,dec\n0,0.5″,1.5"\n')).toMatchObject({
    unit: 'arcsec',
    bad: [],
    samples: [{ raArcsec: 0.5, decArcsec: 1.5 }],
  });
  expect(readGuideCsv('time,ra_px,dec_arcsec\n0,1,2\n').bad[0]!.reason).toContain(
    'in pixels and “dec_arcsec” in arcseconds',
  );
  const mixed = readGuideCsv('time,ra,dec\n0,0.5 px,1 px\n2,0.5",1"\n4,0.2px,0.1px\n');
  expect(mixed.samples).toHaveLength(2);
  expect(mixed.bad).toEqual([{ line: 3, text: '2, 0.5", 1"', reason: 'is in arcseconds where the log is in pixels' }]);
  const times = readGuideCsv('time,ra,dec\n2026-11-24T20:00:00Z,0,0\n3,0,0\n2026-11-24T20:00:06Z,0,0\n');
  expect(times.bad[0]!.reason).toContain('in seconds where rows before are dates');
  expect(times.samples.map((s) => s.timeS)).toEqual([0, 6]);
});
test('two million rows are turned away with a word, quickly', () => {
  const text = `time,ra,dec\n${'1,0,0\n'.repeat(2_000_000)}`;
  expect(readGuideCsv(text).bad[0]!.reason).toContain('2,000,000 rows');
  // counted as they are read: neither remarks nor empty lines are rows
  const few = readGuideCsv(`# from the guider\n\ntime,ra,dec\n${'1,0,0\n  \n# cloud\n'.repeat(3)}`);
  expect(few.rows).toBe(3);
});
