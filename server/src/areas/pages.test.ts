import { describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { api, MOST_A_PAGE, type PlanRecord, type ProjectRecord } from '@keen/contract';
import { every, fill, somethingToPlan, testServer } from '../test/harness.ts';

const { server, odalys } = testServer(['odalys']);

describe('long lists', () => {
  test('plans beyond the first page are there, hold their hours, and stand in the calendar', async () => {
    const { plan, rig } = await somethingToPlan(odalys, '2027-09-01');
    const { store } = server;
    const made = (await odalys.post(api.addPlan.path, plan(20, 21))).body as PlanRecord;
    const row = (await store.plans.findAll({ where: { id: made.id } }))[0] as unknown as Record<string, unknown>;
    const night = (i: number) =>
      new Date(Date.parse('2027-09-02T00:00:00Z') + i * 86_400_000).toISOString().slice(0, 10);
    const many = MOST_A_PAGE + 30;
    const at = (i: number, hour: number) => new Date(`${night(i)}T${hour}:00:00Z`);
    await store.plans.bulkCreate(
      Array.from({ length: many }, (_, i) => ({
        ...row,
        id: store.id(),
        night: night(i),
        start: at(i, 20),
        end: at(i, 21),
      })) as never[],
    );
    const all = await every<PlanRecord>(odalys, api.plans.path);
    expect(all.filter((p) => p.rigId === rig.id && p.night > '2027-09-01')).toHaveLength(many);
    expect(new Set(all.map((p) => p.id)).size).toBe(all.length);
    const last = night(many - 1);
    const again = await odalys.post(api.addPlan.path, (await somethingToPlan(odalys, last)).plan(20.5, 21.5));
    expect([again.status, again.body.code]).toEqual([409, 'night_overlap']);
    const { path } = (await odalys.get(fill(api.calendarFeed.path, rig.id))).body as { path: string };
    const events = (await request(server.app).get(path)).text;
    expect(events).toContain(`DTSTART:${last.replaceAll('-', '')}T200000Z`);
  });
  test('pages together are the whole list, in its order, each record once', async () => {
    const before = await every<ProjectRecord>(odalys, api.projects.path);
    const copies = 2 * MOST_A_PAGE + 7;
    const { store } = server;
    const row = (await store.projects.findAll({ limit: 1 }))[0] as unknown as Record<string, unknown>;
    // many of one name: the order must not depend on what the database finds first
    const ids = Array.from({ length: copies }, () => store.id());
    await store.projects.bulkCreate(ids.map((id, i) => ({ ...row, id, name: `copy ${i % 3}` })) as never[]);
    await store.goals.bulkCreate(
      ids.map((projectId) => ({ id: store.id(), projectId, place: 0, filter: 'L', exposureS: 60, quota: 5 })),
    );
    const all = await every<ProjectRecord>(odalys, api.projects.path);
    expect(all).toHaveLength(before.length + copies);
    expect(new Set(all.map((p) => p.id)).size).toBe(all.length);
    const again = await every<ProjectRecord>(odalys, api.projects.path);
    expect(again.map((p) => p.id)).toEqual(all.map((p) => p.id));
    // the old ones are as they were, progress and all
    for (const p of before) expect(all.find((o) => o.id === p.id)).toEqual(p);
  });
  test('a page is never longer than it may be, and nonsense is refused with its name', async () => {
    const page = (q: string) => odalys.get(`${api.projects.path}?${q}`);
    expect((await page('count=3')).body).toHaveLength(3);
    expect((await page('from=1000000')).body).toEqual([]);
    for (const q of ['count=0', `count=${MOST_A_PAGE + 1}`, 'from=-1', 'from=x', 'count=1.5']) {
      const got = await page(q);
      expect([q, got.status, got.body.issues[0].path]).toEqual([q, 400, q.split('=')[0]]);
    }
  });
  test('as many questions are asked of the database for a hundred projects as for one', async () => {
    let asked = 0;
    const { db, store } = server;
    const [query, read] = [db.query.bind(db), store.read];
    db.query = ((...a: Parameters<typeof query>) => (asked++, query(...a))) as typeof db.query;
    store.read = (...a) => (asked++, read(...a));
    const counted = async (path: string) => {
      asked = 0;
      expect((await odalys.get(path)).status).toBe(200);
      return asked;
    };
    expect(await counted(`${api.projects.path}?count=${MOST_A_PAGE}`)).toBe(
      await counted(`${api.projects.path}?count=1`),
    );
    expect(await counted(api.rigs.path)).toBeLessThanOrEqual(6);
    [db.query, store.read] = [query as typeof db.query, read];
  });
});
