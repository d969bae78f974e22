import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  figure,
  formatDec,
  formatDuration,
  formatLength,
  formatMass,
  formatRa,
  formatTemperature,
  signed,
} from './format.ts';
import { parseQuantity } from './parse.ts';

describe('what people type', () => {
  test.each([
    ['5.2kg', 'mass', 5.2],
    ['5,2 kg', 'mass', 5.2],
    ['11 lb 8 oz', 'mass', 5.2163],
    ['250 g', 'mass', 0.25],
    ['2.165in', 'length', 54.991],
    ['55', 'length', 55],
    ['5.5 cm', 'length', 55],
    ['−10C', 'temperature', -10],
    ['14F', 'temperature', -10],
    ['5 min', 'duration', 300],
    ['1h30m', 'duration', 5400],
    ['22h37m04s', 'angle', 339.2667],
    ['+34° 24\' 56"', 'angle', 34.4156],
    ['-0° 30′', 'angle', -0.5],
  ] as const)('%s as %s', (typed, dimension, value) => {
    const got = parseQuantity(typed, dimension);
    expect(got.ok && Math.abs(got.value - value) < 1e-3).toBe(true);
  });
  test.each(['', 'heavy', '5 stone', '5 kg 3', '--5'])('“%s” is refused with what would be right', (typed) => {
    const got = parseQuantity(typed, 'mass');
    expect(got.ok).toBe(false);
    if (!got.ok) expect(got.message.length).toBeGreaterThan(5);
  });
  test('kilograms shown are kilograms read', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 300, noNaN: true }), (kg) => {
        const back = parseQuantity(formatMass(kg), 'mass');
        expect(back.ok && Math.abs(back.value - kg) <= 0.00501).toBe(true);
        const pounds = parseQuantity(formatMass(kg, 'imperial'), 'mass');
        expect(pounds.ok && Math.abs(pounds.value - kg) <= 0.0024).toBe(true);
      }),
      { seed: 31 },
    );
  });
});

test('figures carry true minus signs and never a negative nothing', () => {
  expect(figure(-0.0001, 2)).toBe('0.00');
  expect(figure(-1.5, 1)).toBe('−1.5');
  expect(signed(2, 0)).toBe('+2');
  expect(formatRa(339.2667)).toBe('22h 37m 04s');
  expect(formatDec(-0.5)).toBe('−00° 30′ 00″');
  expect(formatDuration(3660)).toBe('1\u202fh 01\u202fmin');
});

describe('what is shown can be typed again', () => {
  const shown = (text: string, dimension: Parameters<typeof parseQuantity>[1]) => {
    const got = parseQuantity(text, dimension);
    if (!got.ok) throw new Error(`${text}: ${got.message}`);
    return got.value;
  };
  const finite = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  test('lengths, temperatures and durations, in either system', () => {
    fc.assert(
      fc.property(finite(0, 5000), finite(-60, 60), finite(0, 90_000), (mm, c, s) => {
        expect(Math.abs(shown(formatLength(mm, 'metric', 1), 'length') - mm)).toBeLessThanOrEqual(0.0501);
        expect(Math.abs(shown(formatLength(mm, 'imperial', 1), 'length') - mm)).toBeLessThanOrEqual(0.0128);
        expect(Math.abs(shown(formatTemperature(c), 'temperature') - c)).toBeLessThanOrEqual(0.0501);
        expect(Math.abs(shown(formatTemperature(c, 'imperial'), 'temperature') - c)).toBeLessThanOrEqual(0.0279);
        // from a minute and a half on only minutes are shown
        expect(Math.abs(shown(formatDuration(s), 'duration') - s)).toBeLessThanOrEqual(s < 89.5 ? 0.5 : 30.5);
      }),
      { seed: 32 },
    );
  });
  test('places in the sky, to half a second of time or arc, the end of the circle too', () => {
    fc.assert(
      fc.property(finite(0, 360), finite(-90, 90), (ra, dec) => {
        const back = shown(formatRa(ra), 'angle');
        const off = Math.abs(back - ra);
        expect(Math.min(off, 360 - off)).toBeLessThanOrEqual(15 / 7200 + 1e-9);
        expect(back).toBeLessThan(360);
        expect(Math.abs(shown(formatDec(dec), 'angle') - dec)).toBeLessThanOrEqual(1 / 7200 + 1e-9);
      }),
      {
        seed: 33,
        examples: [
          [359.9999, -0.0001],
          [360, 90],
          [0, -90],
        ],
      },
    );
  });
  test('a declination that rounds to nothing has no minus', () => expect(formatDec(-1e-6)).toBe('+00° 00′ 00″'));
});
