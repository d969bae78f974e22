import { describe, expect, test } from '@jest/globals';
import { CAUSES, CURES, SITUATIONS } from '@keen/core/drills';
import { PHASES } from '../phases/phases.ts';
import { filterLook, HATCH, hatchId } from './filters.ts';
import { moveBy } from './order.ts';
import { clock, clockOr, hours } from './times.ts';

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
