import { describe, expect, test } from '@jest/globals';
import { writeFits16 } from '../../exchange/fitsWrite.ts';
import { healthyScene } from '../../test/faultyFrames.ts';
import { words } from '../../phrases/index.ts';
import { seeded } from '../../statistics/index.ts';
import { renderCounts } from '../render/render.ts';
import { measurePicture } from '../measure/measure.ts';
import {
  guidedVerdict,
  guidingOfFrames,
  likelyShift,
  type ExposedFrame,
  type LoggedSample,
  type TimedLog,
} from './guided.ts';

const BEGAN = Date.parse('2026-11-18T18:00:00Z');
const SCALE = 1.5;
/** Frames of 120 s with 10 s between them, and a log of two seconds’ step that dithers in the pauses. */
const frames = (n: number, look: ExposedFrame['look'] = null): ExposedFrame[] =>
  Array.from({ length: n }, (_, i) => ({ id: `f${i}`, startedMs: BEGAN + i * 130_000, exposureS: 120, look }));
function log(
  seconds: number,
  change: (s: LoggedSample) => LoggedSample = (s) => s,
  sigma: [number, number] = [0.4, 0.3],
  seed = 3,
): TimedLog {
  const r = seeded(seed).fork('log');
  const samples = Array.from({ length: seconds / 2 }, (_, i): LoggedSample => {
    const timeS = 2 * i;
    return change({
      timeS,
      raArcsec: sigma[0] * r.normal(),
      decArcsec: sigma[1] * r.normal(),
      state: timeS % 130 >= 120 ? 'dithering' : 'guiding',
    });
  });
  return { name: 'night', beganAtMs: BEGAN, samples };
}
const codesOf = (g: Map<string, { phrases: { code: string }[] }>, id: string) => g.get(id)?.phrases.map((p) => p.code);

describe('what the guide log says of a frame', () => {
  test('scatter is that within its exposure, about its own mean', () => {
    const got = guidingOfFrames(frames(10), [log(1300)], SCALE);
    expect(got.size).toBe(10);
    for (const g of got.values()) {
      // √(0.4² + 0.3²) from 60 samples: within four of its standard errors
      expect(Math.abs(g.rmsArcsec! - 0.5)).toBeLessThan(4 * (0.5 / Math.sqrt(2 * 60)));
      expect([g.covered, g.lostS, g.movedS]).toEqual([1, 0, 0]);
      expect(g.phrases).toEqual([]);
    }
    const moved = log(1300, (s) => ({ ...s, raArcsec: s.raArcsec + 7, decArcsec: s.decArcsec - 3 }));
    expect(guidingOfFrames(frames(10), [moved], SCALE).get('f3')!.rmsArcsec).toBeCloseTo(got.get('f3')!.rmsArcsec!, 9);
  });
  test('a gust, a lost star and a dither within the exposure are found in the frame they hurt, and in no other', () => {
    const bad = log(1300, (s) => {
      if (s.timeS === 2 * 130 + 44) return { ...s, raArcsec: 6 };
      if (s.timeS > 4 * 130 + 60 && s.timeS < 4 * 130 + 90) return { ...s, state: 'lost' };
      if (s.timeS > 6 * 130 + 100 && s.timeS < 6 * 130 + 120) return { ...s, state: 'settling' };
      if (s.timeS >= 8 * 130 && s.timeS < 8 * 130 + 120) return { ...s, raArcsec: 2.5 * s.raArcsec };
      return s;
    });
    const got = guidingOfFrames(frames(10), [bad], SCALE);
    expect(
      Object.fromEntries(
        [...got].filter(([, g]) => g.phrases.length).map(([id, g]) => [id, g.phrases.map((p) => p.code)]),
      ),
    ).toEqual({ f2: ['guided.gust'], f4: ['guided.lost'], f6: ['guided.moved'], f8: ['guided.restless'] });
    expect(got.get('f2')).toMatchObject({ peakAtS: 44 });
    expect(got.get('f4')!.lostS).toBe(28);
    expect(guidedVerdict(frames(12), got).map((p) => words(p))).toEqual([
      expect.stringMatching(/cover 10 of 12 frames, 0\.\d\d″/),
      '1 frame lost the guide star.',
      '1 frame was thrown off suddenly: wind, a cable or a bump.',
      '1 frame was guided worse than usual.',
      'In 1 frame the mount moved with the shutter open.',
    ]);
  });
  test('the log that covers most of a frame speaks for it; a frame no log knows has no word', () => {
    const [first, second] = [log(1300), { ...log(400), name: 'later', beganAtMs: BEGAN + 1_235_000 }];
    const got = guidingOfFrames(frames(13), [first, second], SCALE);
    expect([got.get('f9')!.log, got.get('f10')!.log]).toEqual(['night', 'later']);
    expect(guidingOfFrames(frames(13), [first], SCALE).has('f12')).toBe(false);
    expect(guidingOfFrames(frames(3), [], SCALE).size).toBe(0);
  });
});

describe('stars drawn out', () => {
  /** A frame drawn with this guiding, and measured: the length its stars have does not come from the formula. */
  const drawn = (guiding: { alongPx: number; acrossPx: number }, tiltish = 0) => {
    const scene = {
      ...healthyScene(77, 600, 400),
      seeingFwhmPx: 2.8,
      guiding: { ...guiding, angleDeg: 20 },
      ...(tiltish ? { drift: { lengthPx: tiltish, angleDeg: 20 } } : {}),
    };
    const m = measurePicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, []));
    return { fwhmPx: m.fwhmPx, eccentricity: m.eccentricity };
  };
  test.each([
    [1.2, 0.2],
    [1.6, 0.5],
    [0.3, 0.3],
  ])('by guiding of %s along and %s across come out as long as drawn and measured ones', (alongPx, acrossPx) => {
    const look = drawn({ alongPx, acrossPx });
    const guided = log(2600, (s) => s, [alongPx * SCALE, acrossPx * SCALE]);
    const { explains } = guidingOfFrames(frames(20, look), [guided], SCALE).get('f5')!;
    const measured = 1 / Math.sqrt(1 - look.eccentricity! ** 2);
    // sixty samples know a scatter to nine per cent, the drawn width and the fit add theirs
    expect(Math.abs(explains! / measured - 1)).toBeLessThan(0.12);
  });
  test('are the guiding’s where it explains most of it, else flexure, tilt or spacing', () => {
    const [by, other] = [drawn({ alongPx: 1.6, acrossPx: 0.3 }), drawn({ alongPx: 0.25, acrossPx: 0.2 }, 5)];
    expect(other.eccentricity).toBeGreaterThan(0.6);
    const bad = log(1300, (s) => s, [1.6 * SCALE, 0.3 * SCALE]);
    const fine = log(1300, (s) => s, [0.25 * SCALE, 0.2 * SCALE]);
    expect(codesOf(guidingOfFrames(frames(10, by), [bad], SCALE), 'f5')).toEqual(['guided.explains']);
    expect(codesOf(guidingOfFrames(frames(10, other), [fine], SCALE), 'f5')).toEqual(['guided.not-guiding']);
    const verdict = guidedVerdict(frames(10, other), guidingOfFrames(frames(10, other), [fine], SCALE));
    expect(verdict.map((p) => p.code)).toContain('guided.long-not-guiding');
  });
});

describe('the dearest night', () => {
  test('five thousand short frames under three logs of twelve hours are joined, and their clocks compared', () => {
    const many = Array.from({ length: 5000 }, (_, i): ExposedFrame => ({
      id: `f${i}`,
      startedMs: BEGAN + i * 8_600,
      exposureS: 7,
      look: { fwhmPx: 3, eccentricity: 0.4 },
    }));
    const logs = [1, 2, 3].map((seed) => log(43_200, (s) => s, [0.4, 0.3], seed));
    const got = guidingOfFrames(many, logs, SCALE);
    expect(got.size).toBe(5000);
    expect([...got.values()].every((g) => g.rmsArcsec === null || g.rmsArcsec < 1.5)).toBe(true);
    expect(
      guidedVerdict(many, got)
        .map((p) => words(p))
        .join(' '),
    ).not.toMatch(/NaN|undefined/);
    likelyShift(many, logs[0]!);
  });
  test('frames of no length, of no time and a log of one sample leave nothing to say', () => {
    const odd = [
      { id: 'a', startedMs: BEGAN, exposureS: 0, look: null },
      { id: 'b', startedMs: NaN, exposureS: 60, look: null },
    ];
    expect(guidingOfFrames(odd, [log(1300)], SCALE).size).toBe(0);
    expect(likelyShift(odd, log(1300))).toBeNull();
    const one = { ...log(4), samples: log(4).samples.slice(0, 1) };
    expect([...guidingOfFrames(frames(3), [one], SCALE).values()].every((g) => g.rmsArcsec === null)).toBe(true);
  });
});

describe('clocks', () => {
  // dithers after every third frame only, so that the pauses are not all alike
  const uneven = log(2600, (s) => ({ ...s, state: s.timeS % 390 >= 380 ? 'dithering' : 'guiding' }));
  test.each([1, -1, 2, 5.75, -7])('that differ by %s h are found by the pauses', (hours) => {
    const wrong = { ...uneven, beganAtMs: uneven.beganAtMs - hours * 3_600_000 };
    expect(likelyShift(frames(20), wrong)).toMatchObject({ hours });
  });
  test('that agree are left alone, also where the log covers a part, and where nothing could fit', () => {
    expect(likelyShift(frames(20), uneven)).toBeNull();
    expect(likelyShift(frames(20), { ...uneven, samples: uneven.samples.slice(0, 650) })).toBeNull();
    expect(likelyShift(frames(20), { ...uneven, beganAtMs: BEGAN - 40 * 3_600_000 })).toBeNull();
  });
});
