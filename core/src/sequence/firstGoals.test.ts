import { expect, test } from '@jest/globals';
import { firstGoals } from './firstGoals.ts';

const names = (type: string, filters: string[]) => firstGoals(type, filters).map((g) => g.filter);

test('goals fit the object: narrow filters for what shines in lines, the others for the rest', () => {
  expect(names('en', ['L', 'R', 'G', 'B', 'Ha', 'OIII'])).toEqual(['Ha', 'OIII']);
  expect(names('s', ['L', 'R', 'G', 'B', 'Ha', 'OIII'])).toEqual(['L', 'R', 'G', 'B']);
});
test('with only one sort of filter that one is used, whatever the object', () => {
  expect(names('s', ['Ha', 'OIII'])).toEqual(['Ha', 'OIII']);
  expect(firstGoals('en', ['colour'])).toEqual([{ filter: 'colour', exposureS: 120, quota: 120 }]);
  expect(firstGoals('en', [])).toEqual([]);
});
test('a goal never holds more filters than a project may', () => {
  expect(
    firstGoals(
      's',
      Array.from({ length: 30 }, (_, i) => `F${i}`),
    ),
  ).toHaveLength(12);
});
