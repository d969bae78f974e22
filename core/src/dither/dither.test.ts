import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { cycleOf, spoiledShare } from './cycle.ts';
import { coverageOf, meanMove, pattern, positionsByFilter } from './pattern.ts';
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

describe('patterns', () => {
  test('a spiral moves one step at a time and never comes back', () => {
    const places = pattern('spiral', 150, 4);
    const keys = new Set(places.map((p) => `${p.x}/${p.y}`));
    expect(keys.size).toBe(150);
    places.slice(1).forEach((p, i) => expect(Math.hypot(p.x - places[i]!.x, p.y - places[i]!.y)).toBeCloseTo(4, 9));
  });
  test('in a disk the mean move of random places is about one step', () => {
    expect(coverageOf(pattern('random', 4000, 3, 7), 1).meanStepPx).toBeCloseTo(3, 1);
  });
  test('an even spread leaves more places apart than chance does', () => {
    const apart = (kind: 'random' | 'low-discrepancy', seed: number) => coverageOf(pattern(kind, 40, 5, seed), 1).apart;
    const chance = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].reduce((s, seed) => s + apart('random', seed), 0) / 10;
    expect(apart('low-discrepancy', 1)).toBeGreaterThan(chance);
  });
  test('whole pixels reach one part of a pixel; a larger step no more', () => {
    expect(coverageOf(pattern('spiral', 60, 3), 1).subPixel).toBeCloseTo(1 / 16, 9);
    expect(coverageOf([], 1)).toEqual({ apart: 0, subPixel: 0, extentPx: 0, meanStepPx: 0 });
  });
  test('by round every filter gets a new place each round; every second frame of two filters starves neither', () => {
    const rolling = Array.from({ length: 12 }, () => ['L', 'R', 'G', 'B']).flat();
    expect(positionsByFilter(rolling, 'round').map((f) => f.positions)).toEqual([12, 12, 12, 12]);
    const block = ['L', 'R'].flatMap((f) => Array.from({ length: 10 }, () => f));
    expect(positionsByFilter(block, 5).map((f) => f.positions)).toEqual([2, 2]);
    expect(positionsByFilter(block, 'round').map((f) => f.frames)).toEqual([10, 10]);
  });
});

describe('the shared cycle', () => {
  test('each lane fills the cycle without a gap, exposes what was counted, and keeps still while nobody dithers', () => {
    fc.assert(
      fc.property(
        seconds,
        seconds,
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 0, max: 40 }),
        (a, b, da, db, n, settle) => {
          const input = parseInput(SyncInput, {
            lead: { exposureS: a, downloadS: da, framesPerDither: n },
            follower: { exposureS: b, downloadS: db },
            ditherSettleS: settle,
          });
          const found = sync(input);
          const cycle = cycleOf(input, found.followerFrames, found.cycleS);
          for (const [lane, frames, exposure] of [
            [cycle.lead, n, a],
            [cycle.follower, found.followerFrames, b],
          ] as const) {
            expect(lane[0]!.fromS).toBe(0);
            expect(lane.at(-1)!.toS).toBeCloseTo(found.cycleS, 6);
            lane.slice(1).forEach((s, i) => expect(s.fromS).toBeCloseTo(lane[i]!.toS, 9));
            const open = lane.filter((s) => s.kind === 'exposure');
            expect(open.reduce((t, s) => t + s.toS - s.fromS, 0)).toBeCloseTo(frames * exposure, 6);
            for (const s of open) expect(s.toS).toBeLessThanOrEqual(cycle.ditherFromS + 1e-9);
          }
          const spoiled = spoiledShare(input);
          expect(spoiled).toBeGreaterThanOrEqual(0);
          expect(spoiled).toBeLessThanOrEqual(1);
        },
      ),
      { seed: 52 },
    );
  });
  test('rarer dithers spoil fewer unsynchronised frames', () => {
    const of = (n: number) =>
      spoiledShare(
        parseInput(SyncInput, {
          lead: { exposureS: 180, downloadS: 4, framesPerDither: n },
          follower: { exposureS: 60, downloadS: 4 },
          ditherSettleS: 20,
        }),
      );
    expect(of(4)).toBeLessThan(of(1));
    expect(of(1)).toBeCloseTo(80 / 200, 9);
  });
});

test('a pattern’s own mean move decides how long its dithers take; a camera of no weight takes what comes', () => {
  const step = 6;
  expect(meanMove(pattern('spiral', 40, step))).toBeCloseTo(step, 9);
  expect(meanMove(pattern('random', 4000, step, 5))).toBeCloseTo(step, 0);
  expect(meanMove(pattern('low-discrepancy', 200, step))).toBeGreaterThan(1.1 * step);
  expect(meanMove([{ x: 1, y: 1 }])).toBe(0);
  const input = {
    lead: { exposureS: 300, downloadS: 2, framesPerDither: 1 },
    follower: { exposureS: 100, downloadS: 2, weight: 0 },
    ditherSettleS: 20,
  };
  const got = sync(parseInput(SyncInput, input));
  // only the lead counts: never kept waiting for the other
  expect(got.leadIdleS).toBe(0);
});
