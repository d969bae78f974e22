import { expect, test } from '@jest/globals';
import { api, type PlanRecord, type RunRecord } from '@keen/contract';
import { usualOpening } from '@keen/core/sequence';
import { fill, somethingToPlan, testServer, rehearsed } from '../../test/harness.ts';

/** An evening in January, half past eight: what has passed of it is not planned. */
const now = Date.parse('2027-01-20T20:36:00Z');
const { odalys, teun } = testServer(['odalys', 'teun'], { now: () => new Date(now) });

test('a plan of tonight begins now, with the time its opening still needs; one whose hours have passed is refused', async () => {
  const { plan, leg } = await somethingToPlan(odalys, '2027-01-20');
  const opening = usualOpening(120).map((s) => ({ ...s, notBefore: null }));
  const free = leg(18, 23);
  const made = (await odalys.post(api.addPlan.path, plan(0, 0, { legs: [free], opening }))).body as PlanRecord;
  expect(Date.parse(made.start)).toBe(now);
  const run = (await rehearsed(odalys, made.id, 2)).body as RunRecord;
  expect(run.result.frames.length).toBeGreaterThan(0);
  await odalys.del(fill(api.cancelPlan.path, made.id));
  const over = await odalys.post(api.addPlan.path, plan(18, 20));
  expect([over.status, over.body.issues[0].path, over.body.issues[0].message]).toEqual([
    400,
    'legs.0.until',
    expect.stringContaining('have passed'),
  ]);
  // another night is whole
  expect(
    Date.parse(
      (
        (await odalys.post(api.addPlan.path, (await somethingToPlan(odalys, '2027-01-22')).plan(18, 20)))
          .body as PlanRecord
      ).start,
    ),
  ).toBe(Date.parse('2027-01-22T18:00:00Z'));
});

test('hours by the clock in which the object is down hold the rig, and nothing is taken in them', async () => {
  const { plan, leg, projects } = await somethingToPlan(odalys, '2027-06-10');
  const last = projects.at(-1)!;
  const legs = [leg(20, 21, { projectId: last.id })];
  const made = (await odalys.post(api.addPlan.path, plan(0, 0, { legs }))).body as PlanRecord;
  expect([made.start, made.end]).toEqual(['2027-06-10T20:00:00.000Z', '2027-06-10T21:00:00.000Z']);
  expect(made.legs[0]!.start).toBeNull();
  expect((await odalys.post(api.addPlan.path, plan(20.5, 21))).body.code).toBe('night_overlap');
  const run = (await rehearsed(odalys, made.id, 2)).body as RunRecord;
  expect([run.result.frames, run.result.verdict.level]).toEqual([[], 'bad']);
});

test('whoever saves a plan that was cancelled meanwhile reads by whom', async () => {
  const { plan } = await somethingToPlan(teun, '2027-02-03');
  const made = (await teun.post(api.addPlan.path, plan(19, 20))).body as PlanRecord;
  await odalys.del(fill(api.cancelPlan.path, made.id));
  const got = await teun.put(fill(api.changePlan.path, made.id), { ...plan(19, 21), version: made.version });
  expect([got.status, got.body.code, got.body.detail]).toEqual([409, 'cancelled', expect.stringContaining('Odalys')]);
  expect((await teun.post(api.addPlan.path, plan(19, 21))).status).toBe(200);
});

test('a protected plan that its owner cancels and plans anew stays protected', async () => {
  const { plan } = await somethingToPlan(teun, '2027-02-05');
  const made = (await teun.post(api.addPlan.path, plan(19, 20))).body as PlanRecord;
  const locks = [{ field: 'order' as const, reason: 'for the colour' }];
  expect(
    (await odalys.put(fill(api.changePlan.path, made.id), { ...plan(19, 20), locks, version: made.version })).status,
  ).toBe(200);
  await teun.del(fill(api.cancelPlan.path, made.id));
  const other = plan(19, 20);
  other.legs[0]!.settings.order = 'block';
  const refused = await teun.post(api.addPlan.path, other);
  expect([refused.status, refused.body.issues[0].path]).toEqual([403, 'order']);
  const same = (await teun.post(api.addPlan.path, plan(19, 20))).body as PlanRecord;
  expect(same.locks.map((l) => l.field)).toEqual(['order']);
});
