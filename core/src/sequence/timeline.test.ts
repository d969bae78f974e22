import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput, parseInput } from '../calculation/index.ts';
import { TimelineInput } from './schemas.ts';
import { timeline } from './timeline.ts';
import { rounds } from '../test/rounds.ts';

const T0 = Date.parse('2026-11-24T18:00:00Z');
const iso = (min: number) => new Date(T0 + min * 60_000).toISOString();
const seconds = fc.integer({ min: 0, max: 400 });
const plan = fc.record({
  minutes: fc.integer({ min: 10, max: 700 }),
  filters: fc.array(
    fc.record({
      exposureS: fc.integer({ min: 5, max: 900 }),
      quota: fc.integer({ min: 1, max: 60 }),
      done: fc.integer({ min: 0, max: 20 }),
    }),
    { minLength: 1, maxLength: 5 },
  ),
  order: fc.constantFrom('rolling' as const, 'block' as const, 'lagging' as const),
  overheads: fc.record({
    downloadS: seconds,
    filterChangeS: seconds,
    autofocusS: seconds,
    ditherS: seconds,
    slewCentreS: seconds,
    flipS: seconds,
    guideStartS: seconds,
  }),
  everyFrames: fc.integer({ min: 0, max: 4 }),
  perRound: fc.boolean(),
  policy: fc.constantFrom('every-change' as const, 'offsets' as const, 'every-change-and-time' as const),
  flip: fc.integer({ min: -50, max: 750 }),
  cloud: fc.array(fc.tuple(fc.integer({ min: -30, max: 700 }), fc.integer({ min: 0, max: 90 })), { maxLength: 3 }),
});

describe('a timeline', () => {
  test('fills its span without gap or overlap, and its sums are the span', () => {
    fc.assert(
      fc.property(plan, (p) => {
        const input = parseInput(TimelineInput, {
          start: iso(0),
          end: iso(p.minutes),
          filters: p.filters.map((f, i) => ({ ...f, name: `f${i}` })),
          order: p.order,
          overheads: p.overheads,
          dither: { everyFrames: p.everyFrames, perRound: p.perRound },
          focus: { policy: p.policy, everyMin: 60 },
          flipAt: iso(p.flip),
          blocked: p.cloud.map(([a, length]) => ({ start: iso(a), end: iso(a + length) })),
        });
        const t = timeline(input);
        let at = T0;
        const apart: typeof t.events = [];
        for (const e of t.events) {
          const [from, until] = [Date.parse(e.start), Date.parse(e.end)];
          if (from !== at || until <= from) apart.push(e);
          at = until;
        }
        expect(apart).toEqual([]);
        expect(at).toBe(T0 + p.minutes * 60_000);
        const lost = Object.values(t.overheadS).reduce((s, v) => s + v, 0);
        expect(t.openShutterS + lost).toBeCloseTo(p.minutes * 60, 6);
        // nobody beyond its quota, and no exposure under cloud
        p.filters.forEach((f, i) => expect(t.frames[`f${i}`]! + f.done).toBeLessThanOrEqual(Math.max(f.quota, f.done)));
        for (const e of t.events.filter((x) => x.kind === 'expose'))
          for (const [a, length] of p.cloud)
            if (length > 0)
              expect(Date.parse(e.end) <= T0 + a * 60_000 || Date.parse(e.start) >= T0 + (a + length) * 60_000).toBe(
                true,
              );
      }),
      { seed: 21, numRuns: rounds(60, 150) },
    );
  });
  test('offsets never give fewer frames than a focus run on every change', () => {
    const base = {
      start: iso(0),
      end: iso(480),
      filters: ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS: 240, quota: 100 })),
      order: 'rolling',
      overheads: { downloadS: 4, filterChangeS: 6, autofocusS: 180, slewCentreS: 90, guideStartS: 20 },
    };
    const count = (policy: string) => {
      const t = timeline(parseInput(TimelineInput, { ...base, focus: { policy } }));
      return Object.values(t.frames).reduce((s, n) => s + n, 0);
    };
    expect(count('offsets')).toBeGreaterThan(1.5 * count('every-change'));
  });
  test.each([
    ['an end before the start', { end: iso(-5) }],
    ['a filter twice', { filters: [1, 2].map(() => ({ name: 'L', exposureS: 60, quota: 3 })) }],
    ['block order without a quota', { order: 'block', filters: [{ name: 'L', exposureS: 60 }] }],
    ['an exposure of nothing', { filters: [{ name: 'L', exposureS: 0, quota: 3 }] }],
    ['a cloud that ends before it comes', { blocked: [{ start: iso(20), end: iso(10) }] }],
  ])('%s is refused', (_, wrong) => {
    const good = {
      start: iso(0),
      end: iso(60),
      filters: [{ name: 'L', exposureS: 60, quota: 3 }],
      order: 'rolling',
      focus: { policy: 'offsets' },
    };
    expect(() => parseInput(TimelineInput, { ...good, ...wrong })).toThrow(InvalidInput);
  });
});
