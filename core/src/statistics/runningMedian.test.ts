import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { median } from 'simple-statistics';
import { runningMedian } from './runningMedian.ts';

test('agrees with sorting every window anew, ends and repeats included', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -20, max: 20 }), { maxLength: 120 }),
      fc.integer({ min: 0, max: 9 }),
      (v, half) => {
        const plain = v.map((_, i) => median(v.slice(Math.max(0, i - half), i + half + 1)));
        expect([...runningMedian(v, half)]).toEqual(plain);
      },
    ),
    { seed: 71 },
  );
});
