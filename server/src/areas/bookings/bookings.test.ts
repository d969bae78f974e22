import { beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import {
  api,
  type BookingRecord,
  type LedgerRecord,
  type MemberInfo,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type SharingRecord,
} from '@keen/contract';
import { words, type Phrase } from '@keen/core/phrases';
import { DEMO_MADE } from '../../../../scripts/lib/demoInstant.mjs';
import { every, fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';

const BEGUN = Date.parse(DEMO_MADE);
let clock = BEGUN;
const { odalys, teun, mirela, ines } = testServer(['odalys', 'teun', 'mirela', 'ines'], { now: () => new Date(clock) });
const NIGHT = '2026-11-21';
const hour = (h: number, night = NIGHT) => new Date(Date.parse(`${night}T00:00:00Z`) + h * 3_600_000).toISOString();
let rig: RigRecord;
let ids: Record<'teun' | 'mirela', string>;
let own: Record<'teun' | 'mirela', ProjectRecord | undefined>;
beforeAll(async () => {
  rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;
  const people = (await odalys.get(api.members.path)).body as MemberInfo[];
  const idOf = (signIn: string) => people.find((m) => m.signIn === signIn)!.id;
  ids = { teun: idOf('teun'), mirela: idOf('mirela') };
  const projects = await every<ProjectRecord>(odalys, api.projects.path);
  const of = (ownerId: string) => projects.find((p) => p.ownerId === ownerId && p.rigId === rig.id && !p.archived);
  own = { teun: of(ids.teun), mirela: of(ids.mirela) };
});
beforeEach(() => {
  clock = BEGUN;
});
const book = (p: Person, from: number, to: number, more: object = {}) =>
  p.post(api.addBooking.path, { rigId: rig.id, night: NIGHT, start: hour(from), end: hour(to), ...more });
const listed = async (p: Person, from = NIGHT, until = NIGHT) =>
  (await p.get(`${api.bookings.path}?from=${from}&until=${until}`)).body as BookingRecord[];
const sharing = async () =>
  ((await odalys.get(api.sharing.path)).body as SharingRecord[]).find((s) => s.rigId === rig.id)!;
async function share(more: Partial<SharingRecord>): Promise<void> {
  const { rigId: _r, updatedAt: _a, updatedBy: _b, ...now } = await sharing();
  const got = await odalys.put(fill(api.changeSharing.path, rig.id), { ...now, ...more });
  expect(got.status).toBe(200);
}
const clear = async () => {
  for (const b of await listed(odalys, NIGHT, '2026-12-20'))
    if (!['cancelled', 'declined'].includes(b.state)) await odalys.del(fill(api.cancelBooking.path, b.id));
};

describe('hours are booked', () => {
  test('who comes second is told who has them, may wait, and moves up when they are given back', async () => {
    const first = await book(teun, 20, 23);
    expect([first.status, first.body.state, first.body.member]).toEqual([200, 'held', 'Teun Achterberg']);
    const second = await book(mirela, 22, 24);
    expect([second.status, second.body.code]).toEqual([409, 'night_overlap']);
    expect(second.body.detail).toContain('Teun Achterberg has this rig');
    const waits = await book(mirela, 22, 24, { wait: true });
    expect([waits.status, waits.body.state]).toEqual([200, 'waiting']);
    // hours beside them are free
    expect((await book(mirela, 23, 24.5)).status).toBe(200);
    expect((await teun.del(fill(api.cancelBooking.path, waits.body.id))).status).toBe(403);
    expect((await teun.del(fill(api.cancelBooking.path, first.body.id))).status).toBe(200);
    // her own other hours are in the way of those she waits for
    expect((await listed(mirela)).find((b) => b.id === waits.body.id)!.state).toBe('waiting');
    const beside = (await listed(mirela)).find((b) => b.state === 'held')!;
    expect((await mirela.del(fill(api.cancelBooking.path, beside.id))).status).toBe(200);
    expect((await listed(mirela)).find((b) => b.id === waits.body.id)!.state).toBe('held');
    expect((await teun.del(fill(api.cancelBooking.path, first.body.id))).body.code).toBe('already_done');
    // what was given back is nobody else’s business
    expect((await listed(mirela)).some((b) => b.id === first.body.id)).toBe(false);
    expect((await listed(teun)).some((b) => b.id === first.body.id)).toBe(true);
    await clear();
  });
  test('a plan takes hours too, and no plan is laid on hours of somebody else', async () => {
    const { plan } = await somethingToPlan(teun, NIGHT);
    const held = (await book(mirela, 20, 22)).body as BookingRecord;
    const refused = await teun.post(api.addPlan.path, plan(19, 21));
    expect([refused.status, refused.body.code]).toEqual([409, 'night_overlap']);
    expect(refused.body.detail).toContain('Mirela Costin has this rig');
    const made = await teun.post(api.addPlan.path, plan(18.5, 20));
    expect(made.status).toBe(200);
    expect((await book(mirela, 19, 20)).body.detail).toContain('Teun Achterberg has planned this rig');
    const waits = (await book(mirela, 19, 20, { wait: true })).body as BookingRecord;
    await teun.del(fill(api.cancelPlan.path, (made.body as PlanRecord).id));
    expect((await listed(mirela)).find((b) => b.id === waits.id)!.state).toBe('held');
    // nor with legs before and after them: the rig would be had all along
    const leg = (id: string, a: number, b: number) => ({ ...plan(a, b).legs[0]!, id });
    const around = await teun.post(api.addPlan.path, {
      ...plan(18.5, 20),
      legs: [leg('a', 18.5, 19), leg('b', 22.5, 23.5)],
    });
    expect([around.status, around.body.code]).toEqual([409, 'night_overlap']);
    // a steward says otherwise
    const over = await odalys.post(api.addPlan.path, plan(20, 21));
    expect(over.status).toBe(200);
    await odalys.del(fill(api.cancelPlan.path, (over.body as PlanRecord).id));
    await mirela.del(fill(api.cancelBooking.path, held.id));
    await clear();
  });
  test('what a club wants looked at is asked for; a no is given with its reason, and who waited moves up', async () => {
    await share({ approval: true });
    const asked = (await book(teun, 20, 22)).body as BookingRecord;
    expect(asked.state).toBe('asked');
    const waits = (await book(mirela, 20, 21, { wait: true })).body as BookingRecord;
    const decide = (p: Person, approved: boolean) =>
      p.put(fill(api.decideBooking.path, asked.id), { approved, answer: 'the dome is being painted' });
    expect((await decide(teun, true)).status).toBe(403);
    const said = (await decide(odalys, false)).body as BookingRecord;
    expect([said.state, said.answer, said.decidedBy]).toEqual([
      'declined',
      'the dome is being painted',
      'Odalys Brandt',
    ]);
    expect((await decide(odalys, true)).body.code).toBe('already_done');
    expect((await listed(mirela)).find((b) => b.id === waits.id)!.state).toBe('asked');
    await share({ approval: false });
    await clear();
  });
  test('by weekday, by nights ahead and by hours: each limit is told with its number', async () => {
    // 2026-11-21 is a Saturday
    const ways = (await sharing()).ways.map((w, i) => (i === 5 ? ('queue' as const) : w));
    await share({ ways });
    expect((await book(teun, 20, 22)).body.detail).toMatch(/goes by the rules/);
    // a steward may, and nights of other weekdays may be booked
    expect((await book(odalys, 20, 22)).status).toBe(200);
    const sunday = { night: '2026-11-22', start: hour(20, '2026-11-22'), end: hour(22, '2026-11-22') };
    expect((await book(teun, 0, 0, sunday)).status).toBe(200);
    await share({ ways: ways.map(() => 'mixed' as const), aheadNights: 3 });
    expect((await book(teun, 22, 23)).status).toBe(200);
    const late = { night: '2026-11-23', start: hour(20, '2026-11-23'), end: hour(22, '2026-11-23') };
    const far = await book(teun, 0, 0, late);
    expect(far.body.issues).toEqual([
      { path: 'night', message: '120 mm triplet is booked up to 2026-11-21 so far, 3 nights ahead' },
    ]);
    await share({ aheadNights: 60, mostHours: 4 });
    const much = await book(teun, 0, 0, { ...late, end: hour(23, '2026-11-23') });
    expect([much.status, much.body.detail]).toEqual([
      403,
      'You have 3 h booked ahead on 120 mm triplet; 4 h are the most.',
    ]);
    await share({ mostHours: null });
    await clear();
  });
  test('bad hours are told by place', async () => {
    const path = async (got: PromiseLike<{ body: { issues?: { path: string }[] } }>) =>
      (await got).body.issues?.[0]?.path;
    expect(await path(book(teun, 22, 20))).toBe('end');
    expect(await path(book(teun, 20, 41))).toBe('end');
    expect(await path(book(teun, 20, 37))).toBe('end');
    expect(await path(book(teun, 5, 20))).toBe('start');
    expect(
      await path(book(teun, 0, 0, { night: '2026-11-10', start: hour(20, '2026-11-10'), end: hour(21, '2026-11-10') })),
    ).toBe('end');
    // at half past nine what began at eight is not offered any more
    clock = Date.parse(hour(21.5));
    expect(await path(book(teun, 20, 23))).toBe('start');
    expect((await book(teun, 21.4, 23)).status).toBe(200);
    clock = BEGUN;
    await clear();
    expect(await path(book(teun, 20, 21, { projectId: rig.id }))).toBe('projectId');
    expect((await book(teun, 20, 21, { memberId: ids.mirela })).status).toBe(403);
    expect(await path(book(odalys, 20, 21, { memberId: rig.id }))).toBe('memberId');
    expect((await book(ines, 20, 21)).status).toBe(403);
    expect((await teun.get(`${api.bookings.path}?from=2026-11-21&until=2026-11-20`)).status).toBe(400);
    expect((await teun.get(`${api.bookings.path}?from=2026-11-21&until=2027-11-20`)).status).toBe(400);
  });
});

describe('the ledger', () => {
  test('what came of hours is said once they have begun, and counts as the club says', async () => {
    const project = own.teun;
    const held = (await book(teun, 20, 23, { projectId: project?.id ?? null })).body as BookingRecord;
    const say = (p: Person, outcome: string | null) => p.put(fill(api.sayOutcome.path, held.id), { outcome });
    expect((await say(teun, 'clouded')).body.issues[0].path).toBe('outcome');
    clock = Date.parse(hour(32));
    expect((await say(mirela, 'clouded')).status).toBe(403);
    expect(((await say(teun, 'clouded')).body as BookingRecord).outcomeBy).toBe('Teun Achterberg');
    expect((await teun.del(fill(api.cancelBooking.path, held.id))).body.code).toBe('already_done');
    const lines = (await teun.get(`${api.ledger.path}?since=2026-11-20`)).body as LedgerRecord[];
    expect(lines.every((l) => l.memberId === ids.teun)).toBe(true);
    expect(lines.find((l) => l.projectId === held.projectId)).toMatchObject({
      month: '2026-11',
      asked: 180,
      promised: 180,
      clouded: 180,
    });
    const all = (await odalys.get(`${api.ledger.path}?since=2026-08-01`)).body as LedgerRecord[];
    expect(new Set(all.map((l) => l.memberId)).size).toBeGreaterThan(1);
    // taken and counted are the frames on record, by whose projects they are for
    const projects = await every<ProjectRecord>(odalys, api.projects.path);
    const nights = projects.flatMap((p) => p.nights.filter((n) => n.night >= '2026-08-01'));
    const sum = (f: (n: (typeof nights)[number]) => number) => nights.reduce((s, n) => s + f(n) * n.exposureS, 0) / 60;
    expect(all.reduce((s, l) => s + l.taken, 0)).toBeCloseTo(
      sum((n) => n.accepted + n.rejected),
      6,
    );
    expect(all.reduce((s, l) => s + l.counted, 0)).toBeCloseTo(
      sum((n) => n.accepted),
      6,
    );
  });
  test('the rule is a steward’s, and one sentence', async () => {
    expect((await teun.put(api.changeSeasonRules.path, { fairDays: null, cloudShare: 0 })).status).toBe(403);
    const sentence = async (rules: object) =>
      words((await odalys.put(api.changeSeasonRules.path, rules)).body.sentence as Phrase);
    expect(await sentence({ fairDays: null, cloudShare: 0.5 })).toContain('no shares');
    expect(await sentence({ fairDays: 30, cloudShare: 0.5 })).toContain('last 30 days');
    expect((await teun.get(api.seasonRules.path)).body).toMatchObject({ fairDays: 30, cloudShare: 0.5 });
    expect((await odalys.put(api.changeSeasonRules.path, { fairDays: 0, cloudShare: 2 })).body.issues).toHaveLength(2);
  });
});

describe('who is away', () => {
  const away = (p: Person, absences: object[]) => p.put(api.keepAbsences.path, { absences });
  test('does not move up for those nights; the next who waits does. Where somebody is, they alone read', async () => {
    await clear();
    const held = (await book(teun, 20, 22)).body as BookingRecord;
    expect(held.state).toBe('held');
    const waits = [
      (await book(mirela, 20, 22, { wait: true })).body as BookingRecord,
      (await book(odalys, 20, 21, { wait: true })).body as BookingRecord,
    ];
    const kept = await away(mirela, [{ from: NIGHT, until: '2026-11-23', title: 'Family' }]);
    expect([kept.status, kept.body]).toEqual([200, [{ from: NIGHT, until: '2026-11-23', title: 'Family' }]]);
    expect((await odalys.get(api.absences.path)).body).toEqual([]);
    await teun.del(fill(api.cancelBooking.path, held.id));
    const states = async () => {
      const list = await listed(odalys);
      return waits.map((w) => list.find((b) => b.id === w.id)!.state);
    };
    expect(await states()).toEqual(['waiting', 'held']);
    expect((await away(mirela, [])).body).toEqual([]);
    await odalys.del(fill(api.cancelBooking.path, waits[1]!.id));
    expect(await states()).toEqual(['held', 'cancelled']);
    await clear();
    const wrong = await away(mirela, [{ from: '2026-11-23', until: NIGHT }]);
    expect((wrong.body.issues as { path: string }[]).map((i) => i.path)).toEqual(['absences.0.until']);
    expect((await away(ines, [])).status).toBe(403);
  });
});
