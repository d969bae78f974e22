import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseCoordinate, parsePlace } from './place.ts';

const near = (typed: string, lat: number, lon: number) => {
  const got = parsePlace(typed);
  if (!got.ok) throw new Error(got.message);
  expect(got.place.latitudeDeg).toBeCloseTo(lat, 4);
  expect(got.place.longitudeDeg).toBeCloseTo(lon, 4);
};

describe('a place in any usual form', () => {
  test.each<[string, number, number]>([
    ['47.07, 15.44', 47.07, 15.44],
    ['47.07 15.44', 47.07, 15.44],
    ['47.07,15.44', 47.07, 15.44],
    ['47,07 15,44', 47.07, 15.44],
    ['47,07; 15,44', 47.07, 15.44],
    ['-23.31, 16.27', -23.31, 16.27],
    ['−33.9, −70.7', -33.9, -70.7],
    ['47°04′12″N 15°26′24″E', 47.07, 15.44],
    ['47° 4\' 12" N, 15° 26\' 24" E', 47.07, 15.44],
    ['N 47 4.2 E 15 26.4', 47.07, 15.44],
    ['15.44 E, 47.07 N', 47.07, 15.44],
    ['33.5 S 70.5 W', -33.5, -70.5],
    ['geo:47.07,15.44?z=12', 47.07, 15.44],
    ['https://maps.example/@47.07,15.44,14z', 47.07, 15.44],
    ['https://maps.example/?q=47.07,15.44', 47.07, 15.44],
    ['https://map.example/#map=12/47.07/15.44', 47.07, 15.44],
    ['https://map.example/?mlat=47.07&mlon=15.44#x', 47.07, 15.44],
  ])('%s', near);
  test.each([
    '',
    'here',
    '47.07',
    '47.07 N 15.44 N',
    '95, 15',
    '47, 200',
    '47 99 0 N 15 0 0 E',
    '1,2,3',
    'x'.repeat(9999),
  ])('“%.20s” is refused in words', (typed) => {
    const got = parsePlace(typed);
    expect(got.ok).toBe(false);
    if (!got.ok) expect(got.message.length).toBeLessThan(200);
  });
  test('what is written with four decimals is read as it was', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -900_000, max: 900_000 }),
        fc.integer({ min: -1_800_000, max: 1_800_000 }),
        (a, b) => near(`${(a / 1e4).toFixed(4)}, ${(b / 1e4).toFixed(4)}`, a / 1e4, b / 1e4),
      ),
      { seed: 5 },
    );
  });
  test('nonsense of any length is answered at once, never thrown at', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'0123456789 .,-°NSEW/@'), maxLength: 400 }), (s) => {
        expect(typeof parsePlace(s).ok).toBe('boolean');
      }),
      { seed: 6, numRuns: 500 },
    );
  });
});

test('one angle by itself, with the letter of its own kind only', () => {
  expect(parseCoordinate('47°30′ N', 'latitude')).toEqual({ ok: true, deg: 47.5 });
  expect(parseCoordinate('70,5 W', 'longitude')).toEqual({ ok: true, deg: -70.5 });
  expect(parseCoordinate('47 E', 'latitude').ok).toBe(false);
  expect(parseCoordinate('91', 'latitude').ok).toBe(false);
});
