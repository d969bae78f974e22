import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { parseInput } from '../calculation/index.ts';
import { words } from '../phrases/index.ts';
import { infer, InferInput } from './infer.ts';
import type { Reading } from './pullReading.ts';
import { probableSlip } from './slip.ts';

const reading = (toward: number, back: number, more: Partial<Reading> = {}): Reading => ({
  axis: 'dec',
  attitudeDeg: 0,
  tubeSide: 'left',
  forceTowardN: toward,
  forceBackN: back,
  leverMm: 300,
  ...more,
});

describe('a slip of ten', () => {
  test('53 for 5.3 beside 5.1 is asked about, and nothing is concluded', () => {
    expect(probableSlip([reading(53, 5.1)])).toEqual({ reading: 0, pull: 'forceTowardN', forceN: 53, likelyN: 5.3 });
    const got = infer(parseInput(InferInput, { readings: [reading(53, 5.1)] }));
    expect(got.verdict.level).toBe('bad');
    expect(words(got.verdict.phrases!)).toMatch(/53\.00.?N.*Is it 5\.30.?N/);
  });
  test('0.51 for 5.1 is found by the other readings of the axis', () => {
    const list = [reading(5.3, 5.1), reading(5.2, 0.51), reading(5.4, 5.0)];
    expect(probableSlip(list)).toMatchObject({ reading: 1, pull: 'forceBackN', likelyN: 5.1 });
  });
  /** Pulls as a rig gives them: so much out of balance, so much friction, and a hand that reads to a tenth. */
  const honest = fc
    .record({
      imbalanceNm: fc.double({ min: -3, max: 3, noNaN: true }),
      frictionNm: fc.double({ min: 0.1, max: 2.5, noNaN: true }),
      leverMm: fc.constantFrom(150, 300, 600),
    })
    .map(({ imbalanceNm, frictionNm, leverMm }) => {
      const tenth = (nm: number) => Math.round((nm * 10_000) / leverMm) / 10;
      return reading(tenth(frictionNm - imbalanceNm), tenth(frictionNm + imbalanceNm), { leverMm });
    });
  test('is never seen in an honest pair, however far out of balance', () => {
    fc.assert(
      fc.property(honest, (r) => probableSlip([r]) === null),
      { numRuns: 2000 },
    );
  });
  test('is never seen in honest pairs of one axis in one state', () => {
    const several = fc
      .tuple(honest, fc.integer({ min: 2, max: 5 }))
      .map(([r, n]) => Array.from({ length: n }, () => r));
    fc.assert(
      fc.property(several, (list) => probableSlip(list) === null),
      { numRuns: 1000 },
    );
  });
  test('in a balanced pair with stout pulls is found in either pull', () => {
    const near = fc.record({
      n: fc.double({ min: 2.5, max: 8, noNaN: true }),
      off: fc.double({ min: -0.25, max: 0.25, noNaN: true }),
      first: fc.boolean(),
    });
    fc.assert(
      fc.property(near, ({ n, off, first }) => {
        const [a, b] = [n, n * (1 + off)];
        const slip = probableSlip([first ? reading(10 * a, b) : reading(a, 10 * b)]);
        expect(slip?.pull).toBe(first ? 'forceTowardN' : 'forceBackN');
        expect(slip!.likelyN).toBeCloseTo(first ? a : b, 9);
      }),
    );
  });
});
