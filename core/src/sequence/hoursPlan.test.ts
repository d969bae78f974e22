import { expect, test } from '@jest/globals';
import type { PlannedProject } from './firstPlan.ts';
import { legsForHours } from './hoursPlan.ts';
import { MOST_LEGS } from './nightPlan.ts';

const project = (id: string, panels = 1): PlannedProject => ({
  id,
  object: id,
  goals: [
    { filter: 'L', exposureS: 120, quota: 20 },
    { filter: 'R', exposureS: 120, quota: 20 },
  ],
  panels,
  done: [0, 0],
  byPanel: panels > 1 ? Array.from({ length: panels }, () => [0, 0]) : [],
});
const at = (hour: number) => new Date(Date.UTC(2027, 0, 8, 18 + hour)).toISOString();

test('each project has its own hours, in their order, and the others fill gaps', () => {
  const legs = legsForHours(
    [
      { project: project('b'), start: at(3), end: at(6) },
      { project: project('a'), start: at(0), end: at(3) },
    ],
    null,
    [project('a'), project('c')],
  );
  expect(legs.map((l) => [l.projectId, l.role])).toEqual([
    ['a', 'main'],
    ['b', 'main'],
    ['c', 'backup'],
  ]);
  expect(legs[0]!.from).toEqual({ by: 'clock', at: at(0) });
  expect(legs[0]!.until).toEqual({ by: 'clock', at: at(3) });
  // and reach beyond nobody’s hours
  expect([legs[2]!.from, legs[2]!.until]).toEqual([
    { by: 'clock', at: at(0) },
    { by: 'clock', at: at(6) },
  ]);
  expect(new Set(legs.map((l) => l.id)).size).toBe(3);
});

test('a mosaic in turns leaves room for whoever comes after it', () => {
  const legs = legsForHours(
    [
      { project: project('wide', 40), start: at(0), end: at(5) },
      { project: project('late'), start: at(5), end: at(8) },
    ],
    null,
    [project('gap')],
  );
  expect(legs).toHaveLength(MOST_LEGS);
  expect(legs.filter((l) => l.projectId === 'late')).toHaveLength(1);
  expect(legs.at(-1)).toMatchObject({ projectId: 'gap', role: 'backup' });
});
