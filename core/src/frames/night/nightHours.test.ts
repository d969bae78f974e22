import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../statistics/index.ts';
import { nightHours, type SpentFrame } from './nightHours.ts';

const MIN = 60_000;
const frame = (atMin: number, lengthMin: number, more: Partial<SpentFrame> = {}): SpentFrame => ({
  startedMs: atMin * MIN,
  exposureS: 60 * lengthMin,
  accepted: true,
  because: '',
  cloud: false,
  ...more,
});
const clouded = { accepted: false, because: 'cloud', cloud: true };
const dark = { fromMs: 0, toMs: 600 * MIN };
const minutes = (of: ReturnType<typeof nightHours>) =>
  Object.fromEntries(of.sums.map((s) => [s.because ? `${s.kind}: ${s.because}` : s.kind, s.seconds / 60]));

describe('the hours of a night', () => {
  test('by hand: one of each', () => {
    const night = nightHours(
      dark,
      [
        frame(-5, 15),
        frame(11, 10),
        frame(21, 10, { accepted: false, because: 'long stars' }), // to 31
        frame(42, 18), // a focus run at 33: focusing
        frame(160, 40, clouded), // 60 to 160: cloud beside it
        frame(300, 200), // 200 to 300: cloud
        frame(560, 20), // 500 to 560: nothing
      ],
      [33 * MIN],
    );
    expect(minutes(night)).toEqual({
      counted: 10 + 10 + 18 + 200 + 20,
      between: 1,
      'refused: long stars': 10,
      'refused: cloud': 40,
      focusing: 11,
      cloud: 200,
      idle: 60,
      after: 20,
    });
    expect([night.darkS, night.clearS, night.countedS].map((s) => s / 60)).toEqual([600, 600 - 240, 258]);
  });
  test('a run that waited for the sky was not in the clear, though no frame tells of it', () => {
    // counted to 60, cloud 80 to 120 in a pause to 150, and again after the last frame
    const night = nightHours(
      dark,
      [frame(0, 60), frame(150, 50)],
      [],
      [
        [80 * MIN, 120 * MIN],
        [300 * MIN, 340 * MIN],
      ],
    );
    expect(minutes(night)).toEqual({ counted: 110, cloud: 80, idle: 50, after: 360 });
    expect(night.clearS / 60).toBe(520);
    // a spell while the shutter was open takes nothing from the frame
    expect(minutes(nightHours(dark, [frame(0, 600)], [], [[10 * MIN, 50 * MIN]]))).toEqual({ counted: 600 });
  });
  test('a night without a frame is all idle, one that begins late waits before', () => {
    expect(minutes(nightHours(dark, []))).toEqual({ idle: 600 });
    expect(minutes(nightHours(dark, [frame(200, 10)]))).toEqual({ before: 200, counted: 10, after: 390 });
    expect(nightHours({ fromMs: 5, toMs: 5 }, [frame(0, 10)])).toMatchObject({ parts: [], darkS: 0, clearS: 0 });
  });
  test('whatever the frames, in any order, overlapping or out of the dark: the parts meet and fill it', () => {
    for (let seed = 1; seed <= 200; seed++) {
      const r = seeded(seed).fork('hours');
      const frames = Array.from({ length: Math.floor(40 * r.next()) }, () =>
        frame(-60 + 720 * r.next(), 30 * r.next(), r.next() < 0.3 ? clouded : {}),
      );
      const runs = Array.from({ length: 5 }, () => 600 * MIN * r.next()).sort((a, b) => a - b);
      const night = nightHours(dark, frames, runs);
      let at = dark.fromMs;
      for (const p of night.parts) {
        expect(p.fromMs).toBe(at);
        expect(p.toMs).toBeGreaterThan(p.fromMs);
        at = p.toMs;
      }
      expect(at).toBe(dark.toMs);
      expect(night.sums.reduce((s, p) => s + p.seconds, 0)).toBeCloseTo(night.darkS, 6);
      expect(night.clearS).toBeLessThanOrEqual(night.darkS);
      expect(night.countedS).toBeLessThanOrEqual(night.clearS + 1e-6);
    }
  });
});
