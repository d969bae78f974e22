import { describe, expect, test } from '@jest/globals';
import { seeded } from '../statistics/index.ts';
import { addDays, type YearNight } from '../sky/index.ts';
import { finishing } from './finishing.ts';
import { finishedBoth, STEP_MIN, whatHelps, type HelpsInput } from './helps.ts';

const nights = (n: number, of: (i: number) => [hours: number, moonless: number]): YearNight[] =>
  Array.from({ length: n }, (_, i) => {
    const [hours, moonlessHours] = of(i);
    return { date: addDays('2026-12-01', i), hours, moonlessHours, illumination: 0.5 };
  });

/** Every sky there could be, one after the other; shares nothing with what is tested. */
test('two sorts of filters in the same nights: the chance of both is that of all skies tried', () => {
  const r = seeded(90);
  for (let round = 0; round < 60; round++) {
    const n = 1 + Math.floor(9 * r.next());
    const each = Array.from({ length: n }, () => ({
      moonless: Math.floor(300 * r.next()),
      moonlit: Math.floor(200 * r.next()),
    }));
    const need = { broadMinutes: Math.floor(600 * r.next()), narrowMinutes: Math.floor(500 * r.next()) };
    const clear = 0.1 + 0.8 * r.next();
    const found = finishedBoth(need, each, clear);
    const byHand = each.map(() => 0);
    for (let sky = 0; sky < 2 ** n; sky++) {
      let [broad, narrow, p] = [Math.ceil(need.broadMinutes / 10), Math.ceil(need.narrowMinutes / 10), 1];
      each.forEach((_, i) => (p *= (sky >> i) & 1 ? clear : 1 - clear));
      each.forEach((night, i) => {
        if ((sky >> i) & 1) {
          for (let k = 0; k < Math.floor(night.moonless / 10); k++)
            if (broad > 0) broad--;
            else narrow--;
          narrow -= Math.floor(night.moonlit / 10);
        }
        if (broad <= 0 && narrow <= 0) byHand[i]! += p;
      });
    }
    found.forEach((p, i) => expect(p).toBeCloseTo(byHand[i]!, 10));
  }
  expect(STEP_MIN).toBe(10);
});

describe('what helps', () => {
  const own = { nights: nights(60, () => [6, 3]), clearFraction: 0.3, share: 0.5 };
  const input = (more: Partial<HelpsInput> = {}): HelpsInput => ({
    broadMinutes: 900,
    narrowMinutes: 900,
    deadline: null,
    own,
    shareDoubled: 2 / 3,
    lower: null,
    others: [],
    ...more,
  });
  test('now is what a share of the hours gives; more weight never less', () => {
    const r = seeded(91);
    for (let i = 0; i < 40; i++) {
      const share = 0.1 + 0.8 * r.next();
      const got = whatHelps(
        input({
          own: { ...own, share, clearFraction: r.next() },
          shareDoubled: (2 * share) / (1 + share),
          broadMinutes: 2000 * r.next(),
        }),
      );
      for (const h of got.helps) expect(h.chance).toBeGreaterThanOrEqual(got.now.chance - 0.01);
    }
    const { now } = whatHelps(input());
    const halved = finishing({
      nights: own.nights.map((n) => ({ ...n, hours: n.hours / 2, moonlessHours: n.moonlessHours / 2 })),
      needMinutes: 1800,
      narrow: false,
      clearFraction: 0.3,
    });
    expect(now).toEqual({ chance: halved.chance, p50: halved.p50 });
  });
  test('lines under the Moon help where there are lines, and broad filters beside them', () => {
    const kinds = (of: HelpsInput) => whatHelps(of).helps.map((h) => h.kind);
    expect(kinds(input())[0]).toBe('lines');
    expect(kinds(input({ narrowMinutes: 0, broadMinutes: 1800 }))).not.toContain('lines');
    // lines alone count moonlit hours already
    expect(kinds(input({ narrowMinutes: 1800, broadMinutes: 0 }))).not.toContain('lines');
  });
  test('another rig with more hours to give comes first, one with fewer is not told of; a lower limit is', () => {
    const rich = { ...own, share: 1, rig: 'shed' };
    const poor = { ...own, share: 0.05, rig: 'tower' };
    const { now, helps } = whatHelps(
      input({ others: [poor, rich], lower: { toDeg: 25, nights: nights(60, () => [8, 5]) } }),
    );
    expect(helps.map((h) => ('rig' in h ? h.rig : h.kind))).not.toContain('tower');
    expect(helps[0]).toMatchObject({ kind: 'rig', rig: 'shed' });
    expect(helps.find((h) => h.kind === 'lower')).toMatchObject({ toDeg: 25 });
    for (const h of helps) expect(h.chance).toBeGreaterThan(now.chance);
    expect(helps.map((h) => h.chance)).toEqual(helps.map((h) => h.chance).toSorted((a, b) => b - a));
  });
  test('what is finished as good as surely needs no help', () => {
    expect(whatHelps(input({ broadMinutes: 60, narrowMinutes: 0 })).helps).toEqual([]);
  });
});
