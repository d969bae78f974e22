import { describe, expect, test } from '@jest/globals';
import {
  api,
  type CountRecord,
  type HandoverRecord,
  type LogRecord,
  type PartRecord,
  type RigRecord,
  type RunRecord,
  type UpkeepRecord,
} from '@keen/contract';
import { COUNTED_RUN_STATE } from '@keen/core/record';
import { addDays } from '@keen/core/sky';
import { fill, testServer } from '../../test/harness.ts';

const { server, odalys, teun, mirela, ines } = testServer(['odalys', 'teun', 'mirela', 'ines']);
const rigNamed = async (name = '120 mm triplet') =>
  ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === name)!;
const listed = async () => (await ines.get(api.upkeep.path)).body as UpkeepRecord[];

describe('what comes again', () => {
  test('is said by a steward, done by a member, and counted anew from the day it was done', async () => {
    const rig = await rigNamed();
    const body = { rigId: rig.id, what: 'Grease the worm', everyDays: 90, everyNights: null };
    expect((await teun.post(api.addUpkeep.path, body)).status).toBe(403);
    const never = await odalys.post(api.addUpkeep.path, { ...body, everyDays: null });
    expect(never.body.issues).toEqual([
      { path: 'everyDays', message: expect.stringContaining('say after how many days') },
    ]);
    const made = (await odalys.post(api.addUpkeep.path, body)).body as UpkeepRecord;
    expect([made.due.state, made.doneBy, made.due.date]).toEqual(['later', '', addDays(made.since, 90)]);
    const done = await teun.post(fill(api.upkeepDone.path, made.id), {
      day: made.since,
      note: 'half a tube',
      version: 1,
    });
    expect(done.body).toMatchObject({ doneBy: 'Teun Achterberg', version: 2, done: [{ note: 'half a tube' }] });
    const late = await teun.post(fill(api.upkeepDone.path, made.id), { day: made.since, version: 1 });
    expect([late.status, late.body.code, late.body.current.version]).toEqual([409, 'stale', 2]);
    for (const day of [addDays(made.since, 1), addDays(made.since, -1)])
      expect((await teun.post(fill(api.upkeepDone.path, made.id), { day, version: 2 })).body.issues[0].path).toBe(
        'day',
      );
    expect((await teun.del(fill(api.dropUpkeep.path, made.id))).status).toBe(403);
    await odalys.del(fill(api.dropUpkeep.path, made.id));
    expect((await listed()).some((u) => u.id === made.id)).toBe(false);
  });

  test('by nights of work it is due when so many have come in', async () => {
    const runs = (await odalys.get(api.runs.path)).body as RunRecord[];
    const rigId = runs.find((r) => r.kind !== 'rehearsed')!.rigId;
    const nights = [
      ...new Set(
        runs
          .filter((r) => r.rigId === rigId && r.kind !== 'rehearsed' && r.state === COUNTED_RUN_STATE)
          .map((r) => r.night),
      ),
    ].toSorted();
    expect(nights.length).toBeGreaterThan(2);
    const body = { rigId, what: 'Clean the ways', everyDays: null, everyNights: nights.length - 1 };
    const made = (await odalys.post(api.addUpkeep.path, body)).body as UpkeepRecord;
    expect([made.nights, made.due.date, made.due.nightsLeft]).toEqual([0, null, nights.length - 1]);
    // counted from the second night on, and from before the first
    for (const [since, n, state] of [
      [nights[1]!, nights.length - 1, 'over'],
      [nights.at(-1)!, 1, expect.anything()],
      [nights[0]!, nights.length, 'over'],
    ] as const) {
      await server.db.query('UPDATE upkeep SET since = :since WHERE id = :id', {
        replacements: { since, id: made.id },
      });
      const now = (await listed()).find((u) => u.id === made.id)!;
      expect([now.nights, now.due.state, now.due.nightsLeft]).toEqual([n, state, nights.length - 1 - n]);
    }
  });
});

describe('a rig changes hands', () => {
  test('whoever takes it over says how they find it; what is wrong is in the logbook; the next one takes it from who forgot', async () => {
    const rig = await rigNamed();
    const take = (by: typeof teun, body: object) => by.post(fill(api.takeOver.path, rig.id), body);
    expect((await take(ines, { inOrder: true })).status).toBe(403);
    expect((await take(teun, { inOrder: false })).body.issues[0]).toMatchObject({ path: 'note' });
    const taken = (await take(teun, { inOrder: false, note: 'The dew shield is cracked.' })).body as HandoverRecord;
    expect([taken.member, taken.takenInOrder, taken.givenAt]).toEqual(['Teun Achterberg', false, null]);
    const log = (await ines.get(`${api.logbook.path}?rig=${rig.id}&find=cracked`)).body as LogRecord[];
    expect(log.map((l) => [l.problem, l.by])).toEqual([['The dew shield is cracked.', 'Teun Achterberg']]);
    expect((await take(teun, { inOrder: true })).body.code).toBe('already_done');
    expect((await mirela.put(fill(api.handBack.path, rig.id), { inOrder: true })).status).toBe(403);
    expect((await take(mirela, { inOrder: true })).status).toBe(200);
    const back = await mirela.put(fill(api.handBack.path, rig.id), { inOrder: true, note: 'all caps on' });
    expect(back.body).toMatchObject({ member: 'Mirela Costin', givenInOrder: true, givenNote: 'all caps on' });
    expect((await mirela.put(fill(api.handBack.path, rig.id), { inOrder: true })).status).toBe(404);
    const of = ((await ines.get(api.handovers.path)).body as HandoverRecord[]).filter((h) => h.rigId === rig.id);
    expect(of.map((h) => [h.member, h.givenInOrder, h.givenAt !== null])).toEqual([
      [back.body.member, true, true],
      ['Teun Achterberg', null, true],
    ]);
  });

  test('of two who take it over at the same moment both have had it, and one has it', async () => {
    const rig = await rigNamed();
    const both = await Promise.all(
      [teun, mirela].map((p) => p.post(fill(api.takeOver.path, rig.id), { inOrder: true })),
    );
    expect(both.map((r) => r.status)).toEqual([200, 200]);
    const of = ((await ines.get(api.handovers.path)).body as HandoverRecord[]).filter((h) => h.rigId === rig.id);
    expect(of.filter((h) => h.givenAt === null)).toHaveLength(1);
  });
});

test('the drawer is counted; what was found is told beside what it says, and taken over unless somebody said otherwise since', async () => {
  const parts = ((await odalys.get(api.parts.path)).body as PartRecord[]).filter((p) => p.ownerId === null);
  const [one, two, three] = parts;
  const found = [
    { partId: one!.id, count: one!.count + 2 },
    { partId: two!.id, count: 0 },
    { partId: three!.id, count: three!.count },
  ];
  expect((await ines.post(api.keepCount.path, { found })).status).toBe(403);
  const twice = await teun.post(api.keepCount.path, {
    found: [found[0], found[0], { ...found[1], partId: one!.ownerId ?? crypto.randomUUID() }],
  });
  expect((twice.body.issues as { path: string }[]).map((i) => i.path)).toEqual(['found.1.partId', 'found.2.partId']);
  const kept = (await teun.post(api.keepCount.path, { found, note: 'after the open evening' })).body as CountRecord;
  expect(kept.rows.map((r) => [r.expected, r.found])).toEqual([
    [one!.count, one!.count + 2],
    [two!.count, 0],
    [three!.count, three!.count],
  ]);
  const { id, ownerId: _o, owner: _w, usedIn: _u, updatedAt: _a, updatedBy: _b, ...part } = two!;
  await odalys.put(fill(api.changePart.path, id), { ...part, count: 7, ownedByClub: true });
  expect((await teun.put(fill(api.adoptCount.path, kept.id), {})).status).toBe(403);
  expect((await odalys.put(fill(api.adoptCount.path, kept.id), {})).body.adopted).toBe(true);
  const now = new Map(((await odalys.get(api.parts.path)).body as PartRecord[]).map((p) => [p.id, p.count]));
  expect([now.get(one!.id), now.get(two!.id), now.get(three!.id)]).toEqual([one!.count + 2, 7, three!.count]);
  expect(((await ines.get(api.counts.path)).body as CountRecord[])[0]).toMatchObject({ id: kept.id, adopted: true });
});
