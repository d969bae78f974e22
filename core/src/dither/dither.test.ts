import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { ditherPlan, DitherPlanInput } from './plan.ts';
import { sync, SyncInput } from './sync.ts';

const seconds = fc.integer({ min: 1, max: 900 });
test('nobody exposes more than the cycle, somebody always waits for nobody, and every suggestion is better', () => {
  fc.assert(
    fc.property(
      seconds,
      seconds,
      fc.integer({ min: 0, max: 20 }),
      fc.integer({ min: 0, max: 20 }),
      fc.integer({ min: 1, max: 4 }),
      (a, b, da, db, n) => {
        const input = {
          lead: { exposureS: a, downloadS: da, framesPerDither: n },
          follower: { exposureS: b, downloadS: db },
          ditherSettleS: 15,
        };
        const got = sync(parseInput(SyncInput, input));
        expect(got.leadDuty).toBeLessThanOrEqual(1);
        expect(got.followerDuty).toBeLessThanOrEqual(1);
        expect(Math.min(got.leadIdleS, got.followerIdleS)).toBeCloseTo(0, 9);
        for (const s of got.suggestions) {
          const better = sync(
            parseInput(SyncInput, { ...input, follower: { exposureS: s.followerExposureS, downloadS: db } }),
          );
          expect(better.leadDuty + better.followerDuty).toBeGreaterThan(got.leadDuty + got.followerDuty - 1e-9);
        }
      },
    ),
    { seed: 51 },
  );
});
test('a dither is the same way on the sky for every camera', () => {
  const got = ditherPlan(
    parseInput(DitherPlanInput, {
      cameras: [
        { name: 'a', focalLengthMm: 1000, pixelUm: 3.76 },
        { name: 'b', focalLengthMm: 135, pixelUm: 3.76 },
      ],
      guide: { focalLengthMm: 320, pixelUm: 3.75 },
      ditherPx: 3,
      reference: 'coarsest',
    }),
  );
  expect(got.perCamera[0]!.px / got.perCamera[1]!.px).toBeCloseTo(1000 / 135, 9);
  expect(() =>
    ditherPlan(
      parseInput(DitherPlanInput, {
        cameras: [{ name: 'a', focalLengthMm: 1000, pixelUm: 3.76 }],
        guide: { focalLengthMm: 320, pixelUm: 3.75 },
        ditherPx: 3,
        reference: 'nobody',
      }),
    ),
  ).toThrow(InvalidInput);
});
