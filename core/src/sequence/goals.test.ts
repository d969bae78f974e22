import { countsAs, framesThere, goalFor } from '../record/index.ts';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { goalLayers } from './goals.ts';

const goal = fc.record({
  filter: fc.constantFrom('L', 'R', 'Ha'),
  exposureS: fc.constantFrom(10, 60, 300),
  quota: fc.integer({ min: 1, max: 90 }),
});
const goals = fc.uniqueArray(goal, { selector: (g) => `${g.filter} ${g.exposureS}`, minLength: 1, maxLength: 9 });

describe('goals by filter and length', () => {
  test.each([
    ['Ha', 300, true],
    ['Ha', 300.3, true],
    ['Ha', 299.8, true],
    ['Ha', 299, false],
    ['Ha', 302, false],
    ['Ha', 600, false],
    ['OIII', 300, false],
  ])('%s of %d s counts for 300 s Ha: %s', (filter, exposureS, counts) => {
    expect(countsAs({ filter: 'Ha', exposureS: 300 }, { filter, exposureS })).toBe(counts);
  });
  test('two lengths of one filter are two goals, each with its own frames', () => {
    const there = [
      { filter: 'L', exposureS: 300, done: 40 },
      { filter: 'L', exposureS: 10, done: 3 },
    ];
    expect(framesThere(there, { name: 'L', exposureS: 10 })).toBe(3);
    expect(framesThere(there, { name: 'L', exposureS: 300 })).toBe(40);
    expect(framesThere(there, { name: 'L', exposureS: 60 })).toBe(0);
    expect(goalFor(there, { filter: 'L', exposureS: 60 })).toBeUndefined();
  });
  test('a leg takes each filter once: layers hold every goal, none twice, as few as there are lengths', () => {
    fc.assert(
      fc.property(goals, (list) => {
        const layers = goalLayers(list);
        expect(layers.flat()).toHaveLength(list.length);
        expect(new Set(layers.flat())).toEqual(new Set(list));
        for (const l of layers) expect(new Set(l.map((g) => g.filter)).size).toBe(l.length);
        const lengths = (f: string) => list.filter((g) => g.filter === f).length;
        expect(layers).toHaveLength(Math.max(...list.map((g) => lengths(g.filter))));
      }),
    );
  });
});
