import { describe, expect, test } from '@jest/globals';
import { writeFits16 } from '../exchange/fitsWrite.ts';
import { diagnose, frameLook, measurePicture, renderCounts } from '../frames/index.ts';
import { readLog } from '../guiding/index.ts';
import { words, type Phrase } from '../phrases/index.ts';
import { seeded } from '../statistics/index.ts';
import {
  drillOf,
  isKnown,
  judgeDrill,
  nextSituation,
  SITUATION_KEYS,
  SITUATIONS,
  type Exhibit,
  type SituationKey,
} from './index.ts';
import { rounds } from '../test/rounds.ts';

const SEEDS = [1, 2, 3, 5, 8, 13, 21, 34, 55, 89];
/** Drawing and measuring takes a quarter of a second each; sixty seeds were tried once. */
const DRAWN = SEEDS.slice(0, rounds(1, 4));
const frameOf = (key: SituationKey, seed: number) =>
  drillOf(key, seed).exhibits.find((e): e is Extract<Exhibit, { kind: 'frame' }> => e.kind === 'frame')!;
const logOf = (key: SituationKey, seed: number) =>
  drillOf(key, seed).exhibits.find((e): e is Extract<Exhibit, { kind: 'guide-log' }> => e.kind === 'guide-log')!;
const courseOf = (key: SituationKey, seed: number, nth = 0) =>
  drillOf(key, seed).exhibits.filter((e): e is Extract<Exhibit, { kind: 'course' }> => e.kind === 'course')[nth]!;
function lookOf(key: SituationKey, seed: number) {
  const { scene } = frameOf(key, seed);
  return frameLook(measurePicture(writeFits16(renderCounts(scene), scene.widthPx, scene.heightPx, [])));
}
const whole = (p: Phrase) => expect(words(p)).not.toMatch(/[{}]|NaN|undefined|Infinity/);

test('there are two dozen of them and over, of every level and part of the day', () => {
  expect(SITUATION_KEYS.length).toBeGreaterThanOrEqual(24);
  const all = Object.values(SITUATIONS);
  expect(new Set(all.map((s) => s.field))).toEqual(new Set(['bench', 'dusk', 'night', 'morning']));
  for (const level of [1, 2, 3]) expect(all.filter((s) => s.level === level).length).toBeGreaterThanOrEqual(4);
});

describe.each(SITUATION_KEYS)('%s', (key) => {
  test('is told in whole sentences, offers four of each with the right one among them, and the same seed is the same drill', () => {
    for (const seed of SEEDS) {
      const drill = drillOf(key, seed);
      const s = SITUATIONS[key];
      whole(drill.tale);
      expect(drill.exhibits.length).toBeGreaterThan(0);
      for (const [offered, right] of [
        [drill.causes, s.cause],
        [drill.cures, s.cure],
      ] as const) {
        expect(new Set<string>(offered).size).toBe(4);
        expect(offered).toContain(right);
      }
      const judged = judgeDrill({ situation: key, seed, cause: s.cause, cure: s.cure });
      expect(judged).toMatchObject({ level: 'good', instead: [] });
      whole(judged.why);
    }
    expect(drillOf(key, 7)).toEqual(drillOf(key, 7));
    expect(new Set([4, 6, 8, 9].map((seed) => JSON.stringify(drillOf(key, seed).exhibits))).size).toBeGreaterThan(1);
    const half = judgeDrill({
      situation: key,
      seed: 3,
      cause: SITUATIONS[key].cause,
      cure: SITUATIONS[key].otherCures[0],
    });
    const none = judgeDrill({
      situation: key,
      seed: 3,
      cause: SITUATIONS[key].otherCauses[1],
      cure: SITUATIONS[key].otherCures[0],
    });
    expect([half.level, half.instead.length, none.level, none.instead.length]).toEqual(['caution', 0, 'bad', 1]);
    whole(none.instead[0]!);
  });
});

describe('what is shown is what is claimed, by the product’s own reading', () => {
  test.each([
    ['wrong-spacing', /^spacing/],
    ['tilted-sensor', /^tilt/],
    ['tails-all-one-way', /^one-sided/],
    ['prism-in-the-light', /^prism-shadow/],
    ['guide-camera-out-of-reach', /^defocus/],
    ['focus-not-reached', /^defocus/],
    ['fine-graph-long-stars', /^trailing/],
    ['second-camera-jumps', /^trailing/],
    ['exposed-too-soon', /^trailing/],
    ['the-star-that-never-moved', /^trailing/],
  ] as const)('a frame of %s', (key, code) => {
    for (const seed of DRAWN) {
      const codes = diagnose(lookOf(key, seed), null, 1.5).map((f) => f.code);
      expect([seed, codes.some((c) => code.test(c)), codes]).toEqual([seed, true, codes]);
    }
  });
  test.each([
    ['fine-graph-long-stars', 'calm'],
    ['the-star-that-never-moved', 'hot-pixel-lock'],
    ['saw-teeth', 'over-correction-ra'],
    ['declination-hangs', 'dec-backlash'],
    ['slow-climb', 'polar-drift'],
    ['jumps-out-of-nothing', 'gust'],
    ['slow-wave', 'periodic-error'],
    ['signal-sinks', 'cloud'],
  ] as const)('the log of %s', (key, code) => {
    for (const seed of SEEDS)
      expect([seed, readLog({ samples: logOf(key, seed).samples } as never).findings.map((f) => f.code)]).toEqual([
        seed,
        expect.arrayContaining([code]),
      ]);
  });
  test('the line across a frame, the full stars, and the dark half of a guide picture are there to be seen', () => {
    for (const seed of DRAWN) {
      expect(lookOf('a-bright-line', seed).trails).toBeGreaterThanOrEqual(1);
      expect(lookOf('white-without-colour', seed).saturatedFraction).toBeGreaterThan(0.1);
      const cells = lookOf('guide-camera-half-lit', seed).grid.map((c) => c.background);
      expect(Math.min(...cells)).toBeLessThan(0.8 * Math.max(...cells));
    }
  });
  test('courses go the way that is told', () => {
    const mean = (v: readonly (readonly [number, number])[]) => v.reduce((s, [, y]) => s + y, 0) / v.length;
    for (const seed of SEEDS) {
      const width = courseOf('a-tube-that-cools', seed).series[0]!.points;
      expect(mean(width.slice(-8))).toBeGreaterThan(1.3 * mean(width.slice(0, 4)));
      const [stars, sky] = [0, 1].map((n) => courseOf('glass-goes-blind', seed, n).series[0]!.points);
      expect(mean(stars!.slice(-8))).toBeLessThan(0.5 * mean(stars!.slice(0, 8)));
      expect(mean(sky!.slice(-8))).toBeLessThan(mean(sky!.slice(0, 8)));
      const filters = courseOf('one-filter-is-soft', seed)
        .series.map((s) => mean(s.points))
        .sort((a, b) => a - b);
      expect(filters[3]! - filters[2]!).toBeGreaterThan(5 * (filters[2]! - filters[0]!));
    }
  });
});

describe('numbers', () => {
  const values = (key: SituationKey, seed: number) =>
    judgeDrill({ situation: key, seed, cause: SITUATIONS[key].cause, cure: SITUATIONS[key].cure }).why.values as Record<
      string,
      number
    >;
  const figures = (key: SituationKey, seed: number) =>
    drillOf(key, seed).exhibits.flatMap((e) =>
      e.kind === 'table' ? e.rows.flatMap(([, c]) => (typeof c === 'string' ? [] : [c.value])) : [],
    );
  test('a side mass rests in the first attitude and swings in another', () => {
    for (const seed of SEEDS) {
      const rows = drillOf('side-heavy', seed).exhibits[0] as Extract<Exhibit, { kind: 'table' }>;
      expect(rows.rows.map(([, what]) => what)).toEqual(['stays where it is', 'swings', 'swings']);
      const [kg, arm, place] = figures('side-heavy', seed);
      expect(values('side-heavy', seed).trimKg! * place!).toBeCloseTo(kg! * arm!, 6);
    }
  });
  test('the spacer puts the guide camera in focus at half its travel; the shortened train reaches focus', () => {
    for (const seed of SEEDS) {
      const [main, guide, travel] = figures('guide-camera-out-of-reach', seed);
      expect(guide! + values('guide-camera-out-of-reach', seed).spacerMm! + travel! / 2).toBeCloseTo(main!, 9);
      const [behind, bare, ring, train] = figures('focus-not-reached', seed);
      expect(bare! + ring! + train! - behind!).toBeCloseTo(values('focus-not-reached', seed).shortMm!, 9);
      expect(bare! + train!).toBeLessThan(behind!);
    }
  });
  test('more weight at the end balances the tube', () => {
    for (const seed of SEEDS) {
      const [tube, arm, weights, end] = figures('weights-at-the-end', seed);
      expect((weights! + values('weights-at-the-end', seed).moreKg!) * end!).toBeCloseTo(tube! * arm!, 6);
    }
  });
  test('glass under the dew point, by a table: at 10 °C and 90 % it lies at 8.4 °C', () => {
    for (const seed of SEEDS) expect(values('glass-goes-blind', seed).belowDeltaC).toBeGreaterThan(0.3);
    // psychrometric table, from memory: 10 °C and 90 % give 8.4 °C
    const near = SEEDS.map((seed) => figures('glass-goes-blind', seed)[0]! - values('glass-goes-blind', seed).dewC!);
    for (const below of near) expect(below).toBeGreaterThan(0.6);
    for (const below of near) expect(below).toBeLessThan(2.4);
  });
  test('an hour on the dial is half an hour of its marks', () => {
    for (const seed of SEEDS) {
      const { right, set } = values('an-hour-on-the-dial', seed) as unknown as { right: string; set: string };
      const minutes = (t: string) => {
        const [h, m] = t.split(':').map(Number);
        return (h! % 12) * 60 + m!;
      };
      const apart = Math.abs(minutes(right) - minutes(set));
      expect(Math.min(apart, 720 - apart)).toBeGreaterThanOrEqual(29);
      expect(Math.min(apart, 720 - apart)).toBeLessThanOrEqual(31);
    }
  });
});

describe('what comes next', () => {
  const counts = (standing: Parameters<typeof nextSituation>[0], last: SituationKey | null = null) => {
    const r = seeded(5);
    const n = new Map<string, number>();
    for (let i = 0; i < 6000; i++) {
      const k = nextSituation(standing, null, last, r);
      n.set(k, (n.get(k) ?? 0) + 1);
    }
    return n;
  };
  test('is what was missed before what is known, and never the same twice running', () => {
    const n = counts(
      {
        'saw-teeth': { tries: 2, latest: [true, true] },
        'slow-wave': { tries: 1, latest: [false] },
        'slow-climb': { tries: 1, latest: [true] },
      },
      'side-heavy',
    );
    expect(n.has('side-heavy')).toBe(false);
    // weights 6, 3, 2 and 0.4
    expect(n.get('slow-wave')! / n.get('a-bright-line')!).toBeCloseTo(2, 0);
    expect(n.get('slow-climb')!).toBeLessThan(n.get('a-bright-line')!);
    expect(n.get('saw-teeth')!).toBeLessThan(0.35 * n.get('slow-climb')!);
  });
  test('begins with what is seen at once', () => {
    const n = counts({});
    const of = (level: number) => SITUATION_KEYS.filter((k) => SITUATIONS[k].level === level).map((k) => n.get(k) ?? 0);
    const mean = (all: number[]) => all.reduce((s, v) => s + v, 0) / all.length;
    expect(mean(of(1)) / mean(of(2))).toBeCloseTo(4, 0);
    expect(mean(of(1)) / mean(of(3))).toBeGreaterThan(7);
  });
  test('keeps to a level that is asked for', () => {
    const r = seeded(1);
    for (let i = 0; i < 200; i++) expect(SITUATIONS[nextSituation({}, 3, null, r)].level).toBe(3);
  });
  test('known is right both ways twice running', () => {
    expect(
      [
        undefined,
        { tries: 1, latest: [true] },
        { tries: 3, latest: [true, false, true] },
        { tries: 2, latest: [true, true] },
      ].map(isKnown),
    ).toEqual([false, false, false, true]);
  });
});
