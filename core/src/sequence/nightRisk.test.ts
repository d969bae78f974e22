import { describe, expect, test } from '@jest/globals';
import { legInNight } from './legInNight.ts';
import { playNightRisk, type NightRiskInput } from './nightRisk.ts';
import type { PreparedLeg } from './legTimeline.ts';
import { playLegs } from './playLegs.ts';
import { TimelineInput } from './schemas.ts';

const T0 = Date.parse('2026-11-19T18:00:00.000Z');
const HOUR = 3_600_000;
const iso = (ms: number) => new Date(ms).toISOString();
/** A leg from one hour of the night to another. */
function leg(id: string, from: number, to: number, more: object = {}, role: PreparedLeg['role'] = 'main'): PreparedLeg {
  const hours = [[T0 + from * HOUR, T0 + to * HOUR]] as const;
  const input = TimelineInput.parse({
    start: iso(hours[0][0]),
    end: iso(hours[0][1]),
    order: 'rolling',
    filters: ['L', 'Ha'].map((name) => ({ name, exposureS: 300, quota: 90 })),
    overheads: { downloadS: 5, filterChangeS: 8, autofocusS: 120, slewCentreS: 90, guideStartS: 20, ditherS: 12 },
    focus: { policy: 'offsets', atStart: true },
    flipAt: null,
    ...more,
  });
  const turnMin = (more as { turnMin?: number }).turnMin ?? null;
  return { id, projectId: id, goal: id, role, turnMin, hours, claims: hours, input, trouble: null, follower: null };
}
const ask = (prepared: PreparedLeg[], more: Partial<NightRiskInput> = {}): NightRiskInput => ({
  prepared,
  legIndex: 0,
  openedMs: T0,
  focused: false,
  wheel: '',
  weather: { clearMeanMin: 90, cloudMeanMin: 45 },
  nights: 60,
  seed: 7,
  orders: ['rolling', 'block', 'lagging'],
  ...more,
});
function answer(of: NightRiskInput) {
  const nights = playNightRisk(of);
  for (;;) {
    const step = nights.next();
    if (step.done) return step.value;
  }
}

describe('the risk of a whole night', () => {
  const two = [leg('a', 0, 6), leg('b', 3, 8, {}, 'fixed')];
  test('without a cloud it is the night as it is laid out, other legs and all', () => {
    const clear = answer(ask(two, { weather: { clearMeanMin: 1e6, cloudMeanMin: 1 }, nights: 5 }));
    const legs = two.map((p) => legInNight(p, T0)!);
    const { legs: played } = playLegs(legs, { openedMs: T0, focused: false, wheel: '' }, {});
    const frames = clear.perOrder.rolling!.expectedFrames;
    expect([frames.L, frames.Ha]).toEqual([...played[0]!.state.taken]);
    // alone it has the hours that the fixed leg takes from it
    const alone = answer(ask([two[0]!], { weather: { clearMeanMin: 1e6, cloudMeanMin: 1 }, nights: 5 }));
    expect(alone.perOrder.rolling!.expectedFrames.L).toBeGreaterThan(1.5 * frames.L!);
  });
  test('no frame lies in cloud or in hours that are not its leg’s, and none overlap, whatever the sky', () => {
    const spans: { i: number; from: number; to: number }[] = [];
    const shut = [0.4, 1.9, 3.2, 5.5, 7.1].map((h) => [T0 + h * HOUR, T0 + (h + 0.3) * HOUR] as const);
    playLegs(
      two.map((p) => legInNight(p, T0)!),
      { openedMs: T0, focused: false, wheel: '', shut },
      {
        frame: (i, rules, step, from) =>
          spans.push({ i, from, to: from + 1000 * rules.filters[step.filterIndex]!.exposureS }),
      },
    );
    expect(spans.length).toBeGreaterThan(40);
    for (const [n, s] of spans.entries()) {
      expect(shut.filter(([a, b]) => s.from < b && s.to > a)).toEqual([]);
      const [from, to] = two[s.i]!.hours[0]!;
      expect([s.from >= from, s.to <= to, n === 0 || s.from >= spans[n - 1]!.to]).toEqual([true, true, true]);
    }
  });
  test('cloud only takes; the same seed draws the same skies; minutes add up to no more than the night', () => {
    const [some, again] = [answer(ask(two)), answer(ask(two))];
    expect(again).toEqual(some);
    const none = answer(ask(two, { weather: { clearMeanMin: 1e6, cloudMeanMin: 1 }, nights: 5 }));
    for (const order of ['rolling', 'block', 'lagging'] as const) {
      const total = (r: typeof some) => Object.values(r.perOrder[order]!.expectedFrames).reduce((s, n) => s + n, 0);
      expect(total(some)).toBeLessThan(total(none));
      const minutes = Object.values(some.perOrder[order]!.minutes).reduce((s, n) => s + n, 0);
      expect(minutes).toBeLessThanOrEqual(8 * 60 + 1e-6);
    }
  });
  test('a leg without hours, with nothing to want, or too much to play is refused by name', () => {
    expect(() => answer(ask(two, { legIndex: 5 }))).toThrow('has no hours in this night');
    const done = [leg('a', 0, 6, { filters: [{ name: 'L', exposureS: 60, quota: 3, done: 3 }] })];
    expect(() => answer(ask(done))).toThrow('every quota is reached already');
    const short = [
      leg('a', 0, 8, { filters: [{ name: 'L', exposureS: 1, quota: 90_000 }], overheads: { downloadS: 0 } }),
    ];
    expect(() => answer(ask(short, { nights: 50_000 }))).toThrow('more frames than can be answered');
  });
});
