import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { drawSpells } from './clearSpells.ts';
import { learnSpells, type SkyFrame } from './learnSpells.ts';

/** Nights under a drawn sky, looked at by frames of two minutes. */
function nightsUnder(clearMeanMin: number, cloudMeanMin: number, n: number, seed: number): SkyFrame[][] {
  const random = seeded(seed);
  return Array.from({ length: n }, () => {
    const spells = drawSpells({ clearMeanMin, cloudMeanMin }, random, 0, 8 * 3_600_000);
    return Array.from({ length: 230 }, (_, k) => {
      const startMs = k * 125_000;
      const middle = startMs + 60_000;
      return { startMs, endMs: startMs + 120_000, cloud: spells.some(([a, b]) => middle >= a && middle < b) };
    });
  });
}

describe('spells learnt from nights', () => {
  test('are those the nights were drawn from, within what so many changes tell', () => {
    let outside = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const got = learnSpells(nightsUnder(120, 50, 40, seed))!;
      const off = Math.abs(got.clearMeanMin / 120 - 1) * Math.sqrt(got.clearEnds);
      const offCloud = Math.abs(got.cloudMeanMin / 50 - 1) * Math.sqrt(got.cloudEnds);
      if (off > 2) outside++;
      if (offCloud > 2) outside++;
    }
    // one in twenty at two standard errors
    expect(outside).toBeLessThanOrEqual(14);
  });
  test('need ten nights and a change each way', () => {
    expect(learnSpells(nightsUnder(120, 50, 9, 3))).toBeNull();
    expect(learnSpells(nightsUnder(1e6, 1, 12, 3))).toBeNull();
    expect(learnSpells([])).toBeNull();
  });
  test('say nothing of a long gap: the night may have been stopped', () => {
    const night = (gapMin: number): SkyFrame[] => [
      { startMs: 0, endMs: 600_000, cloud: false },
      { startMs: 600_000, endMs: 1_200_000, cloud: true },
      { startMs: 1_200_000 + gapMin * 60_000, endMs: 1_800_000 + gapMin * 60_000, cloud: true },
      { startMs: 1_800_000 + gapMin * 60_000, endMs: 2_400_000 + gapMin * 60_000, cloud: false },
    ];
    const of = (gap: number) => learnSpells(Array.from({ length: 10 }, () => night(gap)))!.cloudMeanMin;
    expect(of(10)).toBeCloseTo(30, 6);
    expect(of(300)).toBeCloseTo(20, 6);
  });
});
