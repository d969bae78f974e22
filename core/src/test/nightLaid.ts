import { expect } from '@jest/globals';
import { parseInput } from '../calculation/index.ts';
import type { Gathered } from '../record/index.ts';
import { NightPlan, prepareLeg, scheduleNight, type NightSchedule, type Overheads } from '../sequence/index.ts';
import { night as nightOf, target as targetOf, type Site } from '../sky/index.ts';

export const site: Site = {
  latitudeDeg: 46.3,
  longitudeDeg: 9.1,
  elevationM: 300,
  timeZone: 'Europe/Rome',
  horizon: [],
};
export const date = '2026-11-19';
export const night = nightOf({ site, date });
export const MIN = 60_000;
export const overheads: Overheads = {
  downloadS: 2,
  filterChangeS: 5,
  autofocusS: 120,
  ditherS: 9,
  slewCentreS: 60,
  flipS: 90,
  guideStartS: 15,
};
/** The second camera reads out slowly. */
export const BESIDE: Overheads = { ...overheads, downloadS: 7, autofocusS: 150 };
/** M 31 high in the evening, M 42 rising late, both real. */
const OBJECTS = { m31: [10.685, 41.269], m42: [83.822, -5.391] } as const;
const skyOf = (name: keyof typeof OBJECTS) => ({
  night,
  target: targetOf({
    site,
    date,
    raDeg: OBJECTS[name][0],
    decDeg: OBJECTS[name][1],
    minimumAltitudeDeg: 30,
    darkness: 'astronomical',
    stepMin: 5,
  }),
});
export const skies = { m31: skyOf('m31'), m42: skyOf('m42') };
export const at = (ms: number) => new Date(ms).toISOString();
export const dusk = Date.parse(night.astronomicalDusk!);
export const dawn = Date.parse(night.astronomicalDawn!);
export const clock = (ms: number) => ({ by: 'clock', at: at(ms) });
export const settings = (more: object = {}) => ({
  filters: [
    { name: 'L', exposureS: 120, quota: 300 },
    { name: 'R', exposureS: 180, quota: 300 },
  ],
  order: 'rolling',
  dither: { everyFrames: 2, perRound: false },
  focus: { policy: 'every-change-and-time', everyMin: 60 },
  ...more,
});
export const legOf = (id: string, projectId: string, more: object = {}) => ({
  id,
  projectId,
  from: { by: 'free' },
  until: { by: 'free' },
  settings: settings(),
  ...more,
});
/** Frames there are of the length these plans take. */
export const there = (done: Record<string, number>): Gathered[] =>
  settings().filters.map((f) => ({ filter: f.name, exposureS: f.exposureS, done: done[f.name] ?? 0 }));
export function lay(plan: unknown, done: Record<string, Gathered[]> = {}) {
  const p = parseInput(NightPlan, plan);
  const prepared = p.legs.map((l) =>
    prepareLeg(l, skies[l.projectId as 'm31'], {
      watches: p.watches,
      overheads,
      done: done[l.projectId] ?? [],
      follower: { overheads: BESIDE, done: [] },
    }),
  );
  return { plan: p, prepared, schedule: scheduleNight(p, prepared, night)! };
}
export function whole({ pieces, startMs, endMs }: NightSchedule) {
  expect(pieces[0]!.startMs).toBe(startMs);
  expect(pieces.at(-1)!.endMs).toBe(endMs);
  pieces.forEach((p, i) => {
    expect(p.endMs).toBeGreaterThan(p.startMs);
    if (i) expect(p.startMs).toBe(pieces[i - 1]!.endMs);
  });
}
