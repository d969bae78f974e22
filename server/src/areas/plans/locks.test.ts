import { expect, test } from '@jest/globals';
import { api, type PlanFields, type PlanRecord } from '@keen/contract';
import { fill, somethingToPlan, testServer } from '../../test/harness.ts';

const { odalys, teun } = testServer(['odalys', 'teun']);

const LOCKS: PlanFields['locks'] = [
  { field: 'order', reason: 'cloud comes without warning here' },
  { field: 'focus', reason: '' },
];
/** A plan of the steward’s with two closed fields. */
async function protectedPlan(night: string) {
  const { plan, projects } = await somethingToPlan(odalys, night);
  const made = (await odalys.post(api.addPlan.path, plan(19, 21, { locks: LOCKS }))).body as PlanRecord;
  return { made, plan, projects };
}
const later = (p: PlanFields, days: number): PlanFields => {
  const move = (at: string) => new Date(Date.parse(at) + days * 86_400_000).toISOString();
  const night = move(`${p.night}T12:00:00.000Z`).slice(0, 10);
  const legs = p.legs.map((l) => ({
    ...l,
    from: { by: 'clock' as const, at: move((l.from as { at: string }).at) },
    until: { by: 'clock' as const, at: move((l.until as { at: string }).at) },
  }));
  return { ...p, night, legs };
};

test('a steward closes fields with a reason; a member neither closes nor opens any', async () => {
  const { made } = await protectedPlan('2027-02-02');
  expect(made.locks).toEqual(LOCKS.map((l) => ({ ...l, by: 'Odalys Brandt' })));
  const { plan } = await somethingToPlan(teun, '2027-02-03');
  const own = (await teun.post(api.addPlan.path, plan(19, 21, { locks: LOCKS }))).body as PlanRecord;
  expect(own.locks).toEqual([]);
});

test('a plan made once is used by a member on another night: what is open changes, what is closed does not, whoever sends it', async () => {
  const { made, plan } = await protectedPlan('2027-02-05');
  const mine = later(plan(19, 21), 3);
  const use = (change: (p: PlanFields) => void) => {
    const p = structuredClone(mine);
    change(p);
    return teun.post(api.addPlan.path, { ...p, fromPlanId: made.id });
  };
  const refused = await use((p) => (p.legs[0]!.settings.order = 'block'));
  expect([refused.status, refused.body.code]).toEqual([403, 'not_allowed']);
  expect(refused.body.issues).toEqual([
    { path: 'order', message: 'order is locked: cloud comes without warning here' },
  ]);
  expect((await use((p) => (p.legs[0]!.settings.focus = { policy: 'offsets' }))).status).toBe(403);

  const got = await use((p) => (p.legs[0]!.settings.filters[0]!.exposureS = 90));
  expect(got.status).toBe(200);
  const used = got.body as PlanRecord;
  // the locks come with it, and the steward sees what was changed
  expect(used.locks).toEqual(made.locks);
  expect(used.madeFrom).toEqual({
    planId: made.id,
    owner: 'Odalys Brandt',
    night: '2027-02-05',
    changed: ['exposures'],
  });

  const change = (p: PlanFields, who = teun) =>
    who.put(fill(api.changePlan.path, used.id), { ...p, version: used.version });
  const unlocked = { ...structuredClone(mine), locks: [] };
  unlocked.legs[0]!.settings.order = 'block';
  expect((await change(unlocked)).status).toBe(403);
  const dithered = structuredClone(mine);
  dithered.legs[0]!.settings.dither.everyFrames = 3;
  const after = (await change(dithered)).body as PlanRecord;
  expect(after.locks).toEqual(made.locks);
  expect(after.madeFrom!.changed).toEqual(['dither']);
});

test('a steward may change what is closed, and opens it; a plan without closed fields is nobody’s pattern', async () => {
  const { made, plan } = await protectedPlan('2027-02-12');
  const body = { ...plan(19, 21), locks: [LOCKS[0]!] };
  body.legs[0]!.settings.focus = { policy: 'offsets' };
  const open = (await odalys.put(fill(api.changePlan.path, made.id), { ...body, version: made.version }))
    .body as PlanRecord;
  expect(open.locks.map((l) => l.field)).toEqual(['order']);
  const bare = (await odalys.post(api.addPlan.path, later(plan(22, 23), 1))).body as PlanRecord;
  const none = await teun.post(api.addPlan.path, { ...later(plan(19, 21), 5), fromPlanId: bare.id });
  expect([none.status, none.body.code]).toEqual([404, 'not_found']);
});

test('a field twice, or one that is none, is refused with its place', async () => {
  const { plan } = await somethingToPlan(odalys, '2027-02-20');
  const got = await odalys.post(api.addPlan.path, { ...plan(19, 20), locks: [{ field: 'colour', reason: '' }] });
  expect([got.status, got.body.issues[0].path]).toEqual([400, 'locks.0.field']);
  const twice = await odalys.post(api.addPlan.path, plan(19, 20, { locks: [LOCKS[0]!, LOCKS[0]!] }));
  expect([twice.status, twice.body.issues[0].path]).toEqual([400, 'locks.1']);
});
