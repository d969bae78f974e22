import { byNight } from '../record/index.ts';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { frameKindOf, readFitsHeader, readFrame, type ReadFrame } from '../exchange/index.ts';
import { seeded } from '../statistics/index.ts';
import { assignFrame } from './assign.ts';
import { foldedFilter, matchFilter } from './filterName.ts';
import { focuserDrift } from './focuserDrift.ts';
import { readTypedFrames } from './typed.ts';

const FIXTURES = join(import.meta.dirname, '../../../e2e/fixtures');
const header = (name: string) => {
  const got = readFitsHeader(new Uint8Array(readFileSync(join(FIXTURES, name))));
  if (!got.ok) throw new Error(got.message);
  return got.cards;
};

describe('frames as an independent library wrote them', () => {
  test('every fixture is read, and its kind known', () => {
    const names = readdirSync(FIXTURES).filter((f) => f.endsWith('.fits'));
    expect(names.length).toBeGreaterThan(10);
    for (const n of names) {
      const f = readFrame(header(n));
      expect([n, f.kind]).toEqual([n, n.split('-')[0] as string]);
      expect(f.startedAt).toMatch(/^2026-11-1[89]T/);
      expect([f.gain, f.setPointC, f.binning, f.pixelUm, f.focalLengthMm]).toEqual([100, -10, 1, 3.76, 480]);
    }
  });
  test('degrees and sexagesimal hours are the same place; fractions of a second are kept', () => {
    const [a, b] = [readFrame(header('light-ha-1.fits')), readFrame(header('light-o3-1.fits'))];
    expect(a.raDeg).toBeCloseTo(b.raDeg!, 2);
    expect(a.decDeg).toBeCloseTo(b.decDeg!, 2);
    expect(a.startedAt).toBe('2026-11-18T20:10:00.500Z');
    expect([a.focuserPosition, a.focuserC, a.filter]).toEqual([12400, 4, 'H-alpha 3nm']);
  });
  test('another keyword is taken where one was chosen; what cannot be read is null', () => {
    const cards = new Map<string, string | number>([
      ['MYFILT', 'Ha'],
      ['EXPTIME', 'long'],
      ['DATE-OBS', 'yesterday'],
      ['RA', 400],
      ['DEC', 5],
      ['XBINNING', 99],
    ]);
    const f = readFrame(cards, { filter: 'MYFILT' });
    expect(f).toMatchObject({
      filter: 'Ha',
      exposureS: null,
      startedAt: null,
      raDeg: null,
      decDeg: null,
      binning: 1,
      kind: 'light',
      kindSaid: false,
    });
    expect(
      readFrame(
        new Map([
          ['DATE-OBS', '2026-01-02'],
          ['TIME-OBS', '03:04:05'],
        ]),
      ).startedAt,
    ).toBe('2026-01-02T03:04:05.000Z');
  });
  test.each([
    ['Light Frame', 'light'],
    ['DARKFLAT', 'darkFlat'],
    ['Flat Dark', 'darkFlat'],
    ['master dark', 'dark'],
    ['Zero', 'bias'],
    ['object', 'light'],
    ['', null],
  ])('“%s” is %s', (text, kind) => {
    expect(frameKindOf(text)).toBe(kind);
  });
});

describe('filters by whatever they are called', () => {
  const held = ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'];
  test.each([
    ['H-alpha 3nm', 'Ha'],
    ['h_alpha', 'Ha'],
    ['Hα', 'Ha'],
    ['HA', 'Ha'],
    ['O3', 'OIII'],
    ['Oxygen III 6.5 nm', 'OIII'],
    ['sulfur2', 'SII'],
    ['Lum', 'L'],
    ['luminance', 'L'],
    ['Red', 'R'],
    ['green', 'G'],
    ['Triband', null],
    ['', null],
  ])('“%s” is %s', (spelled, filter) => {
    expect(matchFilter(spelled, held)).toBe(filter);
  });
  test('what was assigned by hand wins, for every spelling that folds alike', () => {
    expect(matchFilter('Tri-band!', held, { [foldedFilter('triband')]: 'Ha' })).toBe('Ha');
    expect(matchFilter('triband', ['L'], { triband: 'Ha' })).toBeNull();
  });
  test('a colour camera’s frames name no filter; with two that could be meant nothing is guessed', () => {
    expect(matchFilter('', ['colour'])).toBe('colour');
    expect(matchFilter('OSC', ['colour'])).toBe('colour');
    expect(matchFilter('', ['NorthGlass'])).toBe('NorthGlass');
    expect(matchFilter('Ha', ['Ha 3nm', 'Ha 7nm'])).toBeNull();
    expect(matchFilter('Ha 3nm', ['Ha 3nm', 'Ha 7nm'])).toBe('Ha 3nm');
  });
  test('a rig’s own filters always match themselves', () => {
    const name = fc.string({ minLength: 1, maxLength: 12 }).filter((s) => s.trim() !== '');
    fc.assert(
      fc.property(fc.uniqueArray(name, { minLength: 1, maxLength: 6 }), (list) =>
        list.every((f) => matchFilter(f, list) === f),
      ),
      { seed: 81 },
    );
  });
});

describe('which project a frame belongs to', () => {
  const base = readFrame(header('light-ha-1.fits'));
  const at = (raDeg: number, decDeg: number, more: Partial<ReadFrame> = {}): ReadFrame => ({
    ...base,
    raDeg,
    decDeg,
    ...more,
  });
  const projects = [
    { id: 'a', object: 'NGC 281', raDeg: 13.2, decDeg: 56.6 },
    { id: 'b', object: 'M 31', raDeg: 10.68, decDeg: 41.27 },
  ];
  const assign = (f: ReadFrame, list = projects) => assignFrame(f, list, ['Ha', 'OIII'], 1);
  test('the place decides, whatever the object is called', () => {
    expect(assign(at(10.7, 41.3, { object: 'my galaxy' }))).toMatchObject({ projectId: 'b', filter: 'Ha', open: [] });
    expect(assign(at(80, 0))).toMatchObject({ projectId: null, open: ['no-project'] });
  });
  test('without a place the name does, folded; without both it waits', () => {
    expect(assign({ ...base, raDeg: null, decDeg: null, object: 'm31' }).projectId).toBe('b');
    expect(assign({ ...base, raDeg: null, decDeg: null, object: null }).open).toEqual(['no-place']);
  });
  test('a mosaic is found by any of its panels, and is one project however many lie near', () => {
    const panels = [0, 1, 2].map((k) => ({ id: 'm', object: 'NGC 7000', raDeg: 312 + 2.2 * k, decDeg: 44 }));
    const list = [...projects, ...panels];
    expect(assign(at(316.3, 44.1), list)).toMatchObject({ projectId: 'm', open: [] });
    // half way between two of its panels
    expect(assign(at(313.1, 44), list)).toMatchObject({ projectId: 'm', open: [] });
    expect(assign({ ...base, raDeg: null, decDeg: null, object: 'NGC 7000' }, list)).toMatchObject({
      projectId: 'm',
      open: [],
    });
  });
  test('two projects in one place are told apart by name, or wait for a hand', () => {
    const twin = [...projects, { id: 'c', object: 'NGC 281', raDeg: 13.2, decDeg: 56.6 }];
    expect(assign(at(13.2, 56.6, { object: 'NGC 281' }), twin).open).toEqual(['two-projects']);
    const other = [...projects, { id: 'c', object: 'IC 11', raDeg: 13.2, decDeg: 56.6 }];
    expect(assign(at(13.2, 56.6, { object: 'ic11' }), other).projectId).toBe('c');
  });
  test('darks belong to no project and need no filter; a bias may last no time', () => {
    expect(assign(readFrame(header('dark-1.fits')))).toEqual({ projectId: null, filter: '', open: [], offDeg: null });
    expect(assign(readFrame(header('bias-1.fits'))).open).toEqual([]);
  });
});

describe('the focuser over a night', () => {
  test('the slope is found from the settings, whatever the offsets of the filters', () => {
    const random = seeded(5);
    const readings = Array.from({ length: 40 }, (_, i) => {
      const temperatureC = 8 - 0.2 * i;
      const filter = i % 2 ? 'Ha' : 'L';
      return {
        filter,
        temperatureC,
        position: Math.round(9000 + (filter === 'Ha' ? 55 : 0) + 14 * temperatureC + 2 * random.normal()),
      };
    });
    const got = focuserDrift(readings)!;
    expect(Math.abs(got.stepsPerC - 14)).toBeLessThan(3 * got.error);
    expect(got.error).toBeLessThan(0.5);
  });
  test('its uncertainty covers: of 600 simulated nights two thirds lie within one of it', () => {
    const random = seeded(6);
    let inside = 0;
    for (let n = 0; n < 600; n++) {
      const got = focuserDrift(
        Array.from({ length: 16 }, (_, i) => ({
          filter: i % 2 ? 'R' : 'B',
          temperatureC: 5 - 0.3 * i,
          position: 500 - 20 * 0.3 * i + 9 * random.normal(),
        })),
      )!;
      if (Math.abs(got.stepsPerC - 20) <= got.error) inside++;
    }
    expect(inside / 600).toBeGreaterThan(0.62);
    expect(inside / 600).toBeLessThan(0.74);
  });
  test('a line that fits without scatter is still no better known than whole steps and tenths of a degree', () => {
    const exact = Array.from({ length: 6 }, (_, i) => ({ filter: 'L', position: 9000 - 15 * i, temperatureC: 8 - i }));
    const got = focuserDrift(exact)!;
    expect(got.stepsPerC).toBeCloseTo(15, 9);
    // rounding in steps and in 15 steps a degree times tenths, over the spread of the temperatures
    const each = Math.hypot(1, 15 * 0.1) / Math.sqrt(12);
    expect(got.error).toBeCloseTo(each / Math.sqrt(17.5), 9);
  });
  test('a focuser that stood, and a night of one temperature, tell nothing', () => {
    const still = Array.from({ length: 30 }, (_, i) => ({ filter: 'L', position: 9000, temperatureC: 8 - 0.2 * i }));
    expect(focuserDrift(still)).toBeNull();
    expect(focuserDrift(still.map((r, i) => ({ ...r, position: i, temperatureC: 5 })))).toBeNull();
    expect(focuserDrift([])).toBeNull();
  });
});

test('frames after midnight belong to the evening before; the next afternoon’s do not', () => {
  const items = [
    '2026-11-18T20:00:00Z',
    '2026-11-19T03:00:00Z',
    '2026-11-19T06:30:00Z',
    '2026-11-19T20:00:00Z',
    null,
  ].map((startedAt) => ({ startedAt }));
  expect(byNight(items, (i) => i.startedAt, 'Europe/Vienna', '2026-11-01').map(([n, i]) => [n, i.length])).toEqual([
    ['2026-11-01', 1],
    ['2026-11-18', 3],
    ['2026-11-19', 1],
  ]);
});

describe('frames told in a line', () => {
  test.each<[string, object]>([
    ['12 × 300 s Ha', { count: 12, exposureS: 300, filter: 'Ha' }],
    ['12x5min OIII', { count: 12, exposureS: 300, filter: 'OIII' }],
    ['40*60L', { count: 40, exposureS: 60, filter: 'L' }],
    ['7 x 90', { count: 7, exposureS: 90, filter: '' }],
  ])('%s', (text, group) => {
    expect(readTypedFrames(text)).toEqual({ ok: true, groups: [group] });
  });
  test('several at once; what cannot be read is named', () => {
    expect(readTypedFrames('12×300s Ha, 40 x 60 s L; 1x1s R')).toMatchObject({ ok: true, groups: { length: 3 } });
    expect(readTypedFrames('12×300s Ha, some')).toEqual({ ok: false, piece: 'some', problem: 'shape' });
    expect(readTypedFrames('9999 × 5 s')).toMatchObject({ ok: false, problem: 'count' });
    expect(readTypedFrames('2 × 9999 min')).toMatchObject({ ok: false, problem: 'exposure' });
  });
});
