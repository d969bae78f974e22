import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { InvalidInput } from '../calculation/index.ts';
import { seeded } from '../statistics/index.ts';
import { clearShare, drawSpells } from './clearSpells.ts';
import { playRisk, risk, RiskInput, sequenceRisk } from './risk.ts';
import { timeline } from './timeline.ts';
import { rounds } from '../test/rounds.ts';

const plan = (more: object = {}) =>
  RiskInput.parse({
    start: '2026-11-13T19:00:00Z',
    end: '2026-11-14T03:00:00Z',
    filters: ['L', 'R', 'G', 'B'].map((name) => ({ name, exposureS: 180, quota: 30 })),
    overheads: { downloadS: 5, filterChangeS: 10, autofocusS: 120, ditherS: 15, slewCentreS: 90, guideStartS: 30 },
    focus: { policy: 'offsets' },
    weather: { clearMeanMin: 90, cloudMeanMin: 40 },
    nights: 300,
    ...more,
  });
const refused = (more: object) => {
  try {
    sequenceRisk.run({ ...JSON.parse(JSON.stringify(plan())), ...more });
  } catch (e) {
    if (e instanceof InvalidInput) return e.issues.map((i) => `${i.path}: ${i.message}`).join('; ');
    throw e;
  }
  return 'was taken';
};

describe('weather', () => {
  test('is clear as often as its two means say, and its spells are as long', () => {
    const w = { clearMeanMin: 50, cloudMeanMin: 30 };
    const [from, to] = [0, 3e9];
    const spells = drawSpells(w, seeded(4), from, to);
    const cloud = spells.reduce((s, [a, b]) => s + b - a, 0);
    // some 37,000 spells: the means are known within a per cent or so
    expect(Math.abs(cloud / spells.length / 60_000 / 30 - 1)).toBeLessThan(0.04);
    expect(Math.abs(1 - cloud / to - clearShare(w))).toBeLessThan(0.015);
  });
  test('begins clear with the chance that is given', () => {
    const begins = (p: number) =>
      Array.from(
        { length: 4000 },
        (_, i) =>
          drawSpells(
            { clearMeanMin: 60, cloudMeanMin: 60, startClearProbability: p },
            seeded(9).fork(`${i}`),
            0,
            3.6e6,
          )[0]?.[0] !== 0,
      ).filter(Boolean).length / 4000;
    expect([begins(0), begins(1)]).toEqual([0, 1]);
    // five standard errors of a share
    expect(Math.abs(begins(0.3) - 0.3)).toBeLessThan(5 * Math.sqrt((0.3 * 0.7) / 4000));
  });
  test('its spells are in order, apart and inside the night, for any means', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 1e4, noNaN: true }),
        fc.double({ min: 0.1, max: 1e4, noNaN: true }),
        fc.nat(),
        (c, d, seed) => {
          let last = -1;
          for (const [a, b] of drawSpells({ clearMeanMin: c, cloudMeanMin: d }, seeded(seed), 0, 3.6e6)) {
            expect(a).toBeGreaterThan(last);
            expect(b).toBeGreaterThan(a);
            expect(b).toBeLessThanOrEqual(3.6e6);
            last = b;
          }
        },
      ),
      { seed: 2, numRuns: 60 },
    );
  });
});

describe('what a cloudy night leaves', () => {
  test('is what the timeline gives for each drawn night', () => {
    const input = plan({ nights: 40, seed: 7 });
    const { weather, nights, seed, orders, ...rest } = input;
    const got = risk(input);
    for (const order of orders) {
      const frames = Array.from({ length: nights }, (_, i) => {
        const spells = drawSpells(
          weather,
          seeded(seed).fork(`night ${i}`),
          Date.parse(rest.start),
          Date.parse(rest.end),
        );
        const iso = (ms: number) => new Date(ms).toISOString();
        return timeline({ ...rest, order, blocked: spells.map(([a, b]) => ({ start: iso(a), end: iso(b) })) });
      });
      for (const f of input.filters)
        expect(got.perOrder[order]!.expectedFrames[f.name]).toBeCloseTo(
          frames.reduce((s, t) => s + t.frames[f.name]!, 0) / nights,
          9,
        );
      const waitMin = frames.reduce((s, t) => s + t.overheadS.wait!, 0) / nights / 60;
      expect(got.perOrder[order]!.minutes.wait).toBeCloseTo(waitMin, 6);
    }
  });
  test('the same seed gives the same answer, another seed another one of the same size', () => {
    const [a, b, c] = [risk(plan({ seed: 3 })), risk(plan({ seed: 3 })), risk(plan({ seed: 4 }))];
    expect(b).toEqual(a);
    expect(c.perOrder).not.toEqual(a.perOrder);
    const [x, y] = [a.perOrder.rolling!, c.perOrder.rolling!];
    expect(Math.abs(x.expectedBalanced - y.expectedBalanced)).toBeLessThan(
      5 * Math.hypot(x.balancedError, y.balancedError),
    );
  });
  test('its error covers the truth: of all draws about 95 % lie within two of them', () => {
    const truth = risk(plan({ nights: 10_000, seed: 1, orders: ['rolling'] })).perOrder.rolling!;
    const draws = rounds(60, 160);
    let inside = 0;
    for (let seed = 100; seed < 100 + draws; seed++) {
      const got = risk(plan({ nights: 100, seed, orders: ['rolling'] })).perOrder.rolling!;
      if (
        Math.abs(got.expectedBalanced - truth.expectedBalanced) <=
        1.96 * Math.hypot(got.balancedError, truth.balancedError)
      )
        inside++;
    }
    // binomial: 95 % of them, three and a half standard deviations of leave
    expect(inside).toBeGreaterThanOrEqual(0.95 * draws - 3.5 * Math.sqrt(0.95 * 0.05 * draws));
  });
  test('more cloud leaves less; the minutes of a night are all there', () => {
    const at = (cloudMeanMin: number) => risk(plan({ weather: { clearMeanMin: 90, cloudMeanMin } })).perOrder;
    const [some, more] = [at(30), at(200)];
    for (const order of ['rolling', 'block', 'lagging'] as const) {
      expect(more[order]!.expectedBalanced).toBeLessThan(some[order]!.expectedBalanced);
      expect(Object.values(some[order]!.minutes).reduce((s, m) => s + m, 0)).toBeCloseTo(480, 6);
    }
  });
  test('a filter that the Moon shuts gets nothing in any night, one it opens late only what is left', () => {
    const names = ['L', 'R'];
    const under = (during: object[]) =>
      risk(
        plan({
          filters: names.map((name) => ({ name, exposureS: 180, quota: 200, ...(name === 'L' ? { during } : {}) })),
        }),
      ).perOrder.rolling!;
    expect(under([]).expectedFrames.L).toBe(0);
    const [late, all] = [
      under([{ start: '2026-11-14T01:00:00Z', end: '2026-11-14T03:00:00Z' }]),
      under([{ start: '2026-11-13T19:00:00Z', end: '2026-11-14T03:00:00Z' }]),
    ];
    expect(late.expectedFrames.L!).toBeGreaterThan(0);
    expect(late.expectedFrames.L!).toBeLessThan(all.expectedFrames.L! / 2);
  });
  test('block leaves colours missing where rolling does not; the verdict says so with its figures', () => {
    const got = risk(plan());
    expect(got.perOrder.block!.probabilityAllFilters).toBeLessThan(got.perOrder.rolling!.probabilityAllFilters);
    expect(got.best).not.toBe('block');
    expect(got.verdict.text).toMatch(/^The (rolling|lagging) .* of the nights have something in every filter/);
  });
  test('with a focus run on every change rolling pays for it, and the verdict tells what', () => {
    const got = risk(plan({ focus: { policy: 'every-change' }, weather: { clearMeanMin: 1e7, cloudMeanMin: 1 } }));
    expect(got.perOrder.rolling!.minutes.focus).toBeGreaterThan(10 * got.perOrder.block!.minutes.focus);
  });
  test('the best is the greatest share, then something in every filter, then the first named', () => {
    const none = { weather: { clearMeanMin: 1, cloudMeanMin: 1e9, startClearProbability: 0 } };
    expect(risk(plan({ ...none, orders: ['block', 'rolling'] })).best).toBe('block');
    expect(risk(plan({ ...none, orders: ['rolling', 'block'] })).best).toBe('rolling');
  });
  test('says how far it is, and can be left in the middle', () => {
    const run = playRisk(plan({ nights: 200 }));
    const shares = [run.next(), run.next()].map((s) => s.value as number);
    expect(shares).toEqual([0.25, 0.5]);
    expect(run.return(undefined as never).done).toBe(true);
  });
  test.each([
    [{ weather: { clearMeanMin: 0, cloudMeanMin: 5 } }, 'weather.clearMeanMin: must be more than 0'],
    [{ orders: [] }, 'orders: needs at least 1 item'],
    [{ orders: ['block', 'block'] }, 'orders: names an order twice'],
    [{ nights: 0 }, 'nights: must be at least 1'],
    [{ nights: 50_000, filters: [{ name: 'L', exposureS: 1, quota: 20_000 }] }, 'nights: would play more frames'],
    [{ filters: [{ name: 'L', exposureS: 60 }] }, 'filters.0.quota: the block order needs a quota'],
    [{ filters: [{ name: 'L', exposureS: 60, quota: 4, done: 4 }] }, 'filters: every quota is reached already'],
    [{ nights: 20_000, weather: { clearMeanMin: 0.01, cloudMeanMin: 0.01 } }, 'weather: changes too often'],
    [{ blocked: [] }, '“blocked” is not a known field'],
    [{ end: '2026-11-13T18:00:00Z' }, 'end: must lie after start'],
  ])('refuses %j', (more, why) => expect(refused(more)).toContain(why));
});
