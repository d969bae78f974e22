import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import {
  learnLimits,
  standardsOf,
  suggestRefusal,
  USUAL_LIMITS,
  type FrameMeasures,
  type Judgement,
  type LookedFrame,
} from './frameMeasures.ts';

const look = (more: Partial<FrameMeasures> = {}): FrameMeasures => ({
  widthPx: 800,
  heightPx: 600,
  background: 900,
  noise: 20,
  stars: 200,
  used: 100,
  hfdPx: 3,
  fwhmPx: 2.6,
  eccentricity: 0.3,
  elongationAngleDeg: 10,
  saturatedFraction: 0.01,
  coreRatio: 1.8,
  edgeDips: { left: 0, right: 0, bottom: 0, top: 0 },
  grid: [],
  trails: 0,
  colourCells: false,
  ...more,
});
const frame = (id: string, of: Partial<FrameMeasures> | null = {}, filter = 'Ha', exposureS = 300): LookedFrame => ({
  id,
  filter,
  exposureS,
  look: of && look(of),
});
const suggested = (frames: LookedFrame[]) => {
  const usual = standardsOf(frames);
  return frames.map((f) => suggestRefusal(f, usual(f), USUAL_LIMITS)?.code ?? null);
};
const good = Array.from({ length: 8 }, (_, i) => frame(`g${i}`, { hfdPx: 2.9 + 0.03 * i, stars: 190 + 3 * i }));

describe('suggestions to refuse', () => {
  test('name what strays, by the frames of the same filter and length', () => {
    const odd = [
      frame('w', { hfdPx: 4.6 }),
      frame('f', { stars: 70 }),
      frame('c', { stars: 120, noise: 26 }),
      frame('l', { eccentricity: 0.7 }),
      frame('none', null),
    ];
    expect(suggested([...good, ...odd])).toEqual([...good.map(() => null), 'wide', 'few', 'cloud', 'long', null]);
    const got = suggestRefusal(odd[0]!, standardsOf([...good, ...odd])(odd[0]!), USUAL_LIMITS)!;
    expect([got.costsS, got.reason.code]).toEqual([300, 'look.wide']);
  });
  test('are silent with too few fellows, and another filter is no fellow', () => {
    expect(suggested([frame('a'), frame('b', { hfdPx: 9 })])).toEqual([null, null]);
    expect(
      suggested([...good, frame('L', { hfdPx: 4.6 }, 'L'), frame('short', { hfdPx: 4.6 }, 'Ha', 60)]).slice(-2),
    ).toEqual([null, null]);
  });
  test('a night that was bad from end to end is not refused as a whole', () => {
    expect(suggested(good.map((f) => ({ ...f, look: { ...f.look!, hfdPx: f.look!.hfdPx! * 2 } })))).toEqual(
      good.map(() => null),
    );
  });
});

describe('limits learnt from people', () => {
  const decided = (limit: number, n: number, seed = 1): Judgement[] => {
    const r = seeded(seed);
    return Array.from({ length: n }, () => {
      const wide = 0.9 + 1.2 * r.next();
      return {
        filter: 'Ha',
        accepted: wide < limit,
        wide,
        few: 0.8 + 0.2 * r.next(),
        eccentricity: 0.2 + 0.2 * r.next(),
      };
    });
  };
  test('come near the limit somebody keeps to; what was never decided stays as usual', () => {
    for (const limit of [1.2, 1.7]) {
      const got = learnLimits(decided(limit, 200), 'Ha')!;
      expect(Math.abs(got.wide - limit)).toBeLessThan(0.03);
      expect(got.few).toBe(USUAL_LIMITS.few);
    }
  });
  test('are not moved by a few words, by one sort of word, or by another filter’s', () => {
    expect(learnLimits(decided(1.2, 8), 'Ha')).toBeNull();
    expect(learnLimits(decided(9, 50), 'Ha')).toBeNull();
    expect(learnLimits(decided(1.2, 200), 'L')).toBeNull();
  });
});
