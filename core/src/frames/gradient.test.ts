import { expect, test } from '@jest/globals';
import { skyGradient } from './gradient.ts';

const grid = (of: (col: number, row: number) => number) =>
  ({
    grid: Array.from({ length: 9 }, (_, i) => ({
      row: Math.floor(i / 3),
      col: i % 3,
      background: of(i % 3, Math.floor(i / 3)),
    })),
  }) as never;
test('a plane of sky is given back with its side; an even sky and one bright in the middle have none', () => {
  // ten counts from cell to cell to the right: three cells across
  expect(skyGradient(grid((c) => 500 + 10 * c))).toMatchObject({ towardsDeg: 0, even: 1 });
  expect(skyGradient(grid((c) => 500 + 10 * c)).counts).toBeCloseTo(30, 9);
  expect(skyGradient(grid((_, r) => 500 - 4 * r)).towardsDeg).toBeCloseTo(270, 9);
  expect(skyGradient(grid((c, r) => 500 + 3 * c + 3 * r)).towardsDeg).toBeCloseTo(45, 9);
  expect(skyGradient(grid(() => 500))).toMatchObject({ counts: 0, even: 0 });
  const nebula = skyGradient(grid((c, r) => (c === 1 && r === 1 ? 900 : 500)));
  expect([nebula.counts, nebula.even].map((v) => Math.round(1e6 * v))).toEqual([0, 0]);
});
