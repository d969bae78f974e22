import { describe, expect, test } from '@jest/globals';
import { createRequire } from 'node:module';
import { InvalidInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { seasonForecast, type ForecastInput } from './forecast.ts';

const { jStat } = createRequire(import.meta.url)('jstat') as {
  jStat: { binomial: { cdf: (k: number, n: number, p: number) => number } };
};
const run = (input: object) => seasonForecast.run(input) as ReturnType<typeof seasonForecast.compute>;

/** Every sequence of clear and cloudy nights, with its chance: shares nothing with what is tested. */
function everyWeather({ needMinutes, nights, clearFraction: f, meanClearNights: m }: ForecastInput) {
  const byNight = nights.map(() => 0);
  let expected = 0;
  for (let bits = 0; bits < 2 ** nights.length; bits++) {
    let [chance, sum, was] = [1, 0, null as boolean | null];
    const finishedBy = nights.map((night, i) => {
      const clear = ((bits >> i) & 1) === 1;
      const own = night.clear ?? f;
      const p = m === undefined || was === null ? own : was ? 1 - 1 / m : f / ((1 - f) * m);
      chance *= clear ? p : 1 - p;
      if (clear) sum += night.minutes;
      was = clear;
      return sum >= needMinutes;
    });
    finishedBy.forEach((done, i) => (byNight[i]! += done || needMinutes === 0 ? chance : 0));
    expected += chance * Math.min(sum, needMinutes);
  }
  return { byNight, expected };
}

describe('the forecast of finishing', () => {
  test('is what all weathers together give, in 300 draws with foretold nights and with spells', () => {
    const r = seeded(91);
    for (let n = 0; n < 300; n++) {
      const f = Math.round(90 * r.next()) / 100;
      const spells = r.next() < 0.5;
      const nights = Array.from({ length: 1 + Math.floor(10 * r.next()) }, () => ({
        minutes: Math.floor((r.next() < 0.3 ? 7 : 600) * r.next()),
        ...(!spells && r.next() < 0.4 ? { clear: Math.round(100 * r.next()) / 100 } : {}),
      }));
      const input = {
        needMinutes: Math.floor(2500 * r.next() * r.next()),
        nights,
        clearFraction: f,
        ...(spells ? { meanClearNights: Math.max(1, f / (1 - f)) + 4 * r.next() } : {}),
      };
      const got = run(input);
      const all = everyWeather(input);
      got.byNight.forEach((p, i) => expect([n, i, p]).toEqual([n, i, expect.closeTo(all.byNight[i]!, 10)]));
      expect(got.expectedMinutes).toBeCloseTo(all.expected, 7);
      for (const [name, share] of [
        ['p10', 0.1],
        ['p50', 0.5],
        ['p90', 0.9],
      ] as const) {
        const at = all.byNight.findIndex((p) => p >= share - 1e-12);
        expect([n, name, got[name]]).toEqual([n, name, at < 0 ? null : at]);
      }
      for (let i = 1; i < got.byNight.length; i++)
        expect(got.byNight[i]!).toBeGreaterThanOrEqual(got.byNight[i - 1]! - 1e-12);
    }
  });
  test('of like nights is the binomial distribution', () => {
    const nights = Array.from({ length: 40 }, () => ({ minutes: 120 }));
    const { byNight } = run({ needMinutes: 1500, nights, clearFraction: 0.35 });
    byNight.forEach((p, i) => expect(p).toBeCloseTo(1 - jStat.binomial.cdf(12, i + 1, 0.35), 10));
  });
  test('is sure where nothing is wanted, and never where the nights are too few', () => {
    const nights = [{ minutes: 100 }, { minutes: 100 }];
    expect(run({ needMinutes: 0, nights, clearFraction: 0.2 })).toMatchObject({
      byNight: [1, 1],
      chance: 1,
      p10: 0,
      p90: 0,
      expectedMinutes: 0,
      verdict: { level: 'good' },
    });
    expect(run({ needMinutes: 201, nights, clearFraction: 1 })).toMatchObject({
      byNight: [0, 0],
      chance: 0,
      p10: null,
      expectedMinutes: 200,
      verdict: { level: 'bad' },
    });
    expect(run({ needMinutes: 0, nights: [], clearFraction: 1 })).toMatchObject({ byNight: [], chance: 1, p50: null });
    expect(run({ needMinutes: 5, nights: [], clearFraction: 1 })).toMatchObject({ byNight: [], chance: 0, p50: null });
  });
  const nights = [{ minutes: 60 }, { minutes: 60 }];
  test.each([
    [{ nights: [{ minutes: 60, clear: 0.4 }], meanClearNights: 2 }, 'nights.0.clear'],
    [{ meanClearNights: 0.5 }, 'meanClearNights'],
    [{ clearFraction: 0.8, meanClearNights: 3.9 }, 'meanClearNights'],
    [{ clearFraction: 1, meanClearNights: 3 }, 'clearFraction'],
    [{ nights: [{ minutes: 60.5 }] }, 'nights.0.minutes'],
    [{ nights: [{ minutes: 1441 }] }, 'nights.0.minutes'],
    [{ nights: [{ minutes: -1 }] }, 'nights.0.minutes'],
    [{ needMinutes: 1.5 }, 'needMinutes'],
    [{ clearFraction: 1.1 }, 'clearFraction'],
  ])('refuses %j', (more, path) => {
    const sent = { needMinutes: 100, nights, clearFraction: 0.5, ...more };
    expect(() => run(sent)).toThrow(InvalidInput);
    try {
      run(sent);
    } catch (e) {
      expect((e as InvalidInput).issues[0]!.path).toBe(path);
    }
  });
  test('takes spells as short as they can be', () =>
    expect(run({ needMinutes: 60, nights, clearFraction: 0.8, meanClearNights: 4 }).chance).toBeCloseTo(1, 12));
});
