import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import { parseInput } from '../calculation/index.ts';
import { NightPlan, usualClosing, usualOpening } from './nightPlan.ts';
import { PlanFile, planFileOf, planOfFile, readPlanFile } from './planFile.ts';

const plan = parseInput(NightPlan, {
  opening: usualOpening(120),
  legs: [
    ['leg-1', 'p1', { by: 'clock', at: '2026-10-20T19:30:00.000Z' }],
    ['leg-2', 'p2', { by: 'darkness', which: 'nautical', offsetMin: -20 }],
  ].map(([id, projectId, from]) => ({
    id,
    projectId,
    from,
    until: { by: 'altitude', deg: 35 },
    settings: {
      filters: [{ name: 'Ha', exposureS: 300, quota: 40, moon: { by: 'apart', deg: 50 } }],
      order: 'rolling',
      dither: { everyFrames: 2, perRound: false },
      focus: { policy: 'offsets', everyMin: 90 },
    },
  })),
  closing: usualClosing(),
  watches: { cloudClosesAfterMin: 90, sunStops: 'nautical' },
});
const projects = [
  { id: 'p1', object: 'NGC 281', raDeg: 13.1, decDeg: 56.6 },
  { id: 'p2', object: 'M 33', raDeg: 23.46, decDeg: 30.66 },
];
const of = {
  rig: 'the triplet',
  night: '2026-10-20',
  timeZone: 'Europe/Rome',
  targetOf: (id: string) => projects.find((p) => p.id === id)!,
};
const file = () =>
  JSON.parse(
    JSON.stringify(
      planFileOf(plan, {
        ...of,
        targetOf: (id) => {
          const { id: _, ...t } = of.targetOf(id);
          return t;
        },
      }),
    ),
  ) as PlanFile;
/** A plan file that somebody wrote by hand. */
type Loose = Record<string, unknown> & {
  legs: (Record<string, unknown> & { settings: { filters: Record<string, unknown>[] } })[];
};

const read = (change: (f: Loose) => void) => {
  const f = file() as unknown as Loose;
  change(f);
  return readPlanFile(JSON.stringify(f));
};

describe('a plan as a file', () => {
  test('comes back as it went, on the same night', () => {
    const got = readPlanFile(JSON.stringify(file()));
    expect(got).toEqual({ ok: true, file: file() });
    expect(planOfFile(file(), { night: of.night, timeZone: of.timeZone, projects })).toEqual({ plan, missing: [] });
  });
  test('on another night keeps the time on the wall; elsewhere too', () => {
    const at = (night: string, timeZone: string) =>
      planOfFile(file(), { night, timeZone, projects }).plan!.legs[0]!.from;
    expect(at('2026-10-30', 'Europe/Rome')).toEqual({ by: 'clock', at: '2026-10-30T20:30:00.000Z' });
    expect(at('2026-10-20', 'Europe/London')).toEqual({ by: 'clock', at: '2026-10-20T20:30:00.000Z' });
  });
  test('finds its projects by name or by place, and names what no project has', () => {
    const elsewhere = [
      { id: 'x', object: 'ngc281', raDeg: 0, decDeg: 0 },
      { id: 'y', object: 'Triangulum', raDeg: 23.5, decDeg: 30.7 },
    ];
    expect(planOfFile(file(), { ...of, projects: elsewhere }).plan!.legs.map((l) => l.projectId)).toEqual(['x', 'y']);
    expect(planOfFile(file(), { ...of, projects: [elsewhere[0]!] })).toEqual({ plan: null, missing: ['M 33'] });
  });
  test('its schema is published as it is read', () => {
    const published = JSON.parse(
      readFileSync(new URL('../../../docs/schema/night-plan.json', import.meta.url), 'utf8'),
    ) as object;
    expect(published).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(PlanFile, { io: 'input' }))));
  });
});

describe('a file that is none is refused with its place', () => {
  test.each<[string, (f: Loose) => void, string, RegExp]>([
    ['another format', (f) => (f.format = 'list'), 'format', /no night plan/],
    ['a later version', (f) => (f.version = 2), 'version', /only version 1/],
    [
      'an exposure of nothing',
      (f) => (f.legs[1]!.settings.filters[0]!.exposureS = 0),
      'legs.1.settings.filters.0.exposureS',
      /./,
    ],
    ['a field nobody knows', (f) => (f.legs[0]!.colour = 'red'), 'legs.0', /colour/],
    ['a day that is none', (f) => (f.night = '2026-02-30'), 'night', /./],
    ['no leg', (f) => (f.legs = []), 'legs', /at least one leg/],
  ])('%s', (_, change, path, message) => {
    const got = read(change);
    expect(got.ok).toBe(false);
    if (!got.ok) expect(got.issues[0]).toMatchObject({ path, message: expect.stringMatching(message) });
  });
  test('text, a list, nothing, and a megabyte', () => {
    expect(readPlanFile('L R G B')).toMatchObject({
      ok: false,
      issues: [{ message: expect.stringContaining('not JSON') }],
    });
    for (const text of ['[]', 'null', '7', '""'])
      expect(readPlanFile(text)).toMatchObject({ ok: false, issues: [{ path: 'format' }] });
    expect(readPlanFile(' '.repeat(1e6))).toMatchObject({
      ok: false,
      issues: [{ message: expect.stringContaining('longer') }],
    });
  });
});
