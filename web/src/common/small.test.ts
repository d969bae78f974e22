import { describe, expect, test } from '@jest/globals';
import { CAUSES, CURES, SITUATIONS } from '@keen/core/drills';
import { PHASES } from '../phases/phases.ts';
import { filterLook, HATCH, hatchId } from './filters.ts';
import { moveBy } from './order.ts';
import { clock, clockMarks, clockOr, hours } from './times.ts';

describe('small things every screen leans on', () => {
  test('an item moves by one place and stays at the ends', () => {
    const list = ['a', 'b', 'c'];
    moveBy(list, 0, 1);
    expect(list).toEqual(['b', 'a', 'c']);
    moveBy(list, 2, 1);
    moveBy(list, 0, -1);
    expect(list).toEqual(['b', 'a', 'c']);
    moveBy(list, 2, -1);
    expect(list).toEqual(['b', 'c', 'a']);
  });
  test.each(['Europe/Vienna', 'Asia/Kolkata', 'Australia/Adelaide'])(
    'marks of a clock in %s are few and whole',
    (zone) => {
      const from = Date.parse('2026-11-24T17:03:11Z');
      for (const minutes of [25, 50, 90, 200, 391, 700, 1000]) {
        const marks = clockMarks(from, from + minutes * 60_000, zone).map((ms) => clock(ms, zone));
        expect([minutes, marks.length >= 3, marks.length <= 9]).toEqual([minutes, true, true]);
        for (const m of marks) expect(m).toMatch(minutes > 300 ? /:00$/ : minutes > 100 ? /:(00|30)$/ : /[05]$/);
      }
    },
  );
  test('clocks are the site’s, on the night the clocks change too', () => {
    expect(clock('2026-11-24T20:05:00Z', 'Europe/Vienna')).toBe('21:05');
    expect(clock('2026-10-25T00:30:00Z', 'Europe/Vienna')).toBe('02:30');
    expect(clock('2026-10-25T01:30:00Z', 'Europe/Vienna')).toBe('02:30');
    expect(clockOr(null, 'UTC')).toBe('–');
    expect(hours(125.4)).toBe('2 h 05');
  });
  test('filters are told apart without colour: common ones by letters and hatch', () => {
    const marks = ['L', 'R', 'G', 'B', 'Ha', 'OIII', 'SII'].map((f) => filterLook(f).hatch);
    expect(new Set(marks).size).toBe(7);
    for (const m of marks) expect(HATCH[m]).toBeDefined();
    expect(hatchId('h-alpha')).toBe('hatch-cross');
    expect(filterLook('dual band').hatch).toBe('none');
  });
  test('what is worked out elsewhere is worked out on a screen there is: every drill, every cause and cure with its words', () => {
    const tasks = PHASES.flatMap((p) => p.tasks.map((t) => t.path));
    for (const [key, s] of Object.entries(SITUATIONS)) expect([key, tasks.includes(s.at)]).toEqual([key, true]);
    const offered = Object.values(SITUATIONS).flatMap((s) => [s.cause, ...s.otherCauses]);
    // none is kept that no drill ever offers
    expect([...new Set(offered)].sort()).toEqual([...CAUSES].sort());
    const cures = Object.values(SITUATIONS).flatMap((s) => [s.cure, ...s.otherCures]);
    expect([...new Set(cures)].sort()).toEqual([...CURES].sort());
  });
});
