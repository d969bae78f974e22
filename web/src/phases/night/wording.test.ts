import { describe, expect, test } from '@jest/globals';
import type { PlanRecord, ProjectRecord } from '@keen/contract';
import { night } from '@keen/core/sky';
import { moonWords } from '../../common/moonWords.ts';
import { tonightVerdict } from './wording.ts';

const site = { latitudeDeg: 47.07, longitudeDeg: 15.44, elevationM: 353, timeZone: 'Europe/Vienna', horizon: [] };
const of = (date: string, latitudeDeg = site.latitudeDeg) => night({ site: { ...site, latitudeDeg }, date });
const project = { id: 'p1', object: 'NGC 891' } as ProjectRecord;
const pick = { id: 'p1', start: '2026-11-09T18:00:00Z', end: '2026-11-09T23:00:00Z' } as never;
const say = (n: ReturnType<typeof of>, plans: PlanRecord[] = [], picks = [pick], projects = [project]) =>
  tonightVerdict(n, site.timeZone, projects, plans, picks);

describe('the sentence of the night', () => {
  test('full and new Moon are told apart; between them its rising or setting', () => {
    expect(moonWords(of('2026-11-24'), site.timeZone)).toContain('up throughout');
    expect(moonWords(of('2026-11-09'), site.timeZone)).toBe('no Moon');
    const words = Array.from({ length: 28 }, (_, d) => moonWords(of(`2026-11-${String(d + 1).padStart(2, '0')}`), site.timeZone)); // prettier-ignore
    expect(words.some((w) => /until \d\d:\d\d$/.test(w))).toBe(true);
    expect(words.some((w) => /from \d\d:\d\d$/.test(w))).toBe(true);
  });
  test('a night without darkness is said to be one', () => {
    expect(say(of('2026-06-21', 62))).toMatchObject({ verdict: { level: 'bad', text: 'It does not get dark this night.' } }); // prettier-ignore
  });
  test('suggestion, plan, no project and nothing workable each read differently', () => {
    const n = of('2026-11-09');
    expect(say(n).verdict.text).toContain('NGC 891 19:00–00:00');
    const planned = { legs: [{ object: 'NGC 891' }], status: 'planned', start: '2026-11-09T18:00:00Z', end: '2026-11-09T21:00:00Z' } as unknown as PlanRecord; // prettier-ignore
    expect(say(n, [planned]).verdict.text).toContain('NGC 891 planned 19:00–22:00');
    expect(say(n, [], [], []).verdict.text).toContain('No project uses this rig');
    expect(say(n, [], []).verdict.level).toBe('caution');
  });
});
