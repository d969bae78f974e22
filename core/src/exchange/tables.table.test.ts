import { describe, expect, test } from '@jest/globals';
import { decimalOf, numberIn } from './cells.ts';
import { readFocusCsv } from './focusCsv.ts';
import { readGuideCsv } from './guideCsv.ts';
import { readPartsCsv } from './partsCsv.ts';
import { readFramesCsv } from './framesCsv.ts';
import { readHeading } from './headings.ts';
import { readInstant } from './instant.ts';
import { rounds } from '../test/rounds.ts';

const iso = (s: string) => (Number.isNaN(Date.parse(s)) ? s : new Date(s).toISOString());
/** What somebody writes for a moment, and the wall clock it is; null: refused, 'ask': could be two. */
const TIMES: [string, string | null | 'ask'][] = [
  ['2026-11-24T20:15:00Z', '2026-11-24T20:15:00Z'],
  ['2026-11-24T20:15:00', '2026-11-24T20:15:00Z'],
  ['2026-11-24 20:15:00', '2026-11-24T20:15:00Z'],
  ['2026-11-24 20:15', '2026-11-24T20:15:00Z'],
  ['2026-11-24T20:15:00.5', '2026-11-24T20:15:00.5Z'],
  ['2026-11-24T20:15:00,5', '2026-11-24T20:15:00.5Z'],
  ['2026/11/24 20:15:00', '2026-11-24T20:15:00Z'],
  ['2026.11.24 20:15', '2026-11-24T20:15:00Z'],
  ['20261124T201500', '2026-11-24T20:15:00Z'],
  ['20261124 20:15', '2026-11-24T20:15:00Z'],
  ['24.11.2026 20:15', '2026-11-24T20:15:00Z'],
  ['4.1.2026 20:15', '2026-01-04T20:15:00Z'],
  ['24/11/2026 20:15', '2026-11-24T20:15:00Z'],
  ['11/24/2026 20:15', '2026-11-24T20:15:00Z'],
  ['03/04/2026 20:15', 'ask'],
  ['04/04/2026 20:15', '2026-04-04T20:15:00Z'],
  ['24-11-2026 20:15', '2026-11-24T20:15:00Z'],
  ['11/24/2026 8:15 PM', '2026-11-24T20:15:00Z'],
  ['11/24/2026 12:15 AM', '2026-11-24T00:15:00Z'],
  ['11/24/2026 12:15 pm', '2026-11-24T12:15:00Z'],
  ['24.11.26 20:15', '2026-11-24T20:15:00Z'],
  ['2026-11-24, 20:15', '2026-11-24T20:15:00Z'],
  ['2026-02-30 20:15', null],
  ['2026-02-29 20:15', null],
  ['2028-02-29 20:15', '2028-02-29T20:15:00Z'],
  ['2026-04-31 20:15', null],
  ['30.02.2026 20:15', null],
  ['2026-13-01 20:15', null],
  ['2026-00-10 20:15', null],
  ['2026-11-24 25:15', null],
  ['2026-11-24 20:61', null],
  ['2026-11-24 20:15:61', null],
  ['11/24/2026 13:15 PM', null],
  ['yesterday', null],
  ['', null],
  ['20:15', null],
  ['2026-11-24 evening', null],
  ['2026-11-24T20:15:00 CET', null],
  ['13/13/2026 20:15', null],
  ['2026-11-24T', '2026-11-24T00:00:00Z'],
];
describe('moments', () => {
  test.each(TIMES)('%s', (text, expected) => {
    const got = readInstant(text);
    if (expected === 'ask') expect(got).toMatchObject({ ok: false, doubt: true });
    else if (expected === null) expect(got).toMatchObject({ ok: false, doubt: false });
    else expect(got.ok && new Date(got.value.wallMs).toISOString()).toBe(iso(expected));
  });
  test('every day of four years in six spellings', () => {
    for (let k = 0; k < 1461; k += rounds(7, 1)) {
      const day = new Date(Date.UTC(2025, 0, 1) + k * 86_400_000 + (k % 86_400) * 1000);
      const [y, m, d, t] = [
        day.getUTCFullYear(),
        day.getUTCMonth() + 1,
        day.getUTCDate(),
        day.toISOString().slice(11, 19),
      ];
      const two = (n: number) => String(n).padStart(2, '0');
      for (const text of [
        `${y}-${two(m)}-${two(d)}T${t}`,
        `${y}/${m}/${d} ${t}`,
        `${two(d)}.${two(m)}.${y} ${t}`,
        `${d}.${m}.${y} ${t}`,
        `${y}${two(m)}${two(d)}T${t.replaceAll(':', '')}`,
      ]) {
        const got = readInstant(text);
        expect([text, got.ok && got.value.wallMs]).toEqual([text, day.getTime()]);
      }
      expect([d, m, readInstant(`${d}/${m}/${y} ${t}`, 'dmy')]).toMatchObject([
        d,
        m,
        { ok: true, value: { wallMs: day.getTime() } },
      ]);
      expect([d, m, readInstant(`${m}/${d}/${y} ${t}`, 'mdy')]).toMatchObject([
        d,
        m,
        { ok: true, value: { wallMs: day.getTime() } },
      ]);
    }
  });
});

describe('decimal signs', () => {
  test.each<[string[], '.' | ',' | 'doubt']>([
    [['1.5', '2.25'], '.'],
    [['1,5', '2,25'], ','],
    [['1,200'], 'doubt'],
    [['12,345', '1,200'], 'doubt'],
    [['1,200', '0.5'], '.'],
    [['1,200', '0,5'], ','],
    [['1.234,5'], ','],
    [['1,234.5'], '.'],
    [['1,234,567'], '.'],
    [['1.234.567'], ','],
    [['12.358', '12362'], 'doubt'],
    [['12.358', '12.362'], '.'],
    [['0.125'], '.'],
    [['0,125'], ','],
    [['300', '600'], '.'],
    [['1.5', '2,5'], 'doubt'],
    [['12345,5'], ','],
    [['120.000'], '.'],
    [['abc'], '.'],
    [[], '.'],
    [['−1,5'], ','],
    [['1 200,5'], ','],
  ])('%j', (cells, sign) => expect(decimalOf(cells)).toBe(sign));
  test.each<[string, '.' | ',', number | null]>([
    ['1.5', '.', 1.5],
    ['1,5', ',', 1.5],
    ['1,200', '.', 1200],
    ['1,200', ',', 1.2],
    ['1.234,5', ',', 1234.5],
    ['1,234.5', '.', 1234.5],
    ['12,34', '.', null],
    ['0x12C', '.', null],
    ['1e3', '.', 1000],
    ['', '.', null],
    ['1.2.3', '.', null],
    ['5 5', '.', null],
    ['-3', '.', -3],
    ['.5', '.', 0.5],
    ['Infinity', '.', null],
    ['1,2,3', '.', null],
    // as programs write doubles out
    ['0.8414709848078965', '.', 0.8414709848078965],
    ['-0.14550003380861354', '.', -0.14550003380861354],
    ['0.004425697988050785', '.', 0.004425697988050785],
    ['1.7976931348623157e308', '.', 1.7976931348623157e308],
    ['0,30000000000000004', ',', 0.30000000000000004],
    ['2460999.123456789012345', '.', 2460999.123456789],
  ])('%s with %s', (text, sign, value) => expect(numberIn(text, sign)).toBe(value));
});

describe('headings', () => {
  test.each<[string, string, string | null, 'utc' | 'local' | null]>([
    ['Exposure (min)', 'exposure', 'min', null],
    ['exposure_ms', 'exposure', 'ms', null],
    ['ExposureTime', 'exposure time', null, null],
    ['Exposure [s]', 'exposure', 's', null],
    ['temp (F)', 'temp', 'F', null],
    ['Temp °C', 'temp', 'C', null],
    ['Sensor Temperature (K)', 'sensor temperature', 'K', null],
    ['time (UTC)', 'time', null, 'utc'],
    ['local time', 'time', null, 'local'],
    ['Date/Time UTC', 'date time', null, 'utc'],
    ['time (local)', 'time', null, 'local'],
    ['seconds', 'seconds', null, null],
    ['# frames', 'number frames', null, null],
    ['ExposureNumber', 'exposure number', null, null],
    ['focuser temp', 'focuser temp', null, null],
    ['UTC', 'utc', null, 'utc'],
    ['Filter', 'filter', null, null],
    ['exp_sec', 'exp', 's', null],
  ])('%s', (column, words, unit, zone) => expect(readHeading(column)).toEqual({ column, words, unit, zone }));
});

describe('tables of frames', () => {
  const first = (csv: string, ...more: [Parameters<typeof readFramesCsv>[1]?, Parameters<typeof readFramesCsv>[2]?]) =>
    readFramesCsv(csv, ...more);
  test.each<[string, object]>([
    ['filter,exposure\nL,60', { exposureS: 60 }],
    ['filter,exposure (min)\nL,5', { exposureS: 300 }],
    ['filter,exposure_ms\nL,500', { exposureS: 0.5 }],
    ['filter,exposure\nL,5 min', { exposureS: 300 }],
    ['filter,exposure\nL,300s', { exposureS: 300 }],
    ['filter;exposure\nL;1,5', { exposureS: 1.5 }],
    ['filter,exposure,temp (F)\nL,60,14', { sensorC: -10 }],
    ['filter,exposure,sensor temp\nL,60,-10', { sensorC: -10 }],
    ['filter,exposure,CCD Temp (K)\nL,60,263.15', { sensorC: -10 }],
    ['filter,exposure,temp\nL,60,14 F', { sensorC: -10 }],
    ['filter,exposure,ambient temp\nL,60,12', { sensorC: null }],
    ['filter,exposure,focuser temp\nL,60,12', { sensorC: null }],
    ['ExposureNumber,Filter,Exposure\n7,L,60', { exposureS: 60, count: 1 }],
    ['filter,exposure,time\nL,60,24.11.2026 20:15', { startedAt: '2026-11-24T20:15:00.000Z' }],
    ['filter,exposure,Datum,Zeit\nL,60,24.11.2026,20:15:30', { startedAt: '2026-11-24T20:15:30.000Z' }],
    ['filter,exposure,date,time (UTC)\nL,60,2026-11-24,20:15', { startedAt: '2026-11-24T20:15:00.000Z' }],
    ['filter,exposure,time\nL,60,11/24/2026 8:15 PM', { startedAt: '2026-11-24T20:15:00.000Z' }],
    ['filter,exposure,frames\nL,60,12', { count: 12 }],
    ['filter,exposure,# frames\nL,60,12', { count: 12 }],
    ['filter,exposure,gain\nL,60,100', { gain: 100 }],
    ['filter,exp\nL,60', { exposureS: 60 }],
    ['Target,Filter,Exp. Time\nM 31,L,60', { exposureS: 60, object: 'M 31' }],
  ])('%j', (csv, frame) => {
    const got = first(csv);
    expect([got.asks, got.bad]).toEqual([[], []]);
    expect(got.frames[0]).toMatchObject(frame);
    if ('sensorC' in frame && frame.sensorC !== null)
      expect(got.frames[0]!.sensorC).toBeCloseTo(frame.sensorC as number, 9);
  });
  test.each<[string, string]>([
    ['ExposureNumber,Filter\n7,L', 'column'],
    ['filter,exposure,exposure time\nL,60,60', 'column'],
    ['filter,exposure\nL,"1,200"', 'decimal'],
    ['filter,exposure\nL,"12,345"\nR,"1,200"', 'decimal'],
    ['filter,exposure,time\nL,60,03/04/2026 20:15', 'dayOrder'],
    ['filter,exposure,local time\nL,60,2026-11-24 20:15', 'zone'],
  ])('%j is asked about, and no row is read before', (csv, what) => {
    const got = first(csv);
    expect([got.frames, got.asks.map((a) => a.what)]).toEqual([[], [what]]);
    expect(got.sample.length).toBeGreaterThan(0);
  });
  test('answers are kept to', () => {
    expect(first('filter,exposure\nL,"1,200"', undefined, { decimal: '.' }).frames[0]!.exposureS).toBe(1200);
    expect(first('filter,exposure\nL,"1,200"', undefined, { decimal: ',' }).frames[0]!.exposureS).toBe(1.2);
    expect(
      first('filter,exposure,time\nL,60,03/04/2026 20:15', undefined, { dayOrder: 'mdy' }).frames[0]!.startedAt,
    ).toBe('2026-03-04T20:15:00.000Z');
    expect(
      first('filter,exposure,local time\nL,60,2026-11-24 20:15', undefined, { zone: 'Europe/Vienna' }).frames[0]!
        .startedAt,
    ).toBe('2026-11-24T19:15:00.000Z');
    expect(
      first('ExposureNumber,Filter\n7,L', { exposure: 'ExposureNumber', filter: 'Filter' }).frames[0]!.exposureS,
    ).toBe(7);
  });
  test.each(['L,0x12C', 'L,-5', 'L,1e9', 'L,long', 'L,5 parsec', 'L,1:30'])('%s is refused with its line', (row) => {
    const got = first(`filter,exposure\n${row}`);
    expect([got.frames, got.bad[0]!.line]).toEqual([[], 2]);
  });
  test('a 30th of February is told, not rolled over', () =>
    expect(first('filter,exposure,time\nL,60,2026-02-30 20:15').bad[0]!.reason).toContain('28 days'));
});

describe('focus logs', () => {
  test.each<[string, object]>([
    ['filter,position,focuser temp\nL,12362,8.5', { position: 12362, temperatureC: 8.5 }],
    ['filter,focuser temp,position\nL,8.5,12362', { position: 12362, temperatureC: 8.5 }],
    ['Filter;Position;Datum;Uhrzeit\nL;12362;24.11.2026;20:15', { time: '2026-11-24T20:15:00.000Z' }],
    ['filter,position,temp (F)\nL,12362,50', { temperatureC: 10 }],
    ['filter,position,hfd\nL,12362,2.5', { hfd: 2.5 }],
    ['filter,position,hfr\nL,12362,2.5', { hfd: 5 }],
    ['filter,"position"\nL,"12,362.5"', { position: 12362.5 }],
    ['filter,position,time\nL,12362,24.11.2026 20:15:00', { time: '2026-11-24T20:15:00.000Z' }],
  ])('%j', (csv, run) => {
    const got = readFocusCsv(csv);
    expect([got.asks, got.bad]).toEqual([[], []]);
    expect(got.runs[0]).toMatchObject(run);
  });
  test('“12.358” beside 12362 is asked about; so is a position that only looks like one', () => {
    expect(readFocusCsv('filter,position\nL,12.358\nR,12362')).toMatchObject({
      runs: [],
      asks: [{ what: 'decimal', field: 'position', sample: '12.358' }],
    });
    expect(
      readFocusCsv('filter,position\nL,12.358\nR,12362', undefined, false, { decimal: ',' }).runs.map(
        (r) => r.position,
      ),
    ).toEqual([12358, 12362]);
    expect(readFocusCsv('filter,focuser offset\nL,5')).toMatchObject({
      runs: [],
      asks: [{ what: 'column', field: 'position' }],
    });
    expect(readFocusCsv('filter,focuser temp\nL,5').bad[0]!.reason).toContain('position');
  });
});

/** A value with a decimal comma between commas, or a comma in a text: every cell behind it stands one column too far right. */
describe('rows with more cells than the heading', () => {
  const guide = (row: string) => {
    const rows = Array.from({ length: 20 }, (_, i) => `${i},0.1,0.2`).join('\n');
    const { samples, bad } = readGuideCsv(`time_s,ra_arcsec,dec_arcsec\n${rows}\n${row}`);
    return { there: samples.length - 20, bad };
  };
  const focus = (row: string) => {
    const { runs, bad } = readFocusCsv(`filter,position,temperature_c\n${row}`);
    return { there: runs.length, bad };
  };
  const frames = (row: string) => {
    const { frames, bad } = readFramesCsv(`file,filter,exposure_s\n${row}`);
    return { there: frames.length, bad };
  };
  const parts = (row: string) => {
    const { parts, bad } = readPartsCsv(`name,mass_kg,length_mm\n${row}`);
    return { there: parts.length, bad };
  };
  test.each<[string, (row: string) => { there: number; bad: { reason: string }[] }, string, boolean]>([
    ['guide log', guide, '20,0,12,0,34', false],
    ['guide log', guide, '20,0.1,0.2,', true],
    ['guide log', guide, '20,0.1,0.2,,,  ,', true],
    ['guide log', guide, '20,0.1,0.2,dithered', false],
    ['focus log', focus, 'L,12362,8,5', false],
    ['focus log', focus, 'L,12362,8.5', true],
    ['focus log', focus, 'L,12362,8.5,', true],
    ['focus log', focus, 'L,12,362,8.5', false],
    ['frames', frames, 'a.fits,L,1,5', false],
    ['frames', frames, 'a.fits,L,1.5', true],
    ['frames', frames, 'M 31, first.fits,L,60', false],
    ['frames', frames, '"M 31, first.fits",L,60,', true],
    ['parts', parts, 'ring,0,5,20', false],
    ['parts', parts, 'ring,0.5,20', true],
    ['parts', parts, 'ring,0.5,20,,', true],
    ['parts', parts, 'ring, large,0.5,20', false],
  ])('%s: %#', (_what, read, row, good) => {
    const got = read(row);
    expect([row, got.there]).toEqual([row, good ? 1 : 0]);
    if (!good) expect(got.bad.at(-1)!.reason).toMatch(/has \d cells, the heading has 3: a comma within/);
  });
});

describe('pulses of a guide log', () => {
  const read = (heading: string, cell: string) =>
    readGuideCsv(`time_s,ra,dec,${heading}\n0,0.1,0.2,${cell}\n1,0.1,0.2,10`);
  test.each<[string, string, number | null]>([
    ['ra_pulse_ms', '120', 120],
    ['ra_pulse', '120', 120],
    ['ra_ms', '-120', -120],
    ['ra pulse (s)', '0.12', 120],
    ['ra_pulse_s', '0.12', 120],
    ['ra pulse (ms)', '−35', -35],
    ['ra_pulse_ms', '', 0],
    ['ra_pulse_ms', '-', 0],
    ['ra_pulse_ms', '120 W', null],
    ['ra_pulse_ms', 'W120', null],
    ['ra_pulse_ms', '0x10', null],
    ['ra_pulse_ms', 'none', null],
  ])('%s: “%s”', (heading, cell, ms) => {
    const { samples, bad } = read(heading, cell);
    if (ms === null) expect(bad[0]!.reason).toContain(`pulse “${cell}” is no number`);
    else expect([bad, samples[0]!.raPulseMs]).toEqual([[], expect.closeTo(ms, 9)]);
  });
  test('those in pixels are not taken for milliseconds', () => {
    expect(read('ra_pulse_px', '2')).toMatchObject({
      samples: [],
      bad: [{ reason: expect.stringContaining('milliseconds or seconds') }],
    });
  });
});

describe('a row that cannot be read is named by its line in the file', () => {
  // a blank line before the heading, another between rows, a cell of two lines: an editor counts them all
  const table = (heading: string, good: string, bad: string, between = '') =>
    `\n${heading}\r\n${good}\r\n${between}\r\n${bad}\r\n`;
  test.each<[string, { bad: { line: number }[] }, number]>([
    [
      'guide log',
      readGuideCsv(table('# made, somewhere; else\r\ntime_s,ra,dec', '0,0.1,0.2', '1,x,0.2', '# a pause, of sorts')),
      6,
    ],
    ['guide log, a comment with other signs first', readGuideCsv('# a;b;c;d;e\ntime_s,ra,dec\n0,0.1,0.2\n1,x,0.1'), 4],
    ['focus log', readFocusCsv(table('filter,position', 'L,12362', 'L,far')), 5],
    ['focus log with a note of two lines', readFocusCsv('filter,position,note\nL,12362,"one\ntwo"\nL,far,x'), 4],
    ['frames', readFramesCsv(table('filter,exposure', 'L,60', 'L,long')), 5],
    ['frames with a name of three lines', readFramesCsv('filter,exposure,file\nL,60,"a\nb\nc"\nL,long,d'), 5],
    ['parts', readPartsCsv(table('name,mass_kg', 'ring,0.5', 'ring,heavy')), 5],
    ['parts with a note of two lines', readPartsCsv('name,mass_kg,note\nring,0.5,"one\ntwo"\nring,heavy,x'), 4],
  ])('%s', (_what, { bad }, line) => expect(bad.map((b) => b.line)).toEqual([line]));
});
