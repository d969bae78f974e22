import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseQuantity } from './parse.ts';
import type { Dimension } from './units.ts';

/** What people type, and what it is in the stored unit; null where it must be refused. */
const TABLE: Record<Dimension, [string, number | null][]> = {
  mass: [
    ['5.2kg', 5.2],
    ['5,2 kg', 5.2],
    ['5.2', 5.2],
    ['.5', 0.5],
    [',5', 0.5],
    ['250 g', 0.25],
    ['250g', 0.25],
    ['1 250 g', 1.25],
    ["1'250 g", 1.25],
    ['1\u202f250\u202fg', 1.25],
    ['1\u00a0250 g', 1.25],
    ['11 lb 8 oz', 5.21631],
    ['11 lb. 8 oz.', 5.21631],
    ['11lb8oz', 5.21631],
    ['2½ lb', 1.13398],
    ['2 ½ lb', 1.13398],
    ['½ lb', 0.226796],
    ['2 1/2 lb', 1.13398],
    ['1/4 lb', 0.113398],
    ['3 pounds', 1.360777],
    ['16 ounces', 0.453592],
    ['1e3 g', 1],
    ['1.5E-1 kg', 0.15],
    ['−0.25 kg', -0.25],
    ['- 2', -2],
    ['+3', 3],
    ['1 kg 250 g', 1.25],
    ['7 lb 7 lb', null],
    ['8 oz 11 lb', null],
    ['5 kg 3', null],
    ['5 stone', null],
    ['heavy', null],
    ['', null],
    ['--5', null],
    ['1,234', null],
    ['1,234,567', null],
    ['1.2.3 kg', null],
    ['1,2,3', null],
    ['5 5', null],
    ['1 00', null],
    ['kg', null],
    ['1/0', null],
    ['0,125', 0.125],
    ['0.125', 0.125],
    ['12,3456', 12.3456],
    ['1e999', null],
    ['5 kgs of lead', null],
    ['1 2345', null],
  ],
  length: [
    ['55', 55],
    ['55 mm', 55],
    ['5.5 cm', 55],
    ['1 250 mm', 1250],
    ['20 500', 20500],
    ['1 000', 1000],
    ['1 000.5', 1000.5],
    ['12 345 678', 12345678],
    ['2.165in', 54.991],
    ['2.165 inch', 54.991],
    ['2 inches', 50.8],
    ['1/4"', 6.35],
    ['2½ in', 63.5],
    ['2½"', 63.5],
    ['5ft', 1524],
    ['5 ft 3 in', 1600.2],
    ['5\' 3"', 1600.2],
    ['5′3″', 1600.2],
    ['1 foot', 304.8],
    ['6 feet', 1828.8],
    ['0.3 m', 300],
    ['35 μm', 0.035],
    ['35 µm', 0.035],
    ['35um', 0.035],
    ['1.2.3 mm', null],
    ['1 m 5', null],
    ['3 in 5 ft', null],
    ['5 ell', null],
    ['2,165 in', null],
    ['55 kg', null],
    ['1 250 30 mm', null],
  ],
  distance: [
    ['450', 450],
    ['450 m', 450],
    ['1 250 m', 1250],
    ['1.2 km', 1200],
    ['1476 ft', 449.8848],
    ['-30', -30],
    ['1,476 ft', null],
    ['5 m 3 m', null],
    ['high', null],
  ],
  temperature: [
    ['−10C', -10],
    ['-10 °C', -10],
    ['−10', -10],
    ['14F', -10],
    ['14 °F', -10],
    ['263.15 K', -10],
    ['0K', -273.15],
    ['-40F', -40],
    ['20,5', 20.5],
    ['5C 3C', null],
    ['-5 K', null],
    ['-300', null],
    ['-500 F', null],
    ['5 3', null],
    ['cold', null],
    ['5 mm', null],
  ],
  degrees: [
    ['3', 3],
    ['3 °C', 3],
    ['9F', 5],
    ['2.5 K', 2.5],
    ['-1.5', -1.5],
    ['1C 2C', null],
  ],
  duration: [
    ['300', 300],
    ['300 s', 300],
    ['5 min', 300],
    ['5 minutes', 300],
    ['5 mins', 300],
    ['1 minute', 60],
    ['1h30m', 5400],
    ['1h30', 5400],
    ['1h 30', 5400],
    ['1:30', null],
    ['5:30', null],
    ['0:45', null],
    ['01:30:15', 5415],
    ['12:30:45', 45045],
    ['2 hr', 7200],
    ['2 hrs', 7200],
    ['1 hour 20 min', 4800],
    ['1.5 h', 5400],
    ['5 min 30', 330],
    ['90 sec', 90],
    ['250 ms', 0.25],
    ['½ h', 1800],
    ['1e3', 1000],
    ['1:75', null],
    ['30 min 1 h', null],
    ['30 s 30 s', null],
    ['5 m 3 m', null],
    ['noon', null],
    ['1:2:3:4', null],
  ],
  angle: [
    ['22h37m04s', 339.266667],
    ['22h 37m 04s', 339.266667],
    ['22H37M04S', 339.266667],
    ['05h35', 83.75],
    ['5h35m', 83.75],
    ['+34° 24\' 56"', 34.415556],
    ['-0° 30′', -0.5],
    ['-00 30 00', -0.5],
    ['−00 30 00', -0.5],
    ['12 30 45', 12.5125],
    ['12:30:45', 12.5125],
    ['-12:30', -12.5],
    ['33.87 S', -33.87],
    ['33.87S', -33.87],
    ['33.87 N', 33.87],
    ['15.4 E', 15.4],
    ['W 70.2', -70.2],
    ['S 33 52 10', -33.869444],
    ['33°52′S', -33.866667],
    ['33° 52′ 10″ S', -33.869444],
    ['33.87 s', 0.009408],
    ['90', 90],
    ['90 deg', 90],
    ['1.5 degrees', 1.5],
    ['30 arcmin', 0.5],
    ['36 arcsec', 0.01],
    ['12°30', 12.5],
    ['1h', 15],
    ['20° 20°', null],
    ['5° 75′', null],
    ["30' 5°", null],
    ['12 75 00', null],
    ['-33.87 S', null],
    ['33.87 Q', null],
    ['north', null],
    ['1,234', null],
  ],
  force: [
    ['9.8 N', 9.8],
    ['1 kgf', 9.80665],
    ['500 gf', 4.903325],
    ['2 lbf', 8.896443],
    ['1 000 gf', 9.80665],
    ['2 lbf 3', null],
    ['5 kg', 49.03325],
    ['0,54 kg', 5.295591],
    ['540 g', 5.295591],
    ['1.2 lb', 5.337866],
    ['5 mm', null],
  ],
  speed: [
    ['10', 10],
    ['10 m/s', 10],
    ['10m/s', 10],
    ['10,5 m/s', 10.5],
    ['36 km/h', 10],
    ['36 kmh', 10],
    ['36 kph', 10],
    ['22 mph', 9.83488],
    ['22mph', 9.83488],
    ['20 kn', 10.28889],
    ['20 kt', 10.28889],
    ['20 knots', 10.28889],
    ['10 m', null],
    ['10 km', null],
    ['10 m/h', null],
    ['10 /s', null],
    ['10 m//s', null],
    ['a breeze', null],
    ['', null],
  ],
  number: [
    ['5', 5],
    ['5.5', 5.5],
    ['5,5', 5.5],
    ['15%', 0.15],
    ['15 %', 0.15],
    ['1e3', 1000],
    ['1 000', 1000],
    ['1/2', 0.5],
    ['2½', 2.5],
    ['5 5', null],
    ['1.2.3', null],
    ['x', null],
  ],
};
const CASES = Object.entries(TABLE).flatMap(([dimension, rows]) =>
  rows.map(([typed, value]) => [typed, dimension as Dimension, value] as const),
);

/** Where a right ascension in hours is wanted. */
const IN_HOURS: [string, number | null][] = [
  ['13 29.878', 15 * (13 + 29.878 / 60)],
  ['13:29.878', 15 * (13 + 29.878 / 60)],
  ['42m 44s', 15 * (42 / 60 + 44 / 3600)],
  ['42m44.5s', 15 * (42 / 60 + 44.5 / 3600)],
  ['0h42m44s', 15 * (42 / 60 + 44 / 3600)],
  ['13 29 52.7', 15 * (13 + 29 / 60 + 52.7 / 3600)],
  ['13:29:52.7', 15 * (13 + 29 / 60 + 52.7 / 3600)],
  ['13h29m52.7s', 15 * (13 + 29 / 60 + 52.7 / 3600)],
  ['13.5', 202.5],
  ['13.5h', 202.5],
  ['202.5°', 202.5],
  ["202° 30'", 202.5],
  ['44s', (15 * 44) / 3600],
  ['13 29.5 30', null],
  ['13 60', null],
  ['13 29 60', null],
];
test.each(IN_HOURS)('“%s” where hours are wanted', (typed, value) => {
  const got = parseQuantity(typed, 'angle', 'h');
  if (value === null) expect([typed, got.ok]).toEqual([typed, false]);
  else expect(got.ok && got.value).toBeCloseTo(value, 9);
});

describe('what people type', () => {
  test('is at least a hundred and fifty things', () => expect(CASES.length).toBeGreaterThanOrEqual(150));
  test.each(CASES)('“%s” as %s is %s', (typed, dimension, value) => {
    const got = parseQuantity(typed, dimension);
    if (value === null) {
      expect(got).toMatchObject({ ok: false, message: expect.stringMatching(/.{5,}/) });
    } else {
      expect(got.ok).toBe(true);
      if (got.ok) expect(Math.abs(got.value - value)).toBeLessThanOrEqual(Math.max(1e-6, 1e-6 * Math.abs(value)));
    }
  });
  test('a bare number is in the unit asked for; a per cent in a field of per cents is itself', () => {
    expect(parseQuantity('2', 'mass', 'lb')).toEqual({ ok: true, value: 0.90718474 });
    expect(parseQuantity('15%', 'number', '%')).toEqual({ ok: true, value: 15 });
    expect(parseQuantity('12:30', 'angle', 'h')).toEqual({ ok: true, value: 187.5 });
  });
  test('what could be two numbers names both', () => {
    const got = parseQuantity('1,234 mm', 'length');
    expect(got.ok ? '' : got.message).toContain('could be 1.234 or 1234');
  });
  test('nothing typed throws, hangs or gives what is no number', () => {
    const text = fc.oneof(fc.string({ maxLength: 60 }), fc.stringMatching(/^[-+0-9., '’:½°′″hmsNSEWkgin/e]{0,60}$/));
    fc.assert(
      fc.property(text, fc.constantFrom(...(Object.keys(TABLE) as Dimension[])), (typed, dimension) => {
        const got = parseQuantity(typed, dimension);
        if (got.ok) expect(Number.isFinite(got.value)).toBe(true);
        else expect(got.message).not.toBe('');
      }),
      { seed: 1250, numRuns: 3000 },
    );
    // forty thousand digits in one field are refused for their length, before any pattern sees them
    for (const unit of ['1', '1 ', '1,', "1'", '1 1/'])
      expect(parseQuantity(unit.repeat(40_000), 'length')).toMatchObject({
        ok: false,
        message: expect.stringContaining('too long'),
      });
  });
});
