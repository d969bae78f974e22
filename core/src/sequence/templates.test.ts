import { describe, expect, test } from '@jest/globals';
import { words } from '../phrases/index.ts';
import { night as nightOf } from '../sky/index.ts';
import { planTemplates, type TemplateCandidate } from './templates.ts';

const site = { latitudeDeg: 47.07, longitudeDeg: 15.44, elevationM: 353, timeZone: 'Europe/Vienna' };
const full = nightOf({ site, date: '2026-11-24' });
const dark = nightOf({ site, date: '2026-12-09' });
const at = (h: number) => new Date(Date.parse('2026-11-24T00:00:00Z') + h * 3_600_000).toISOString();
const one = (object: string, from: number, to: number, narrowband: boolean, needMinutes = 600): TemplateCandidate => ({
  id: `p-${object}`,
  object,
  windows: to > from ? [{ start: at(from), end: at(to) }] : [],
  track: [{ time: at(from), altitudeDeg: 60, moonAltitudeDeg: 20, moonSeparationDeg: 70 }],
  needMinutes,
  narrowband,
});
const of = (list: TemplateCandidate[], night = full) =>
  Object.fromEntries(planTemplates(list, night).map((t) => [t.key, t]));

describe('ways to begin a night', () => {
  const heart = one('IC 1805', 18, 26, true);
  const horse = one('IC 434', 22, 29, true);
  const galaxy = one('M 33', 17, 22, false);
  test('two objects in lines change over in the middle of the moonlit night', () => {
    const { 'lines-by-moonlight': t } = of([galaxy, horse, heart]);
    expect(t!.legs.map((l) => l.projectId)).toEqual(['p-IC 1805', 'p-IC 434']);
    // 18 to 29 hours: half past eleven
    expect(t!.legs[0]!.until).toEqual({ by: 'clock', at: at(23.5) });
    expect(t!.legs[1]).toMatchObject({ from: { by: 'clock', at: at(23.5) }, until: { by: 'free' } });
    expect(words(t!.says)).toContain('IC 1805');
  });
  test('without a Moon, or with one object in lines, it says what it lacks', () => {
    expect(of([heart, horse], dark)['lines-by-moonlight']!).toMatchObject({
      legs: [],
      says: { code: 'template.no-moon' },
    });
    expect(of([heart, galaxy])['lines-by-moonlight']!.says.code).toBe('template.too-few-lines');
  });
  test('what sets first is worked until it does, then what stands longest', () => {
    const { 'until-it-sets': t } = of([horse, heart, galaxy]);
    expect(t!.legs.map((l) => l.projectId)).toEqual(['p-M 33', 'p-IC 434']);
    expect(t!.legs.every((l) => l.from.by === 'free' && l.until.by === 'free')).toBe(true);
    expect(of([galaxy])['until-it-sets']!.legs).toEqual([]);
    // whose goals are met, and what never stands free, begins nothing
    expect(of([one('M 81', 18, 29, false, 0), one('M 13', 1, 1, false), galaxy])['until-it-sets']!.legs).toEqual([]);
  });
  test('the whole night is the order of the evening, to the minute', () => {
    const { 'whole-night': t } = of([heart, horse, galaxy]);
    expect(t!.legs.length).toBeGreaterThan(0);
    const ends = t!.legs.map((l) => (l.until.by === 'clock' ? l.until.at : ''));
    expect([...ends].sort()).toEqual(ends);
    expect(of([])['whole-night']!).toMatchObject({ legs: [], says: { code: 'template.nothing' } });
  });
});
