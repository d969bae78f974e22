import { afterEach, describe, expect, test } from '@jest/globals';
import {
  api,
  type CablesRecord,
  type GuideLogRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type SiteRecord,
} from '@keen/contract';
import { checkCables } from '@keen/core/cables';
import { Op } from 'sequelize';
import { rounds } from '../../core/src/test/rounds.ts';
import { fill, startServer, type TestServer } from './test/harness.ts';

let server: TestServer | null = null;
afterEach(async () => {
  await server?.stop();
  server = null;
});

describe('the demo club can be begun at any time of the year', () => {
  const DATES = [
    ['midsummer, when the dome has no dark hour', '2027-06-21T21:30:00Z'],
    ['the night the clocks go forward', '2027-03-28T00:30:00Z'],
    ['New Year’s Eve', '2026-12-31T22:59:30Z'],
  ] as const;
  test.each(DATES.slice(0, rounds(1, 3)))('%s', async (_, at) => {
    server = await startServer({ now: () => new Date(at), freshDemo: true });
    const odalys = await server.as('odalys');
    const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
    expect(rigs.length).toBeGreaterThanOrEqual(3);
    const projects = (await odalys.get(api.projects.path)).body as ProjectRecord[];
    expect(projects.length).toBeGreaterThanOrEqual(10);
    // what it tells of lies in the past, what it plans in the future or tonight
    const plans = (await odalys.get(api.plans.path)).body as PlanRecord[];
    for (const p of plans) {
      expect(Date.parse(p.end)).toBeGreaterThan(Date.parse(p.start));
      if (p.status === 'done') expect(Date.parse(p.start)).toBeLessThan(Date.parse(at));
    }
    // as the comment of the demo's projects says: every night has something to work on at every site
    for (const rig of rigs) {
      const left = projects.filter((p) => p.rigId === rig.id && p.goals.some((g, i) => p.done[i]! < g.quota));
      expect([rig.name, left.length > 0]).toEqual([rig.name, true]);
    }
    const later = await server.store.frames.count({ where: { startedAt: { [Op.gt]: new Date(at) } } });
    expect(later).toBe(0);
    expect(await server.store.frames.count()).toBeGreaterThan(50);
    expect(await server.store.offsetSets.count()).toBeGreaterThan(0);
    // guide logs of nights that were worked know their time of day, and so does nobody’s future
    const logs = (
      await Promise.all(
        rigs.map(async (r) => (await odalys.get(fill(api.guideLogs.path, r.id))).body as GuideLogRecord[]),
      )
    ).flat();
    for (const l of logs) if (l.beganAt) expect(Date.parse(l.beganAt)).toBeLessThan(Date.parse(at));
    expect((await odalys.get(api.logbook.path)).body.length).toBeGreaterThan(3);
    expect((await odalys.get(api.weakSpots.path)).body.length).toBeGreaterThan(3);
    for (const rig of rigs) {
      const { sheet } = (await odalys.get(fill(api.cables.path, rig.id))).body as CablesRecord;
      const site = ((await odalys.get(api.sites.path)).body as SiteRecord[]).find((s) => s.id === rig.siteId)!;
      // what a rig usually has holds: nobody begins with a fire alarm that is not theirs
      expect([rig.name, checkCables(sheet, site.latitudeDeg, 14).findings.filter((f) => f.level === 'bad')]).toEqual([
        rig.name,
        [],
      ]);
    }
  });
});
