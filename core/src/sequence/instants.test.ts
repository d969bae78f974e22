import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { instantWriter } from './instants.ts';

test('instants are written as Date writes them, whatever came before, in far years too', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -62e12, max: 253e12, noNaN: true }), { minLength: 1, maxLength: 30 }),
      fc.double({ min: -100, max: 100, noNaN: true }),
      (far, near) => {
        const write = instantWriter();
        for (const ms of far.flatMap((x) => [x, x + near])) expect(write(ms)).toBe(new Date(ms).toISOString());
      },
    ),
    { seed: 1985 },
  );
});
