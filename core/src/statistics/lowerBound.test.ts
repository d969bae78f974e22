import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { lowerBound } from './lowerBound.ts';

test('agrees with looking at every item, repeats and ends included', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -9, max: 9 })), fc.integer({ min: -11, max: 11 }), (list, target) => {
      const sorted = list.sort((a, b) => a - b).map((v) => ({ v }));
      const first = sorted.findIndex((x) => x.v >= target);
      expect(lowerBound(sorted, (x) => x.v, target)).toBe(first < 0 ? sorted.length : first);
    }),
    { seed: 72 },
  );
});
