import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  api,
  type Board,
  type BookingRecord,
  type JobRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type SharingRecord,
} from '@keen/contract';
import { addDays } from '@keen/core/sky';
import { ended, every, fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';

const { odalys, teun } = testServer(['odalys', 'teun']);
const FROM = '2026-11-20';
const NIGHTS = 5;
const LAST = addDays(FROM, NIGHTS - 1);
let rigs: RigRecord[];
let projects: ProjectRecord[];
beforeAll(async () => {
  rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  projects = await every<ProjectRecord>(odalys, api.projects.path);
  // plans of the demo would only be in the way
  for (const p of await every<PlanRecord>(odalys, api.plans.path))
    if (p.night >= FROM && p.status === 'planned') await odalys.del(fill(api.cancelPlan.path, p.id));
});
async function board(more: object = {}, p: Person = odalys): Promise<{ id: string; board: Board }> {
  const body = { from: FROM, nights: NIGHTS, rigIds: rigs.map((r) => r.id), fairDays: null, switchPenalty: 0, ...more };
  const asked = (await p.post(api.workOutBoard.path, body)).body as JobRecord;
  const done = await ended(p, asked.id);
  if (done.result?.kind !== 'board') throw new Error(JSON.stringify(done));
  return { id: asked.id, board: done.result.board };
}
const booked = async () =>
  ((await odalys.get(`${api.bookings.path}?from=${FROM}&until=${LAST}`)).body as BookingRecord[]).filter(
    (b) => b.state === 'held',
  );
const hours = (list: readonly { start: string; end: string }[]) =>
  list.reduce((s, b) => s + Date.parse(b.end) - Date.parse(b.start), 0) / 3_600_000;
const givenHours = (of: Board, until = LAST) => hours(of.slots.filter((s) => s.projectId && s.night <= until));

describe('a board is promised', () => {
  let first: { id: string; board: Board };
  test('its hours are booked for whom it gave them to, up to a night, once', async () => {
    first = await board();
    const until = addDays(FROM, 1);
    const promise = (p: Person, to = until) => p.post(api.promise.path, { jobId: first.id, until: to });
    expect((await promise(teun)).status).toBe(403);
    expect((await promise(odalys, addDays(FROM, -1))).body.issues[0].path).toBe('until');
    const made = await promise(odalys);
    expect(made.status).toBe(200);
    const list = made.body as BookingRecord[];
    expect(hours(list)).toBeCloseTo(givenHours(first.board, until), 6);
    for (const b of list) {
      expect(b.night <= until).toBe(true);
      expect([b.origin, b.state, b.planId]).toEqual(['rules', 'held', null]);
      const project = projects.find((p) => p.id === b.projectId)!;
      expect([b.memberId, b.rigId, b.object]).toEqual([project.ownerId, project.rigId, project.object]);
    }
    // no two of one rig touch each other’s hours
    for (const [i, a] of list.entries())
      for (const b of list.slice(i + 1))
        if (a.rigId === b.rigId) expect(a.end <= b.start || b.end <= a.start).toBe(true);
    const again = await promise(odalys);
    expect([again.status, again.body.code]).toEqual([409, 'night_overlap']);
    expect(again.body.detail).toMatch(/since the board was worked out/);
    expect(hours(await booked())).toBeCloseTo(hours(list), 6);
  }, 60_000);
  test('what was promised is kept when it is planned again, and counts as given', async () => {
    const kept = await booked();
    const { board: next } = await board();
    expect(next.promised).toHaveLength(kept.length);
    for (const s of next.slots)
      for (const b of kept) if (s.rigId === b.rigId) expect(s.end <= b.start || b.end <= s.start).toBe(true);
    for (const p of next.projects) {
      const own = kept.filter((b) => b.projectId === p.projectId);
      expect(p.promisedMinutes).toBeCloseTo(60 * hours(own) * next.settings.clearFraction, 3);
      expect(p.minutes + p.promisedMinutes).toBeLessThanOrEqual(Math.max(p.wantedMinutes, p.promisedMinutes) + 1e-6);
    }
    // with shares the hours that are theirs already take part in them
    const { board: fair } = await board({ fairDays: 90 });
    const most = new Map(fair.members.map((m) => [m.memberId, m]));
    for (const m of fair.members)
      expect(m.promised).toBeCloseTo(
        60 * hours(kept.filter((b) => b.memberId === m.memberId)) * fair.settings.clearFraction,
        3,
      );
    expect(most.size).toBeGreaterThan(1);
  }, 60_000);
  test('nobody’s hours fall by another’s being promised; only where a steward says so are they open again', async () => {
    const before = await booked();
    const { id } = await board();
    expect((await odalys.post(api.promise.path, { jobId: id, until: LAST })).status).toBe(200);
    const after = await booked();
    for (const b of before) expect(after.some((a) => a.id === b.id)).toBe(true);
    const open = await board({ movesPromises: true });
    expect(open.board.promised).toEqual([]);
    expect((await odalys.post(api.promise.path, { jobId: open.id, until: LAST })).status).toBe(200);
    const now = await booked();
    expect(now.some((n) => after.some((a) => a.id === n.id))).toBe(false);
    expect(hours(now)).toBeCloseTo(givenHours(open.board), 6);
  }, 60_000);
  test('a board that is promised late keeps what was said of the rigs since', async () => {
    const late = await board({ movesPromises: true });
    const promise = () => odalys.post(api.promise.path, { jobId: late.id, until: LAST });
    const before = hours(await booked());
    const slot = late.board.slots.find((s) => s.projectId)!;
    const fault = { rigId: slot.rigId, problem: 'the clutch slips', stops: { system: null, until: null } };
    const told = (await odalys.post(api.addLog.path, fault)).body as { id: string };
    expect((await promise()).body.detail).toMatch(/out of order by now: the clutch slips/);
    await odalys.del(fill(api.dropLog.path, told.id));
    const one = ((await odalys.get(api.sharing.path)).body as SharingRecord[]).find((s) => s.rigId === slot.rigId)!;
    const { rigId, updatedAt: _a, updatedBy: _b, ...fields } = one;
    const put = (ways: string[], version: number) =>
      odalys.put(fill(api.changeSharing.path, rigId), { ...fields, ways, version });
    expect(
      (
        await put(
          one.ways.map(() => 'calendar'),
          one.version,
        )
      ).status,
    ).toBe(200);
    expect((await promise()).body.detail).toMatch(/goes by calendar on one of the rigs by now/);
    await put(one.ways, one.version + 1);
    // nothing was given back meanwhile
    expect(hours(await booked())).toBeCloseTo(before, 6);
  }, 60_000);
  test('what goes by calendar is not given', async () => {
    const shared = (await odalys.get(api.sharing.path)).body as SharingRecord[];
    const one = shared[0]!;
    const { rigId, updatedAt: _a, updatedBy: _b, ...fields } = one;
    const change = (ways: string[], version: number) =>
      odalys.put(fill(api.changeSharing.path, rigId), { ...fields, ways, version });
    // Friday the 20th and Saturday the 21st
    const ways = one.ways.map((w, i) => (i === 4 || i === 5 ? 'calendar' : w));
    expect((await change(ways, one.version)).status).toBe(200);
    const { board: of } = await board({ movesPromises: true });
    const nights = (id: string) => [...new Set(of.slots.filter((s) => s.rigId === id).map((s) => s.night))];
    expect(nights(rigId)).toEqual([2, 3, 4].map((n) => addDays(FROM, n)));
    expect(nights(rigs.find((r) => r.id !== rigId)!.id)).toContain(FROM);
    expect((await change(one.ways, one.version)).body.code).toBe('stale');
    expect((await change(one.ways, one.version + 1)).status).toBe(200);
  }, 60_000);
});

describe('from the promise to the plan', () => {
  test('one press makes the plan of the night: each project in its hours, each leg for its project', async () => {
    const all = await booked();
    const night = all.map((b) => b.night).sort()[0]!;
    const of = all.filter((b) => b.night === night);
    const rigId = of[0]!.rigId;
    const mine = of.filter((b) => b.rigId === rigId);
    const got = await odalys.post(api.planHours.path, { rigId, night });
    expect([got.status, got.body.left]).toEqual([200, []]);
    const plan = (await every<PlanRecord>(odalys, `${api.plans.path}?night=${night}`)).find(
      (p) => p.id === (got.body as { planId: string }).planId,
    )!;
    expect(plan.opening.length).toBeGreaterThan(0);
    expect(plan.closing.length).toBeGreaterThan(0);
    // what fills gaps can: it stands free in these hours
    for (const l of plan.legs) if (l.role === 'backup') expect([l.object, l.start !== null]).toEqual([l.object, true]);
    // the rig is taken for these hours, with its opening and closing, and not until dawn
    const ends = mine.map((b) => b.end).sort();
    const closing = plan.closing.reduce((s, c) => s + c.minutes, 0);
    const lastLeg = Math.max(...plan.legs.map((l) => (l.end ? Date.parse(l.end) : 0)));
    expect(lastLeg).toBeLessThanOrEqual(Date.parse(ends.at(-1)!) + 60_000);
    if (!plan.closing.some((c) => c.notBefore))
      expect(Date.parse(plan.end)).toBeLessThanOrEqual(Date.parse(ends.at(-1)!) + 60_000 * (closing + 2));
    for (const b of mine) {
      const legs = plan.legs.filter((l) => l.projectId === b.projectId && l.role === 'main' && l.start && l.end);
      const inside = legs.filter((l) => l.start! < b.end && l.end! > b.start);
      expect(inside.length).toBeGreaterThan(0);
      for (const l of inside) {
        // to the minute
        expect(Date.parse(l.start!)).toBeGreaterThanOrEqual(Date.parse(b.start) - 60_000);
        expect(Date.parse(l.end!)).toBeLessThanOrEqual(Date.parse(b.end) + 60_000);
      }
    }
    const now = await booked();
    for (const b of mine) expect(now.find((x) => x.id === b.id)!.planId).toBe(plan.id);
    const twice = await odalys.post(api.planHours.path, { rigId, night });
    expect([twice.status, twice.body.detail]).toEqual([404, expect.stringMatching(/without a plan/)]);
    // planned hours are the promise’s own: they count once
    const { board: next } = await board();
    expect(next.promised.filter((p) => p.origin === 'plan')).toEqual([]);
  }, 60_000);
  test('a member whose hours they are, beside others’, makes the plan for all of that night', async () => {
    const all = (await booked()).filter((b) => b.planId === null);
    const mixed = all.find(
      (b) =>
        b.member === 'Teun Achterberg' &&
        all.some((o) => o.night === b.night && o.rigId === b.rigId && o.member !== b.member),
    )!;
    const { rigId, night } = mixed;
    const got = await teun.post(api.planHours.path, { rigId, night });
    expect([got.status, got.body.detail]).toEqual([200, undefined]);
    const planId = (got.body as { planId: string }).planId;
    expect((await booked()).filter((b) => b.night === night && b.rigId === rigId).map((b) => b.planId)).toEqual(
      all.filter((b) => b.night === night && b.rigId === rigId).map(() => planId),
    );
  }, 60_000);
  test('hours for nothing yet that somebody has between are not planned over: what lies after them is left, and told', async () => {
    const night = '2026-12-14';
    const { rig, project, projects: of } = await somethingToPlan(odalys, night);
    const at = (h: number) => new Date(Date.parse(`${night}T00:00:00Z`) + h * 3_600_000).toISOString();
    const book = (p: Person, from: number, to: number, more: object = {}) =>
      p.post(api.addBooking.path, { rigId: rig.id, night, start: at(from), end: at(to), ...more });
    const forIt = (p: ProjectRecord) => ({ projectId: p.id, memberId: p.ownerId });
    const later = of.find((p) => p.id !== project.id && p.system === project.system)!;
    expect((await book(odalys, 19, 20, forIt(project))).status).toBe(200);
    expect((await book(teun, 20, 21)).status).toBe(200);
    expect((await book(odalys, 21, 22, forIt(later))).status).toBe(200);
    const got = await odalys.post(api.planHours.path, { rigId: rig.id, night });
    expect([got.status, got.body.left]).toEqual([200, [later.object]]);
    const plan = (await every<PlanRecord>(odalys, `${api.plans.path}?night=${night}`)).find(
      (p) => p.id === (got.body as { planId: string }).planId,
    )!;
    // somebody comes after: the rig is left as it is, at the end of the hours
    expect(plan.closing).toEqual([]);
    expect(plan.end <= at(20.02)).toBe(true);
  }, 60_000);
  test('whose hours none are makes no plan of them', async () => {
    const free = (await booked()).find((b) => b.planId === null && b.member !== 'Teun Achterberg')!;
    for (const b of await booked())
      if (b.night === free.night && b.rigId === free.rigId && b.member === 'Teun Achterberg')
        await odalys.del(fill(api.cancelBooking.path, b.id));
    const got = await teun.post(api.planHours.path, { rigId: free.rigId, night: free.night });
    expect([got.status, got.body.code]).toEqual([403, 'not_allowed']);
    expect((await teun.post(api.planHours.path, { rigId: free.rigId, night: '2027-05-01' })).status).toBe(404);
  }, 60_000);
});
