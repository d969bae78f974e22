import { describe, expect, test } from '@jest/globals';
import { nightFrame } from '../sky/index.ts';
import { seeded } from '../statistics/index.ts';
import {
  panelExposure,
  readFlats,
  rateAt,
  twilightFlats,
  twilightMag,
  type TwilightFilter,
  type TwilightCriteria,
} from './index.ts';

const panel = { level: 20_500, bias: 500, exposureS: 2, full: 65_535, wanted: 0.45, shortestS: 0.5 };
describe('a panel', () => {
  test('by hand: 20 000 counts above the bias in 2 s; 45 % of 65 535 are 28 991 above it', () => {
    const got = panelExposure(panel);
    expect(got.exposureS).toBeCloseTo((2 * (0.45 * 65_535 - 500)) / 20_000, 9);
    expect(got.level).toBe('good');
    // such a flat, taken, has the wanted level
    expect(500 + 10_000 * got.exposureS!).toBeCloseTo(0.45 * 65_535, 6);
  });
  test('a full or empty test flat tells nothing but what to try; a bright panel is dimmed by what it takes', () => {
    expect(panelExposure({ ...panel, level: 65_535 })).toMatchObject({
      exposureS: null,
      level: 'bad',
      phrase: { code: 'flat.full', values: { tryS: 0.25 } },
    });
    expect(panelExposure({ ...panel, level: 510 })).toMatchObject({ exposureS: null, phrase: { code: 'flat.dark' } });
    const bright = panelExposure({ ...panel, exposureS: 0.2 });
    expect(bright.level).toBe('caution');
    expect(bright.phrase.values.times as number).toBeCloseTo(0.5 / bright.exposureS!, 9);
  });
});

describe('flats brought in', () => {
  const flat = (exposureS: number, level: number, filter = 'L') => ({ filter, exposureS, level });
  test('are fine in the middle, low, high or full by their levels', () => {
    const of = (...levels: number[]) =>
      readFlats(
        levels.map((l) => flat(1, l)),
        65_535,
        null,
      )[0]!;
    expect(of(28_000, 30_000)).toMatchObject({ level: 'good', bend: null, frames: 2 });
    expect(of(9000).phrases.map((p) => p.code)).toEqual(['flat.low']);
    expect(of(50_000).phrases.map((p) => p.code)).toEqual(['flat.high']);
    expect(of(65_000).level).toBe('bad');
    expect(readFlats([flat(1, 3e4), flat(1, 3e4, 'Ha')], 65_535, null).map((r) => r.filter)).toEqual(['L', 'Ha']);
  });
  test('straight to the noise, with the bias told or not; a camera that bends is told by how much', () => {
    const r = seeded(4);
    const taken = (bend: number) =>
      [1, 2, 3, 4].map((t) => flat(t, 400 + 10_000 * t * (1 - bend * (t / 4) ** 3) * (1 + 0.0005 * r.normal())));
    for (const bias of [400, null]) {
      expect(readFlats(taken(0), 65_535, bias)[0]!.bend!).toBeLessThan(0.004);
      const bent = readFlats(taken(0.06), 65_535, bias)[0]!;
      expect([bent.level, bent.phrases.map((p) => p.code)]).toEqual(['caution', expect.arrayContaining(['flat.bent'])]);
    }
  });
});

describe('twilight', () => {
  const site = { latitudeDeg: 47, longitudeDeg: 11, elevationM: 500, timeZone: 'Europe/Vienna' };
  const filter = (name: string, perS: number): TwilightFilter => ({ filter: name, perS, atSunDeg: -6, wanted: 18_000 });
  const filters = [filter('L', 9000), filter('R', 3000), filter('B', 2800), filter('Ha', 150)];
  const criteria: TwilightCriteria = {
    site,
    date: '2026-11-19',
    when: 'dusk',
    filters,
    count: 15,
    shortestS: 1,
    longestS: 20,
    betweenS: 4,
  };
  const night = nightFrame(site, criteria.date);
  const sun = (ms: number) => night.sky.sunAltitudeDeg(ms);
  test('the sky darkens all the way down and stays what it is above and below', () => {
    for (let h = 0; h > -18; h -= 0.25) expect(twilightMag(h - 0.25)).toBeGreaterThan(twilightMag(h));
    expect([twilightMag(5), twilightMag(-30)]).toEqual([7.3, 21.6]);
    expect(rateAt(filters[0]!, -6)).toBe(9000);
  });
  test.each(['dusk', 'dawn'] as const)(
    'at %s turns follow one another, narrow filters where it is bright, every exposure filling its flat',
    (when) => {
      const turns = twilightFlats({ ...criteria, when });
      expect(turns.map((t) => t.filter)).toEqual(when === 'dusk' ? ['Ha', 'B', 'R', 'L'] : ['L', 'R', 'B', 'Ha']);
      for (const [i, t] of turns.entries()) {
        if (t.frames === 0) continue;
        const next = turns.slice(i + 1).find((n) => n.startMs !== null);
        if (next) expect(next.startMs!).toBeGreaterThanOrEqual(t.endMs!);
        for (const s of [t.firstS!, t.lastS!]) expect([s >= 1, s <= 20]).toEqual([true, true]);
        // the light that fell, summed over small steps, is what was wanted
        const f = filters.find((x) => x.filter === t.filter)!;
        const steps = 200;
        const light = Array.from(
          { length: steps },
          (_, k) => rateAt(f, sun(t.startMs! + (1000 * t.firstS! * (k + 0.5)) / steps)) * (t.firstS! / steps),
        ).reduce((a, b) => a + b, 0);
        expect(Math.abs(light / f.wanted - 1)).toBeLessThan(0.01);
        expect(when === 'dusk' ? t.lastS! > t.firstS! : t.lastS! < t.firstS!).toBe(true);
      }
    },
  );
  test('no other order gives more flats: all of twenty-four tried', () => {
    const orders = (all: TwilightFilter[]): TwilightFilter[][] =>
      all.length < 2
        ? [all]
        : all.flatMap((f, i) => orders([...all.slice(0, i), ...all.slice(i + 1)]).map((rest) => [f, ...rest]));
    const total = (turns: { frames: number }[]) => turns.reduce((s, t) => s + t.frames, 0);
    // an order is forced by one filter after another, each beginning when the one before is done
    const forced = (order: TwilightFilter[]) => {
      let [sum, after] = [0, 0];
      for (const f of order) {
        const [t] = twilightFlats({ ...criteria, filters: [f], count: 400 });
        // frames of this filter alone that begin after the earlier ones are done
        let at = Math.max(after, t!.startMs ?? Infinity);
        let n = 0;
        while (n < criteria.count && t!.endMs !== null && at < t!.endMs) {
          const s = f.wanted / rateAt(f, sun(at));
          if (s > criteria.longestS) break;
          at += 1000 * (Math.max(s, criteria.shortestS) + criteria.betweenS);
          n++;
        }
        sum += n;
        after = Math.max(after, at === Infinity ? after : at);
      }
      return sum;
    };
    const best = Math.max(...orders(filters).map(forced));
    expect(total(twilightFlats(criteria))).toBeGreaterThanOrEqual(best - 2);
  });
  test('in the south the same happens, and seasons make twilight longer or shorter', () => {
    const south = { ...site, latitudeDeg: -33, longitudeDeg: 18, timeZone: 'Africa/Johannesburg' };
    const at = (s: typeof site, date: string) => twilightFlats({ ...criteria, site: s, date });
    expect(at(south, '2026-12-21').map((t) => t.filter)).toEqual(['Ha', 'B', 'R', 'L']);
    const lasts = (turns: ReturnType<typeof at>) => turns.at(-1)!.endMs! - turns[0]!.startMs!;
    // nearer the pole the Sun sinks at a flatter angle: the same flats take longer
    expect(lasts(at({ ...site, latitudeDeg: 55 }, '2026-10-01'))).toBeGreaterThan(
      lasts(at({ ...site, latitudeDeg: 5 }, '2026-10-01')),
    );
  });
  test('exposures that are never allowed leave every turn empty, and nothing runs on', () => {
    for (const more of [
      { shortestS: 19.9, longestS: 19.91 },
      { shortestS: 300, longestS: 1 },
      { count: 200, betweenS: 0 },
    ]) {
      const turns = twilightFlats({ ...criteria, ...more });
      expect(turns.every((t) => t.frames <= (more.count ?? criteria.count))).toBe(true);
    }
    expect(twilightFlats({ ...criteria, filters: [] })).toEqual([]);
  });
  test('a white night or a day without end has none, and says so by no frames', () => {
    const north = { ...site, latitudeDeg: 78, longitudeDeg: 15, timeZone: 'UTC' };
    expect(twilightFlats({ ...criteria, site: north, date: '2026-06-21' }).map((t) => t.frames)).toEqual([0, 0, 0, 0]);
  });
});
