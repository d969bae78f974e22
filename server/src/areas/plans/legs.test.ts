import { describe, expect, test } from '@jest/globals';
import { api, type PlanFields, type PlanRecord, type ProjectRecord, type RunRecord } from '@keen/contract';
import { usualClosing, usualOpening } from '@keen/core/sequence';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { fill, somethingToPlan, testServer, rehearsed } from '../../test/harness.ts';

const { server, odalys } = testServer(['odalys']);

const add = async (plan: PlanFields) => odalys.post(api.addPlan.path, plan);
const progress = async (id: string) => {
  const all = (await odalys.get(api.projects.path)).body as ProjectRecord[];
  return all.find((p) => p.id === id)!.done.reduce((s, n) => s + n, 0);
};

describe('a night of several legs', () => {
  test('takes the rig from its opening to its closing; its hours come from the sky, not from who sends it', async () => {
    const { plan, leg, projects } = await somethingToPlan(odalys, '2027-01-20');
    const other = projects[1]!;
    const legs = [
      leg(18, 20),
      {
        ...leg(20, 22, {
          id: 'two',
          projectId: other.id,
          until: { by: 'darkness', which: 'astronomical', offsetMin: -30 },
        }),
      },
    ];
    const got = await add(
      plan(0, 0, { legs, opening: usualOpening(120).map((s) => ({ ...s, notBefore: null })), closing: usualClosing() }),
    );
    expect(got.status).toBe(200);
    const made = got.body as PlanRecord;
    expect(made.legs.map((l) => l.object)).toEqual([projects[0]!.object, other.object]);
    expect(Date.parse(made.start)).toBe(Date.parse(made.legs[0]!.start!) - (3 + 15 + 2 + 4 + 2) * 60_000);
    expect(Date.parse(made.end)).toBe(Date.parse(made.legs[1]!.end!) + 12 * 60_000);
    // the closing holds the rig too
    const late = (Date.parse(made.end) - Date.parse('2027-01-20T00:00:00Z')) / 3_600_000;
    const clash = await add(plan(late - 0.1, late + 1));
    expect(clash.body.code).toBe('night_overlap');
    expect(clash.body.detail).toContain(`${projects[0]!.object}, ${other.object}`);
    const kept = await server.db.query('SELECT project_id FROM plan_projects WHERE plan_id = ?', {
      replacements: [made.id],
      type: QueryTypes.SELECT,
    });
    expect(kept).toHaveLength(2);
  });
  test('its rehearsal counts every frame for the project of its leg, once', async () => {
    const { plan, leg, projects } = await somethingToPlan(odalys, '2027-01-24');
    const [a, b] = [projects[0]!, projects[1]!];
    const legs = [
      leg(18, 20),
      leg(20, 22, {
        id: 'two',
        projectId: b.id,
        settings: {
          ...leg(0, 0).settings,
          filters: b.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
        },
      }),
    ];
    const made = (await add(plan(0, 0, { legs }))).body as PlanRecord;
    const run = (await rehearsed(odalys, made.id, 4)).body as RunRecord;
    expect(run.legs.map((l) => l.projectId)).toEqual([a.id, b.id]);
    const good = (k: number) => run.result.frames.filter((f) => f.leg === k && f.accepted).length;
    expect(good(0)).toBeGreaterThan(2);
    expect(good(1)).toBeGreaterThan(2);
    const before = [await progress(a.id), await progress(b.id)];
    expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(200);
    expect([await progress(a.id), await progress(b.id)]).toEqual([before[0]! + good(0), before[1]! + good(1)]);
  });
});

describe('a second camera beside a leg', () => {
  const two = async (night: string) => {
    const some = await somethingToPlan(odalys, night, '250 mm Newtonian');
    const lead = some.projects.find((p) => p.system === 'newtonian')!;
    const beside = some.projects.find((p) => p.system === 'lens')!;
    const settings = (p: ProjectRecord, quota = 300) => ({
      ...some.leg(0, 0).settings,
      focus: { policy: 'offsets' as const, everyMin: 60 },
      filters: p.goals.slice(0, 2).map((g) => ({ name: g.filter, exposureS: g.exposureS, quota })),
    });
    const follower = { projectId: beside.id, settings: settings(beside), waitedFor: false };
    const leg = some.leg(20, 22, { projectId: lead.id, settings: settings(lead), follower });
    return { ...some, lead, beside, leg, settings };
  };
  test('takes its own frames between the lead’s moves; both count, in nights of their own', async () => {
    const { plan, lead, beside, leg, rig } = await two('2027-01-20');
    const made = (await add(plan(0, 0, { legs: [leg] }))).body as PlanRecord;
    expect(made.legs[0]!.follower!.projectId).toBe(beside.id);
    const run = (await rehearsed(odalys, made.id, 5)).body as RunRecord;
    const own = run.result.frames.filter((f) => f.accepted).length;
    const besides = run.result.follower!.frames;
    expect(besides.length).toBeGreaterThan(3);
    const moves = run.result.events.filter((e) => ['dither', 'slew', 'flip', 'guide'].includes(e.kind));
    for (const f of besides) {
      const [from, until] = [Date.parse(f.start), Date.parse(f.start) + 1000 * f.exposureS];
      expect(moves.filter((e) => Date.parse(e.start) < until - 5 && Date.parse(e.end) > from + 5)).toEqual([]);
    }
    const before = [await progress(lead.id), await progress(beside.id)];
    expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(200);
    expect(await progress(lead.id)).toBe(before[0]! + own);
    expect(await progress(beside.id)).toBe(before[1]! + besides.filter((f) => f.accepted).length);
    const nights = (await odalys.get(fill(api.nights.path, rig.id))).body as {
      system: string;
      name: string;
      beside: boolean;
    }[];
    expect(nights.filter((n) => n.beside)).toMatchObject([{ system: 'lens' }]);
    // once: neither night is counted again
    expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(409);
  });
  test('must be another camera of the same rig', async () => {
    const { plan, lead, leg, settings, projects } = await two('2027-01-26');
    const all = (await odalys.get(api.projects.path)).body as ProjectRecord[];
    const refused = async (p: ProjectRecord) => {
      const got = await add(
        plan(0, 0, { legs: [{ ...leg, follower: { projectId: p.id, settings: settings(p), waitedFor: false } }] }),
      );
      return [got.status, got.body.issues?.[0].path, got.body.issues?.[0].message];
    };
    const other = projects.find((p) => p.system === 'newtonian' && p.id !== lead.id)!;
    expect(await refused(other)).toEqual([
      400,
      'legs.0.follower.projectId',
      expect.stringContaining('leading camera itself'),
    ]);
    expect(await refused(all.find((p) => p.rigId !== lead.rigId)!)).toEqual([
      400,
      'legs.0.follower.projectId',
      expect.stringContaining('another rig'),
    ]);
  });
});

describe('what no night can be is refused with its place', () => {
  const refused = async (change: (p: PlanFields, all: ProjectRecord[]) => void) => {
    const { plan, projects } = await somethingToPlan(odalys, '2027-01-28');
    const p = plan(18, 20);
    change(p, (await odalys.get(api.projects.path)).body as ProjectRecord[]);
    void projects;
    const got = await add(p);
    return [got.status, got.body.issues?.[0].path, got.body.issues?.[0].message ?? got.body.detail];
  };
  test('no leg, a leg twice, a project of another rig, an hour that never comes', async () => {
    expect(await refused((p) => (p.legs = []))).toEqual([400, 'legs', 'a night plan needs at least one leg']);
    expect(await refused((p) => (p.legs = [p.legs[0]!, p.legs[0]!]))).toEqual([
      400,
      'legs.1',
      expect.stringContaining('twice'),
    ]);
    expect(await refused((p, all) => (p.legs[0]!.projectId = all.find((q) => q.rigId !== p.rigId)!.id))).toEqual([
      400,
      'legs.0.projectId',
      expect.stringContaining('another rig'),
    ]);
    expect(await refused((p) => (p.legs[0]!.from = { by: 'altitude', deg: 89, offsetMin: 0 }))).toEqual([
      400,
      'legs.0.from',
      expect.stringContaining('never stands at 89'),
    ]);
  });
  test('a rehearsal of thousands of focus runs is refused, with what to do', async () => {
    const { plan, rig } = await somethingToPlan(odalys, '2027-02-10');
    const p = plan(17, 29);
    p.legs[0]!.settings = {
      ...p.legs[0]!.settings,
      order: 'rolling',
      focus: { policy: 'every-change' },
      filters: ['L', 'R'].map((name) => ({ name, exposureS: 1, quota: 9999 })),
    };
    // a focuser that takes no time: else the night itself holds few
    const setup = {
      ...rig.setup,
      systems: rig.setup.systems.map((s) => ({ ...s, overheads: { ...s.overheads, autofocusS: 0 } })),
    };
    const changed = await odalys.post(fill(api.reviseRig.path, rig.id), {
      name: rig.name,
      siteId: rig.siteId,
      setup,
      version: rig.version,
    });
    expect(changed.status).toBe(200);
    const made = (await add(p)).body as PlanRecord;
    const run = await rehearsed(odalys, made.id, 1);
    expect([run.status, run.body.code, run.body.issues[0].path]).toEqual([400, 'invalid_input', 'legs']);
    expect(run.body.detail).toContain('longer exposures');
  });
  test('a leg by the clock until the next afternoon holds the rig while it can work, not by day', async () => {
    const { plan, projects } = await somethingToPlan(odalys, '2027-01-28');
    const p = plan(18, 20);
    p.legs[0]!.until = { by: 'clock', at: '2027-01-29T16:30:00.000Z' };
    const made = (await add(p)).body as PlanRecord;
    expect([made.legs[0]!.object, Date.parse(made.end) < Date.parse('2027-01-29T07:00:00Z')]).toEqual([
      projects[0]!.object,
      true,
    ]);
  });
});

test('a rig’s nights are read as a calendar by whoever has its address, and by nobody who guesses', async () => {
  const { plan, rig, projects, leg } = await somethingToPlan(odalys, '2027-03-10');
  const legs = [leg(19, 21), leg(21, 23, { id: 'two', projectId: projects[1]!.id })];
  const made = (await add(plan(0, 0, { legs }))).body as PlanRecord;
  const { path } = (await odalys.get(fill(api.calendarFeed.path, rig.id))).body as { path: string };
  const stranger = request(server.app);
  const got = await stranger.get(path);
  expect([got.status, got.type]).toEqual([200, 'text/calendar']);
  expect(got.text).toMatch(/^BEGIN:VCALENDAR/);
  expect(got.text).toContain(`UID:${made.id}@keen-meridian`);
  expect(got.text).toContain(`SUMMARY:${projects[1]!.object}`);
  expect(got.text).toContain('DTSTART:20270310T190000Z');
  expect((await odalys.del(fill(api.cancelPlan.path, made.id))).status).toBe(200);
  expect((await stranger.get(path)).text).not.toContain(made.id);
  const wrong = `${path.slice(0, -5)}${path.at(-5) === '0' ? '1' : '0'}.ics`;
  for (const p of [wrong, path.replace(rig.id, made.id), `/feeds/${rig.id}/x.ics`, '/feeds/../api/ics'])
    expect([p, (await stranger.get(p)).status]).toEqual([p, 404]);
  // each person has an own one, which they can take back
  const teun = await server.as('teun');
  const his = ((await teun.get(fill(api.calendarFeed.path, rig.id))).body as { path: string }).path;
  expect(his).not.toBe(path);
  expect((await odalys.del(fill(api.dropCalendarFeed.path, rig.id))).status).toBe(200);
  expect([(await stranger.get(path)).status, (await stranger.get(his)).status]).toEqual([404, 200]);
  const again = ((await odalys.get(fill(api.calendarFeed.path, rig.id))).body as { path: string }).path;
  expect([again === path, (await stranger.get(again)).status]).toEqual([false, 200]);
});
