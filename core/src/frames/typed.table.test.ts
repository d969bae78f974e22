import { describe, expect, test } from '@jest/globals';
import { readTypedFrames, type TypedProblem } from './typed.ts';

/** What a person types of one group, and what it is: frames, seconds, filter. */
const READ: [string, number, number, string][] = [
  ['12 × 300 s Ha', 12, 300, 'Ha'],
  ['12x300s Ha', 12, 300, 'Ha'],
  ['12 x 300 Ha', 12, 300, 'Ha'],
  ['12x300Ha', 12, 300, 'Ha'],
  ['12x300 SII', 12, 300, 'SII'],
  ['12x300s SII', 12, 300, 'SII'],
  ['12x300 sec SII', 12, 300, 'SII'],
  ['12x60 Mono', 12, 60, 'Mono'],
  ['12x60s Mono', 12, 60, 'Mono'],
  ['12x300 seconds Ha', 12, 300, 'Ha'],
  ['12x300 second Ha', 12, 300, 'Ha'],
  ['12x300 secs Ha', 12, 300, 'Ha'],
  ['10x5ms L', 10, 0.005, 'L'],
  ['10 x 5 ms L', 10, 0.005, 'L'],
  ['10 x 2m30s L', 10, 150, 'L'],
  ['10x2 min 30 s L', 10, 150, 'L'],
  ['10x1h L', 10, 3600, 'L'],
  ['10x1h30m L', 10, 5400, 'L'],
  ['12x5min OIII', 12, 300, 'OIII'],
  ['12x5mins OIII', 12, 300, 'OIII'],
  ['12 x 5 minutes OIII', 12, 300, 'OIII'],
  ['12x5m OIII', 12, 300, 'OIII'],
  ['12x5′ OIII', 12, 300, 'OIII'],
  ['12x300″ OIII', 12, 300, 'OIII'],
  ['40*60L', 40, 60, 'L'],
  ['7 x 90', 7, 90, ''],
  ['7 x 90 s', 7, 90, ''],
  ['7×90', 7, 90, ''],
  ['12x300 S', 12, 300, ''],
  ['12x60sHa', 12, 60, 'Ha'],
  ['12x2.5min B', 12, 150, 'B'],
  ['Ha 12x300s', 12, 300, 'Ha'],
  ['Ha: 12 × 300 s', 12, 300, 'Ha'],
  ['SII: 12x300', 12, 300, 'SII'],
  ['300 s × 12 Ha', 12, 300, 'Ha'],
  ['5min x 12', 12, 300, ''],
  ['12 x 300 s through Ha', 12, 300, 'Ha'],
  ['12x300s H-alpha', 12, 300, 'H-alpha'],
  ['12x300 Hα', 12, 300, 'Hα'],
  ['100x0.5s L', 100, 0.5, 'L'],
  ['1x7200 Ha', 1, 7200, 'Ha'],
  ['12x300 Minus violet', 12, 300, 'Minus violet'],
  ['12x300 Hb', 12, 300, 'Hb'],
  ['12x300 Sloan r', 12, 300, 'Sloan r'],
  ['12X300S HA', 12, 300, 'HA'],
];
const REFUSED: [string, TypedProblem][] = [
  ['some', 'shape'],
  ['12', 'shape'],
  ['12x', 'shape'],
  ['x300', 'shape'],
  ['300 seconds Ha', 'shape'],
  ['5 mins', 'shape'],
  ['12x300 300', 'shape'],
  ['12xHa', 'shape'],
  ['0x300 Ha', 'count'],
  ['9999x5 Ha', 'count'],
  ['1.5x300 Ha', 'count'],
  ['2x9999min', 'exposure'],
  ['12x0 Ha', 'exposure'],
  ['12x3h Ha', 'exposure'],
  ['12x1:30 L', 'doubt'],
  ['12x5:30 Ha', 'doubt'],
  ['12x300s4 Ha', 'shape'],
  ['12x300.5.1 L', 'shape'],
  ['5min x 5min', 'shape'],
  ['', 'shape'],
];

describe('a night told in a line', () => {
  test.each(READ)('%s', (text, count, exposureS, filter) =>
    expect(readTypedFrames(text)).toEqual({
      ok: true,
      groups: [{ count, exposureS: expect.closeTo(exposureS, 9), filter }],
    }),
  );
  test.each(REFUSED)('“%s” is asked for again', (text, problem) =>
    expect(readTypedFrames(text)).toMatchObject({ ok: false, problem }),
  );
  test('with the rig’s filters known, what stands behind the exposure is one of them, or it says where it stopped', () => {
    const held = ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'];
    expect(readTypedFrames('12x300 SII, 12x60 lum', held)).toMatchObject({
      ok: true,
      groups: [{ filter: 'SII' }, { filter: 'lum' }],
    });
    expect(readTypedFrames('12x300 SII, 12x60 Mono', held)).toEqual({
      ok: false,
      piece: '12x60 Mono',
      problem: 'filter',
      rest: 'Mono',
    });
    expect(readTypedFrames('12x60 Mono', held, { mono: 'L' })).toMatchObject({ ok: true });
    expect(readTypedFrames('12x60 S', ['S', 'H', 'O'])).toMatchObject({ ok: false, problem: 'doubt' });
  });
  test('every count, length, unit and filter comes back as it was written', () => {
    const units = [
      ['s', 1],
      [' s', 1],
      ['sec', 1],
      [' seconds', 1],
      ['min', 60],
      [' m', 60],
      [' minutes', 60],
      ['', 1],
    ] as const;
    const filters = ['L', 'R', 'Ha', 'SII', 'OIII', 'Mono', 'Sloan g', ''];
    for (let k = 0; k < 512; k++) {
      const [unit, factor] = units[k % 8]!;
      const filter = filters[(k >> 3) % 8]!;
      const [count, n] = [1 + (k % 97), 1 + (k % 119)];
      const text = `${count}${['x', ' x ', '×', ' * '][k % 4]}${n}${unit}${filter ? ` ${filter}` : ''}`;
      expect([text, readTypedFrames(text)]).toEqual([
        text,
        { ok: true, groups: [{ count, exposureS: n * factor, filter }] },
      ]);
    }
  });
});
