import { describe, expect, test } from '@jest/globals';
import { readFitsHeader } from './fitsHeader.ts';
import { frameKindOf, readFrame, type ReadFrame } from './frameHeader.ts';

/** A header of these cards as a program writes them, eighty characters each. */
function header(cards: readonly string[]) {
  const text = [
    'SIMPLE  =                    T',
    'BITPIX  =                   16',
    'NAXIS   =                    0',
    ...cards,
    'END',
  ]
    .map((c) => c.padEnd(80))
    .join('');
  const bytes = new Uint8Array(Math.ceil(text.length / 2880) * 2880).fill(32);
  bytes.set([...text].map((c) => c.charCodeAt(0)));
  const got = readFitsHeader(bytes);
  if (!got.ok) throw new Error(got.message);
  return got.cards;
}
const read = (...cards: string[]) => readFrame(header(cards));
const string = (key: string, value: string, comment = '') =>
  `${key.padEnd(8)}= '${value.replace(/'/g, "''")}'${comment ? ` / ${comment}` : ''}`;
const number = (key: string, value: string, comment = '') =>
  `${key.padEnd(8)}= ${value.padStart(20)}${comment ? ` / ${comment}` : ''}`;

const at = (h: number, m: number, s: number) => 15 * (h + m / 60 + s / 3600);
const deg = (sign: 1 | -1, d: number, m: number, s: number) => sign * (d + m / 60 + s / 3600);
/** [right ascension, declination, expected degrees]; null: nothing is read. */
const PLACES: [string, string, number | null, number | null][] = [
  ['13:29:52.7', '+47:11:43', at(13, 29, 52.7), deg(1, 47, 11, 43)],
  ['13 29 52.7', '47 11 43', at(13, 29, 52.7), deg(1, 47, 11, 43)],
  ['13h29m52.7s', '+47d11m43s', at(13, 29, 52.7), deg(1, 47, 11, 43)],
  ['13h 29m 52.7s', '47d 11m 43s', at(13, 29, 52.7), deg(1, 47, 11, 43)],
  ['13h29m52s', '47°11\'43"', at(13, 29, 52), deg(1, 47, 11, 43)],
  ['13:29.878', '47:11.72', at(13, 29.878, 0), deg(1, 47, 11.72, 0)],
  ['13 29.878', '47 11.72', at(13, 29.878, 0), deg(1, 47, 11.72, 0)],
  ['00 42 44.3', '-00 12 30', at(0, 42, 44.3), deg(-1, 0, 12, 30)],
  ['00:42:44.3', '-00:12:30', at(0, 42, 44.3), deg(-1, 0, 12, 30)],
  ['05 35 17.3', '-05 23 28', at(5, 35, 17.3), deg(-1, 5, 23, 28)],
  ['5:35:17', '-5:23:28', at(5, 35, 17), deg(-1, 5, 23, 28)],
  ['23:59:59.99', '+89:59:59', at(23, 59, 59.99), deg(1, 89, 59, 59)],
  ['83.822', '-5.391', 83.822, -5.391],
  ['202.4696', '+47.1953', 202.4696, 47.1953],
  ['202d28\'10"', '47 11 43', deg(1, 202, 28, 10), deg(1, 47, 11, 43)],
  ['25:00:00', '10:00:00', null, null],
  ['13:60:00', '10:00:00', null, null],
  ['13:29:61', '10:00:00', null, null],
  ['13:29:52', '91:00:00', null, null],
  ['13:29:52', 'none', null, null],
  ['13:29:52.7.1', '10:00:00', null, null],
  ['13:29:52 N', '10:00:00', null, null],
];

describe('coordinates of a header', () => {
  test.each(PLACES)('%s %s', (ra, dec, raDeg, decDeg) => {
    for (const [r, d] of [
      ['OBJCTRA', 'OBJCTDEC'],
      ['RA', 'DEC'],
    ] as const) {
      const f = read(string(r, ra), string(d, dec));
      if (raDeg === null) expect([f.raDeg, f.decDeg]).toEqual([null, null]);
      else {
        expect(f.raDeg).toBeCloseTo(raDeg, 9);
        expect(f.decDeg).toBeCloseTo(decDeg!, 9);
      }
    }
  });
  test('every sign, separator and digit of a random place is read as it was written', () => {
    for (let k = 0; k < 400; k++) {
      const [h, m, s] = [k % 24, (k * 7) % 60, ((k * 13) % 600) / 10];
      const [d, dm, ds] = [(k * 5) % 90, (k * 11) % 60, (k * 17) % 60];
      const sign = k % 2 ? '-' : ['', '+'][k % 3 ? 0 : 1]!;
      const [a, b] = [
        [':', ':'],
        [' ', ' '],
        ['h', 'm'],
      ][k % 3]!;
      const [p, q] = [
        [':', ':'],
        [' ', ' '],
        ['d', 'm'],
      ][k % 3]!;
      const two = (n: number) => String(n).padStart(2, '0');
      const f = read(
        string('OBJCTRA', `${two(h)}${a}${two(m)}${b}${s.toFixed(1)}`),
        string('OBJCTDEC', `${sign}${two(d)}${p}${two(dm)}${q}${two(ds)}`),
      );
      if (h + m + s + d + dm + ds === 0) continue;
      expect([k, f.raDeg!.toFixed(8), f.decDeg!.toFixed(8)]).toEqual([
        k,
        at(h, m, s).toFixed(8),
        deg(sign === '-' ? -1 : 1, d, dm, ds).toFixed(8),
      ]);
    }
  });
  test('a number is degrees, or hours where its comment says so', () => {
    expect(read(number('RA', '13.4979', '[h] right ascension'), number('DEC', '47.2')).raDeg).toBeCloseTo(202.4685, 9);
    expect(read(number('RA', '202.4685', '[deg]'), number('DEC', '47.2')).raDeg).toBeCloseTo(202.4685, 9);
    expect(read(number('RA', '202.4685'), number('DEC', '47.2')).raDeg).toBeCloseTo(202.4685, 9);
  });
  test('a pair that was never filled gives way to one that was, and alone says nothing', () => {
    const filled = [string('OBJCTRA', '13 29 52'), string('OBJCTDEC', '47 11 43')];
    const unset = [number('RA', '0.0'), number('DEC', '0.0')];
    expect(read(...unset, ...filled).raDeg).toBeCloseTo(at(13, 29, 52), 9);
    expect(read(...unset).raDeg).toBeNull();
    expect(
      read(string('OBJCTRA', '00 00 00'), string('OBJCTDEC', '+00 00 00'), number('RA', '10.5'), number('DEC', '41'))
        .raDeg,
    ).toBe(10.5);
  });
  test('a solved picture is where its middle is, whatever stands first, and not in galactic numbers', () => {
    const plane = (crpix: number, ctype: [string, string], crval: [string, string], cd: string[]) => [
      number('NAXIS1', '1000'),
      number('NAXIS2', '800'),
      string('CTYPE1', ctype[0]),
      string('CTYPE2', ctype[1]),
      number('CRVAL1', crval[0]),
      number('CRVAL2', crval[1]),
      number('CRPIX1', String(crpix)),
      number('CRPIX2', '400.5'),
      ...cd.map((v, i) => number(['CD1_1', 'CD1_2', 'CD2_1', 'CD2_2'][i]!, v)),
    ];
    // the reference pixel stands 400 px from the middle: 400 × 0.001° / cos 60° in right ascension
    const off = read(...plane(100.5, ['RA---TAN', 'DEC--TAN'], ['150', '60'], ['-0.001', '0', '0', '0.001']));
    expect(off.raDeg).toBeCloseTo(150 - 0.8, 2);
    expect(off.decDeg).toBeCloseTo(60, 1);
    const turned = read(...plane(500.5, ['DEC--TAN', 'RA---TAN'], ['60', '150'], ['0.001', '0', '0', '-0.001']));
    expect([turned.raDeg, turned.decDeg]).toEqual([expect.closeTo(150, 6), expect.closeTo(60, 6)]);
    const galactic = plane(500.5, ['GLON-TAN', 'GLAT-TAN'], ['150', '60'], ['-0.001', '0', '0', '0.001']);
    expect(read(...galactic).raDeg).toBeNull();
    expect(read(...galactic, string('OBJCTRA', '13 29 52'), string('OBJCTDEC', '47 11 43')).raDeg).toBeCloseTo(
      at(13, 29, 52),
      9,
    );
  });
});

/** [cards, when it began]; null: it is not known. */
const TIMES: [string[], string | null][] = [
  [[string('DATE-OBS', '2026-11-24T20:15:03')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:03.5')], '2026-11-24T20:15:03.500Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:03.123456')], '2026-11-24T20:15:03.123Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:03Z')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:03+01:00')], '2026-11-24T19:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24 20:15:03')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:15')], '2026-11-24T20:15:00.000Z'],
  [[string('DATE-OBS', '2026/11/24'), string('TIME-OBS', '20:15:03')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24'), string('TIME-OBS', '20:15:03')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24'), string('UT', '20:15:03.25')], '2026-11-24T20:15:03.250Z'],
  [[string('DATE-OBS', '2026-11-24T00:00:00'), string('TIME-OBS', '20:15:03')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T00:00:00')], '2026-11-24T00:00:00.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:03'), string('TIMESYS', 'UTC')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:15:40'), string('TIMESYS', 'TAI')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T20:16:12.184'), string('TIMESYS', 'TT')], '2026-11-24T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-11-24T21:15:03'), string('TIMESYS', 'LOCAL')], null],
  [[string('DATE-OBS', '2026-02-30T20:15:03')], null],
  [[string('DATE-OBS', '2025-02-29T20:15:03')], null],
  [[string('DATE-OBS', '2028-02-29T20:15:03')], '2028-02-29T20:15:03.000Z'],
  [[string('DATE-OBS', '2026-13-01T20:15:03')], null],
  [[string('DATE-OBS', '2026-11-31T20:15:03')], null],
  [[string('DATE-OBS', '2026-11-24T24:15:03')], null],
  [[string('DATE-OBS', '2026-11-24T20:61:03')], null],
  [[string('DATE-OBS', '2026-11-24')], null],
  [[string('DATE-OBS', 'last night')], null],
];
describe('times of a header', () => test.each(TIMES)('%j', (cards, at) => expect(read(...cards).startedAt).toBe(at)));

const one = <K extends keyof ReadFrame>(key: K, rows: [string[], ReadFrame[K]][]) =>
  describe(key, () =>
    test.each(rows)('%j → %j', (cards, value) => {
      const got = read(...cards)[key];
      if (typeof value === 'number') expect(got).toBeCloseTo(value, 9);
      else expect(got).toEqual(value);
    }),
  );
one('exposureS', [
  [[number('EXPTIME', '300.0')], 300],
  [['EXPTIME =300.0'], 300],
  [['EXPTIME = 300.0 / seconds'], 300],
  [[number('EXPTIME', '3.0D2')], 300],
  [[number('EXPTIME', '3.0E+02')], 300],
  [[string('EXPTIME', '300.0')], 300],
  [[string('EXPTIME', '300 s')], 300],
  [[number('EXPOSURE', '0.001')], 0.001],
  [[number('EXPTIME', 'T')], null],
  [[string('EXPTIME', 'long')], null],
  [[number('EXPTIME', '-5')], null],
  [[number('EXPTIME', '1e6')], null],
  [[string('EXPTIME', '0x12C')], null],
]);
one('binning', [
  [[number('XBINNING', '2')], 2],
  [[string('BINNING', '2x2')], 2],
  [[string('BINNING', '2X2')], 2],
  [[string('CCDSUM', '2 2')], 2],
  [[string('XBINNING', '2:2')], 2],
  [[string('BINNING', '4')], 4],
  [[string('BINNING', 'none')], 1],
  [[], 1],
]);
one('sensorC', [
  [[number('CCD-TEMP', '-10.0')], -10],
  [[number('CCD-TEMP', '263.15', '[K] sensor')], -10],
  [[number('CCD-TEMP', '14.0', '[F]')], -10],
  [[number('CCD-TEMP', '14.0', '[deg F]')], -10],
  [[number('CCD-TEMP', '-10.0', '[C]')], -10],
  [[string('CCD-TEMP', '14 F')], -10],
  [[string('CCD-TEMP', '-10 C')], -10],
  [[string('CCD-TEMP', '263.15 K')], -10],
  // without a unit nobody cools to 263 °C
  [[number('CCD-TEMP', '263.15')], null],
]);
one('filter', [
  [[string('FILTER', 'Ha')], 'Ha'],
  [[string('FILTER1', 'open'), string('FILTER2', 'Ha')], 'Ha'],
  [[string('FILTER1', 'Clear'), string('FILTER2', 'R')], 'R'],
  [[string('FILTER1', 'Ha'), string('FILTER2', 'open')], 'Ha'],
  [[string('FILTER1', 'open'), string('FILTER2', 'open')], 'open'],
  [[string('FILTER1', 'Ha'), string('FILTER2', 'ND')], 'Ha + ND'],
  [[], ''],
]);
one('bayer', [
  [[string('BAYERPAT', 'RGGB')], 'RGGB'],
  [[string('BAYERPAT', 'NONE')], null],
  [[string('COLORTYP', 'MONO')], null],
  [[string('BAYERPAT', 'gbrg')], 'GBRG'],
  [[], null],
]);
one('object', [
  [["OBJECT  = 'M 31 & M 32'"], 'M 31 & M 32'],
  [
    ["OBJECT  = 'A long name that &'", "CONTINUE  'goes on &'", "CONTINUE  'and ends'"],
    'A long name that goes on and ends',
  ],
  [["OBJECT  = 'Barnard''s loop'"], "Barnard's loop"],
]);

describe('kinds of frames', () => {
  test.each([
    ['Light', 'light'],
    ['LIGHT FRAME', 'light'],
    ['Light Frame', 'light'],
    ['object', 'light'],
    ['Science', 'light'],
    ['Light - Dark subtracted', 'light'],
    ['Light (flat fielded)', 'light'],
    ['light, bias corrected', 'light'],
    ['Light-Dark', 'light'],
    ['Dark', 'dark'],
    ['DARK FRAME', 'dark'],
    ['Master Dark', 'dark'],
    ['Dark Frame', 'dark'],
    ['Flat', 'flat'],
    ['FLAT FIELD', 'flat'],
    ['Flat Field', 'flat'],
    ['twilight', 'flat'],
    ['Twilight Flat', 'flat'],
    ['skyflat', 'flat'],
    ['Dome Flat', 'flat'],
    ['SKY FLAT', 'flat'],
    ['Bias', 'bias'],
    ['Zero', 'bias'],
    ['BIAS FRAME', 'bias'],
    ['Dark Flat', 'darkFlat'],
    ['flatdark', 'darkFlat'],
    ['Flat Dark', 'darkFlat'],
    ['DarkFlat', 'darkFlat'],
    ['Focus', null],
    ['', null],
    ['snapshot', null],
  ] as const)('%s', (text, kind) => expect(frameKindOf(text)).toBe(kind));
});

describe('units that comments name, without brackets too', () => {
  test.each<[string, string, number | null]>([
    ['300', '[s] exposure', 300],
    ['300', 'exposure time in seconds', 300],
    ['300', 'Exposure time (s)', 300],
    ['300', 'seconds', 300],
    ['300', '', 300],
    ['300', 'of 3 in this set', 300],
    ['5', '[min]', 300],
    ['5', 'minutes', 300],
    ['5', 'exposure in minutes', 300],
    ['5', 'Exposure (min)', 300],
    ['300000', '[ms]', 300],
    ['300000', 'in milliseconds', 300],
    ['300000', 'millisecond', 300],
    ['3E8', 'exposure [us]', 300],
    ['0.1', 'hours', 360],
  ])('EXPTIME = %s / %s', (value, comment, seconds) => {
    const got = read(number('EXPTIME', value, comment)).exposureS;
    if (seconds === null) expect(got).toBeNull();
    else expect(got).toBeCloseTo(seconds, 6);
  });
  test.each<[string, number]>([
    ['[h]', 202.46958],
    ['hours', 202.46958],
    ['RA in hours', 202.46958],
    ['right ascension (hours)', 202.46958],
    ['in decimal hours', 202.46958],
    ['deg', 13.497972],
    ['RA in degrees', 13.497972],
    ['', 13.497972],
    ['[ICRS] of the hour', 13.497972],
  ])('RA = 13.497972 / %s', (comment, degrees) => {
    expect(read(number('RA', '13.497972', comment), number('DEC', '47.195')).raDeg).toBeCloseTo(degrees, 4);
  });
  test.each<[string, string, number]>([
    ['-10', '[C]', -10],
    ['14', 'Fahrenheit', -10],
    ['14.0', 'sensor in F', -10],
    ['263.15', 'K', -10],
    ['263.15', 'temperature (K)', -10],
    ['-10', 'sensor, degrees', -10],
  ])('CCD-TEMP = %s / %s', (value, comment, c) => {
    expect(read(number('CCD-TEMP', value, comment)).sensorC).toBeCloseTo(c, 9);
  });
  test.each<[string, string, number | null]>([
    ['480', '[mm]', 480],
    ['48', '[cm]', 480],
    ['0.48', 'm', 480],
    ['480', '', 480],
  ])('FOCALLEN = %s / %s', (value, comment, mm) =>
    expect(read(number('FOCALLEN', value, comment)).focalLengthMm).toBeCloseTo(mm!, 9),
  );
  test('a pixel in metres is one in micrometres', () =>
    expect(read(number('XPIXSZ', '3.76E-6', '[m]')).pixelUm).toBeCloseTo(3.76, 9));
});
describe('a header that says two things', () => {
  test.each<[string, string[], Partial<ReadFrame>]>([
    ['two lengths under one keyword', [number('EXPTIME', '300'), number('EXPTIME', '600')], { exposureS: null }],
    ['one length twice', [number('EXPTIME', '300'), number('EXPTIME', '300')], { exposureS: 300 }],
    ['two keywords, two lengths', [number('EXPTIME', '300'), number('EXPOSURE', '30')], { exposureS: null }],
    [
      'two keywords, one length in two units',
      [number('EXPTIME', '300'), number('EXPOSURE', '300000', '[ms]')],
      { exposureS: 300 },
    ],
    ['one of two never filled', [number('EXPTIME', '0'), number('EXPOSURE', '300')], { exposureS: 300 }],
    [
      'a bias',
      [string('IMAGETYP', 'Bias'), number('EXPTIME', '0'), number('EXPOSURE', '0')],
      { kind: 'bias', exposureS: 0 },
    ],
    ['a fraction', [number('EXPTIME', '1/30')], { exposureS: null }],
    ['two filters under one keyword', [string('FILTER', 'Ha'), string('FILTER', 'OIII')], { filter: '' }],
    [
      'two times',
      [string('DATE-OBS', '2026-11-18T20:00:00'), string('DATE-OBS', '2026-11-18T20:05:00')],
      { startedAt: null },
    ],
    ['two places', [number('RA', '13.2'), number('RA', '83.6'), number('DEC', '56.6')], { raDeg: null, decDeg: null }],
    ['two set points', [number('SET-TEMP', '-10'), number('SET-TEMP', '-20')], { setPointC: null }],
  ])('%s', (_what, cards, said) => expect(read(...cards)).toMatchObject(said));
});
