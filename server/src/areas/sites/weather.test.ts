import { expect, test } from '@jest/globals';
import { api, type ClearSpellsLearnt, type Forecast, type RigRecord, type SiteRecord } from '@keen/contract';
import { fill, testServer } from '../../test/harness.ts';

const { server, odalys } = testServer(['odalys']);

test('a night’s forecast says who says so; of a site that is not there nothing is told', async () => {
  const [site] = (await odalys.get(api.sites.path)).body as SiteRecord[];
  const got = await odalys.get(`${fill(api.forecast.path, site!.id)}?night=2027-01-20`);
  const forecast = got.body as Forecast;
  expect([got.status, forecast.simulated]).toEqual([200, true]);
  expect(forecast.hours.length).toBeGreaterThan(20);
  expect((await odalys.get(fill(api.forecast.path, site!.id))).status).toBe(400);
});

test('spells are learnt from ten nights on, from frames cloud spoilt, and forgotten with a night that is undone', async () => {
  const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  // a place of its own, so that the demo’s nights are not in it
  const site = (
    await odalys.post(api.addSite.path, {
      name: 'learner',
      kind: 'backyard',
      latitudeDeg: 47,
      longitudeDeg: 8,
      elevationM: 400,
      timeZone: 'Europe/Zurich',
      skyMagArcsec2: 20,
      horizon: [],
      horizonNote: '',
    })
  ).body as SiteRecord;
  const rig = (await odalys.post(api.addRig.path, { name: 'learner', siteId: site.id, setup: rigs[0]!.setup }))
    .body as RigRecord;
  const learnt = async () => (await odalys.get(fill(api.clearSpells.path, site.id))).body as ClearSpellsLearnt | null;
  /** An hour clear, half an hour of cloud, an hour clear, in frames of ten minutes. */
  const night = async (day: number) => {
    const date = `2026-10-${String(day).padStart(2, '0')}`;
    const frames = Array.from({ length: 15 }, (_, k) => {
      const cloud = k >= 6 && k < 9;
      return {
        kind: 'light',
        projectId: null,
        filter: 'L',
        exposureS: 600,
        startedAt: new Date(Date.parse(`${date}T20:00:00Z`) + k * 600_000).toISOString(),
        file: `n${day}-${k}.fits`,
        hash: null,
        header: {},
        accepted: !cloud,
        reason: cloud ? 'cloud' : '',
        refusal: cloud ? 'cloud' : null,
      };
    });
    const got = await odalys.post(fill(api.recordNight.path, rig.id), {
      system: rig.systems[0]!.key,
      night: date,
      name: date,
      frames,
    });
    expect(got.status).toBe(200);
    return (got.body as { night: { id: string } }).night.id;
  };
  const ids: string[] = [];
  for (let day = 1; day <= 9; day++) ids.push(await night(day));
  expect(await learnt()).toBeNull();
  ids.push(await night(10));
  // 120 min clear ended once a night, 30 min of cloud ended once
  expect(await learnt()).toEqual({ nights: 10, clearMeanMin: 120, cloudMeanMin: 30, clearEnds: 10, cloudEnds: 10 });
  // as a run would have it whose shutter stayed closed: cloud from the last frame on, until the night ended
  const log = (date: string) =>
    JSON.stringify({
      events: [
        { kind: 'note', start: date, end: date },
        { kind: 'cloud', start: `${date}T22:30:00.000Z`, end: `${date}T23:30:00.000Z` },
      ],
    });
  for (const [k, id] of ids.entries())
    await server.db.query("UPDATE runs SET kind = 'live', result = ? WHERE id = ?", {
      replacements: [log(`2026-10-${String(k + 1).padStart(2, '0')}`), id],
    });
  expect(await learnt()).toEqual({ nights: 10, clearMeanMin: 60, cloudMeanMin: 90, clearEnds: 20, cloudEnds: 10 });
  await server.db.query("UPDATE runs SET kind = 'recorded', result = NULL WHERE id IN (?)", { replacements: [ids] });
  expect((await odalys.del(fill(api.undoNight.path, ids[0]!))).status).toBe(200);
  expect(await learnt()).toBeNull();
});
