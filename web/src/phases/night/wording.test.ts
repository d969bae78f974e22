import { describe, expect, test } from '@jest/globals';
import type { PlanRecord, ProjectRecord } from '@keen/contract';
import { brightMoon, darkLeft, night } from '@keen/core/sky';
import { rounds } from '../../../../core/src/test/rounds.ts';
import { Body, Equator, Horizon, MakeTime, Observer } from 'astronomy-engine';
import { darkWords, moonWords } from '../../common/moonWords.ts';
import { tonightVerdict } from './wording.ts';

const site = { latitudeDeg: 47.07, longitudeDeg: 15.44, elevationM: 353, timeZone: 'Europe/Vienna', horizon: [] };
const of = (date: string, latitudeDeg = site.latitudeDeg) => night({ site: { ...site, latitudeDeg }, date });
const project = { id: 'p1', object: 'NGC 891' } as ProjectRecord;
const pick = { id: 'p1', start: '2026-11-09T18:00:00Z', end: '2026-11-09T23:00:00Z' } as never;
const say = (
  n: ReturnType<typeof of>,
  plans: PlanRecord[] = [],
  picks = [pick],
  projects = [project],
  fromMs: number | null = null,
) => tonightVerdict(n, site.timeZone, projects, plans, picks, fromMs);

/** Whole minutes of a span in which the Sun is below −18°, and those of them in which the Moon is down, by the ephemeris alone. */
function counted(fromMs: number, toMs: number): { dark: number; moonless: number } {
  const observer = new Observer(site.latitudeDeg, site.longitudeDeg, site.elevationM);
  const altitude = (body: Body, ms: number) => {
    const at = MakeTime(new Date(ms));
    const { ra, dec } = Equator(body, at, observer, true, true);
    return Horizon(at, observer, ra, dec, body === Body.Moon ? 'normal' : '').altitude;
  };
  let [dark, moonless] = [0, 0];
  for (let ms = fromMs; ms < toMs; ms += 60_000) {
    if (altitude(Body.Sun, ms) >= -18) continue;
    dark++;
    if (altitude(Body.Moon, ms) < -0.26) moonless++;
  }
  return { dark, moonless };
}

describe('what is left of the dark', () => {
  const NIGHTS = ['2026-11-05', '2026-11-17', '2026-11-24', '2026-11-29', '2026-12-03'];
  test.each(NIGHTS.slice(0, rounds(2, 5)))('%s, at five moments, agrees with a count minute by minute', (date) => {
    const n = of(date);
    const start = Date.parse(n.sunset!);
    const end = Date.parse(n.sunrise!);
    for (const share of [0, 0.2, 0.5, 0.8, 0.99]) {
      const from = start + share * (end - start);
      const { hours, moonlessHours } = darkLeft(n, from);
      const by = counted(from, end);
      expect(Math.abs(60 * hours - by.dark)).toBeLessThan(2);
      expect(Math.abs(60 * moonlessHours - by.moonless)).toBeLessThan(4);
    }
  });
  test('whoever comes at ten is told of what is left, and at seven in the morning that it is over', () => {
    const n = of('2026-11-29');
    const at = (iso: string) => darkWords(n, site.timeZone, Date.parse(iso));
    expect(darkWords(n, site.timeZone, null)).toMatch(/^11\.5 dark hours, Moon/);
    expect(at('2026-11-29T12:00:00Z')).toMatch(/^11\.5 dark hours, Moon/);
    expect(at('2026-11-29T21:00:00Z')).toMatch(/^7\.5 of 11\.5 dark hours are left, Moon/);
    expect(at('2026-11-30T06:00:00Z')).toBe('The 11.5 dark hours of this night have passed');
  });
  test('the Moon’s hours are those still to come', () => {
    const n = of('2026-11-29');
    expect(brightMoon(n, 21)!.moonlessHours).toBeGreaterThan(3.5);
    const late = brightMoon(n, 21, Date.parse('2026-11-29T21:00:00Z'))!;
    expect(late.moonlessHours).toBe(0);
    expect(late.moonlitHours).toBeCloseTo(7.54, 1);
  });
});

describe('the sentence of the night', () => {
  test('full and new Moon are told apart; between them its rising or setting', () => {
    expect(moonWords(of('2026-11-24'), site.timeZone)).toContain('up throughout');
    expect(moonWords(of('2026-11-09'), site.timeZone)).toBe('no Moon');
    const words = Array.from({ length: 28 }, (_, d) =>
      moonWords(of(`2026-11-${String(d + 1).padStart(2, '0')}`), site.timeZone),
    );
    expect(words.some((w) => /until \d\d:\d\d$/.test(w))).toBe(true);
    expect(words.some((w) => /from \d\d:\d\d$/.test(w))).toBe(true);
  });
  test('a night without darkness is said to be one', () => {
    expect(say(of('2026-06-21', 62))).toMatchObject({
      verdict: { level: 'bad', text: 'It does not get dark this night.' },
    });
  });
  test('suggestion, plan, no project and nothing workable each read differently', () => {
    const n = of('2026-11-09');
    expect(say(n).verdict.text).toContain('NGC 891 19:00–00:00');
    const planned = {
      legs: [{ object: 'NGC 891' }],
      status: 'planned',
      start: '2026-11-09T18:00:00Z',
      end: '2026-11-09T21:00:00Z',
    } as unknown as PlanRecord;
    expect(say(n, [planned]).verdict.text).toContain('NGC 891 planned 19:00–22:00');
    expect(say(n, [], [], []).verdict.text).toContain('No project uses this rig');
    expect(say(n, [], []).verdict.level).toBe('caution');
    expect(say(n, [planned], [])).toMatchObject({ notes: [{ code: 'tonight.none-other-can' }] });
    const own = { ...planned, legs: [{ object: 'NGC 891', projectId: 'p1' }] } as unknown as PlanRecord;
    expect(say(n, [own], [])).toMatchObject({ notes: [{ code: 'tonight.none-other' }] });
    expect(say(n, [], [], [project], Date.parse('2026-11-10T06:00:00Z'))).toMatchObject({
      verdict: { level: 'caution', text: expect.stringMatching(/dark hours of this night have passed\.$/) },
      notes: [{ code: 'tonight.plan-coming' }],
    });
  });
});
