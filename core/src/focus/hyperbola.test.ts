import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { rounds } from '../test/rounds.ts';
import { descend, model } from './hyperbola.ts';

const places = [-1, -0.75, -0.5, -0.25, 0, 0.25, 0.5, 0.75, 1];
const within = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const each = <T>(value: fc.Arbitrary<T>) => fc.array(value, { minLength: places.length, maxLength: places.length });

describe('a hyperbola through weighted points', () => {
  test('lies where a library’s Levenberg–Marquardt puts it; a point of weight three is three points', () => {
    fc.assert(
      fc.property(
        within(1, 4),
        within(2, 12),
        within(-0.4, 0.4),
        each(within(-0.1, 0.1)),
        each(fc.integer({ min: 1, max: 3 })),
        (a, b, c, noise, weights) => {
          const y = places.map((x, i) => model(a, b, c, x) + noise[i]!);
          const ours = descend(places, y, weights, [a * 1.2, b * 0.8, c + 0.1]);
          const repeated = weights.flatMap((n, i) => Array<number>(n).fill(i));
          const { parameterValues: theirs } = levenbergMarquardt(
            { x: repeated.map((i) => places[i]!), y: repeated.map((i) => y[i]!) },
            ([p, q, r]) =>
              (x) =>
                Math.sqrt(p! * p! + q! * q! * (x - r!) ** 2),
            // it keeps steps that make the fit worse: it begins near
            {
              initialValues: [a + 0.01, b - 0.01, c + 0.003],
              damping: 1e-3,
              maxIterations: 200,
              errorTolerance: 1e-16,
              gradientDifference: 1e-6,
              centralDifference: true,
            },
          );
          for (let k = 0; k < 3; k++) expect(ours[k]).toBeCloseTo(theirs[k]!, 4);
        },
      ),
      { numRuns: rounds(40, 1000) },
    );
  });
});
