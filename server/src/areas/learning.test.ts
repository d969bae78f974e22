import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  api,
  type CablesRecord,
  type DrillStanding,
  type LogRecord,
  type RigRecord,
  type WeakSpot,
} from '@keen/contract';
import { SITUATIONS } from '@keen/core/drills';
import { fill, type Person, testServer } from '../test/harness.ts';

const { server, odalys, teun, mirela, ines } = testServer(['odalys', 'teun', 'mirela', 'ines']);
let rigs: RigRecord[];
beforeAll(async () => {
  rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
}, 60_000);

describe('drills', () => {
  const { cause, cure, otherCauses } = SITUATIONS['slow-wave'];
  const answer = (by: Person, seed: number, more: object = {}) =>
    by.post(api.answerDrill.path, { situation: 'slow-wave', seed, cause, cure, ...more });
  beforeAll(() => server.db.query('DELETE FROM drill_answers'));
  test('are judged here, kept for oneself, and the first answer to a drill stands', async () => {
    const right = await answer(teun!, 1);
    expect(right.body).toMatchObject({
      causeRight: true,
      cureRight: true,
      standing: { situation: 'slow-wave', tries: 1, latest: [true] },
    });
    const wrong = await answer(teun!, 2, { cause: otherCauses[0] });
    expect(wrong.body).toMatchObject({
      causeRight: false,
      cureRight: true,
      standing: { tries: 2, causeRight: 1, cureRight: 2, latest: [false, true] },
    });
    // the same one again, knowing the answer now: also from two browsers at once
    const again = await Promise.all([answer(teun!, 2), answer(teun!, 2)]);
    for (const a of again) expect(a.body.standing).toMatchObject({ tries: 2, causeRight: 1, latest: [false, true] });
    expect((await teun.get(api.drills.path)).body).toHaveLength(1);
    expect((await mirela.get(api.drills.path)).body as DrillStanding[]).toEqual([]);
  });
  test('show the steward what the club misses, and nobody else', async () => {
    await answer(mirela!, 1, { cause: otherCauses[1], cure: SITUATIONS['slow-wave'].otherCures[0] });
    await mirela.post(api.answerDrill.path, {
      situation: 'saw-teeth',
      seed: 4,
      cause: 'over-correction',
      cure: 'correct-less',
    });
    const spots = (await odalys.get(api.weakSpots.path)).body as WeakSpot[];
    expect(spots).toEqual([
      { situation: 'slow-wave', people: 2, tries: 3, causeRight: 1, cureRight: 2 },
      { situation: 'saw-teeth', people: 1, tries: 1, causeRight: 1, cureRight: 1 },
    ]);
    expect((await teun.get(api.weakSpots.path)).status).toBe(403);
  });
  test('answers of years are bounded, the oldest go first', async () => {
    await server.db.query(
      `INSERT INTO drill_answers (id, member_id, situation, seed, cause, cure, cause_right, cure_right, at)
       SELECT UUID(), m.id, 'a-bright-line', s.seq, 'satellite', 'keep-frame', 1, 1, '2020-01-01' + INTERVAL s.seq SECOND
       FROM members m, seq_1_to_5200 s WHERE m.sign_in = 'teun'`,
    );
    await answer(teun!, 77);
    const [row] = await server.store.read<{ n: string; oldest: number }>(
      "SELECT COUNT(*) AS n, MIN(seed) AS oldest FROM drill_answers a JOIN members m ON m.id = a.member_id WHERE m.sign_in = 'teun'",
      [],
    );
    expect(Number(row!.n)).toBeLessThanOrEqual(5002);
    expect(
      (await teun.get(api.drills.path)).body.find((s: DrillStanding) => s.situation === 'slow-wave').latest[0],
    ).toBe(true);
    await server.db.query("DELETE FROM drill_answers WHERE situation = 'a-bright-line'");
  });
  test('a guest has no record to keep; what is no drill is refused by name', async () => {
    expect((await answer(ines!, 1)).status).toBe(403);
    for (const more of [{ situation: 'tea' }, { cause: 'gremlins' }, { seed: -1 }, { seed: 2 ** 40 }, { seed: 1.5 }]) {
      const refused = await answer(teun!, 9, more);
      expect([more, refused.status]).toEqual([more, 400]);
      expect(JSON.stringify(refused.body)).toContain(Object.keys(more)[0]);
    }
  });
});

describe('a rig’s cables', () => {
  test('are those such a rig usually has until somebody keeps their own; of two first saves one is told', async () => {
    const path = fill(api.cables.path, rigs[0]!.id);
    const usual = (await ines.get(path)).body as CablesRecord;
    expect(usual).toMatchObject({ kept: false, version: 0 });
    expect(usual.sheet.devices.map((d) => d.key)).toContain('camera');
    const sheet = { ...usual.sheet, airC: -12 };
    const both = await Promise.all([
      teun.put(path, { sheet, version: 0 }),
      mirela.put(path, { sheet: { ...sheet, airC: 5 }, version: 0 }),
    ]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 409]);
    const now = (await ines.get(path)).body as CablesRecord;
    expect(now).toMatchObject({ kept: true, version: 1, sheet: { airC: both[0]!.status === 200 ? -12 : 5 } });
    expect((await ines.put(path, { sheet, version: 1 })).status).toBe(403);
    const circle = {
      ...sheet,
      hubs: [
        { ...sheet.hubs[0]!, key: 'a', at: 'b' },
        { ...sheet.hubs[0]!, key: 'b', at: 'a' },
      ],
    };
    const refused = await teun.put(path, { sheet: circle, version: 1 });
    expect([refused.status, JSON.stringify(refused.body).includes('circle')]).toEqual([400, true]);
  });
});

describe('the logbook', () => {
  const entry = (more: object = {}) => ({
    rigId: rigs[0]!.id,
    problem: 'Shadow at the right edge',
    cause: 'prism too deep',
    cure: 'drawn out by 1.4 mm',
    finding: 'prism-shadow',
    aspect: 'flats',
    night: '2026-11-18',
    ...more,
  });
  beforeAll(() => server.db.query('DELETE FROM log_entries'));
  const list = async (query: object = {}) => (await ines.get(api.logbook.path).query(query)).body as LogRecord[];
  test('an entry is written, found by its words, changed by its writer or a steward, and put away with a way back', async () => {
    const written = (await teun.post(api.addLog.path, entry())).body as LogRecord;
    expect(written).toMatchObject({
      by: expect.stringMatching(/^Teun/),
      rig: rigs[0]!.name,
      version: 1,
      aspect: 'flats',
    });
    await teun.post(
      api.addLog.path,
      entry({
        problem: '100% humid, cable_tie snapped',
        cause: '',
        cure: '',
        finding: '',
        aspect: null,
        night: null,
        rigId: rigs[1]!.id,
      }),
    );
    const found = async (find: string) => (await list({ find })).map((l) => l.problem.slice(0, 6));
    expect(await found('prism DRAWN')).toEqual(['Shadow']);
    expect(await found('prism snapped')).toEqual([]);
    for (const word of ['″', '日本', '★', 'prism 0.8″']) expect([word, await found(word)]).toEqual([word, []]);
    expect(await found('édge')).toEqual(['Shadow']);
    // signs that mean something to the database mean themselves
    expect([await found('100%'), await found('cable_tie'), await found('1_0'), await found('%')]).toEqual([
      ['100% h'],
      ['100% h'],
      [],
      ['100% h'],
    ]);
    expect((await list({ rig: rigs[1]!.id })).map((l) => l.rig)).toEqual([rigs[1]!.name]);
    const change = (by: Person, version: number) =>
      by.put(fill(api.changeLog.path, written.id), { ...entry({ cure: 'drawn out by 1.6 mm' }), version });
    expect((await change(mirela!, 1)).status).toBe(403);
    expect((await change(odalys!, 1)).body).toMatchObject({
      version: 2,
      cure: 'drawn out by 1.6 mm',
      updatedBy: expect.stringMatching(/^Odalys/),
    });
    const stale = await change(teun!, 1);
    expect([stale.status, stale.body.current.cure]).toEqual([409, 'drawn out by 1.6 mm']);
    expect((await teun.del(fill(api.dropLog.path, written.id))).status).toBe(200);
    expect(await list()).toHaveLength(1);
    expect((await teun.post(fill(api.restoreLog.path, written.id), {})).status).toBe(200);
    expect(await list()).toHaveLength(2);
  });
  test('an empty problem, another club’s rig, a finding that is none are refused', async () => {
    expect((await teun.post(api.addLog.path, entry({ problem: '  ' }))).status).toBe(400);
    expect((await teun.post(api.addLog.path, entry({ rigId: crypto.randomUUID() }))).status).toBe(404);
    expect((await teun.post(api.addLog.path, entry({ finding: 'A finding!' }))).status).toBe(400);
    expect((await teun.post(api.addLog.path, entry({ problem: 'x'.repeat(2001) }))).status).toBe(400);
    expect((await ines.post(api.addLog.path, entry())).status).toBe(403);
  });
});
