import { expect, test } from '@jest/globals';
import { api, type Board, type JobRecord, type ProjectRecord, type RigRecord } from '@keen/contract';
import { wantedMinutes } from '@keen/core/record';
import { begin, ended, every, fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';

const { server, odalys, teun } = testServer(['odalys', 'teun']);
const rigsOf = async (p: Person) => (await p.get(api.rigs.path)).body as RigRecord[];
const FROM = '2027-01-08';
const question = async (more: object = {}) => ({
  from: FROM,
  nights: 3,
  rigIds: (await rigsOf(odalys)).map((r) => r.id),
  ...more,
});
async function boardOf(p: Person, sent: object): Promise<Board> {
  const asked = await p.post(api.workOutBoard.path, sent);
  expect([asked.status, (asked.body as JobRecord).kind]).toEqual([200, 'board']);
  const done = await ended(p, (asked.body as JobRecord).id);
  if (done.result?.kind !== 'board') throw new Error(JSON.stringify(done));
  return done.result.board;
}

test('the coming nights are given out: nobody above need, every hour once, by height and Moon, and each is told why', async () => {
  const board = await boardOf(teun, await question());
  const projects = await every<ProjectRecord>(teun, api.projects.path);
  const given = board.slots.filter((s) => s.projectId);
  expect(given.length).toBeGreaterThan(10);
  expect(new Set(board.slots.map((s) => s.id)).size).toBe(board.slots.length);
  for (const b of board.projects) {
    const p = projects.find((x) => x.id === b.projectId)!;
    const own = given.filter((s) => s.projectId === p.id);
    expect(b.wantedMinutes).toBeCloseTo(wantedMinutes(p), 6);
    expect(b.minutes).toBeCloseTo(
      own.reduce((s, x) => s + x.minutes, 0),
      6,
    );
    expect(b.minutes).toBeLessThanOrEqual(b.wantedMinutes + 1e-6);
    for (const s of own) {
      expect(s.rigId).toBe(p.rigId);
      expect(b.eligible.some((e) => e.slot === s.id)).toBe(true);
    }
    expect(b.why.code).toMatch(/^season\.why-/);
    // a sentence names objects and people, not ids
    expect(JSON.stringify(b.why.values)).not.toMatch(/[0-9a-f]{8}-/);
  }
  expect(board.bound).toBeGreaterThanOrEqual(board.objective - 1e-6);
  expect(board.objective).toBeGreaterThanOrEqual(board.greedyObjective - 1e-6);
  expect(new Set(board.members.map((m) => m.memberId)).size).toBeGreaterThan(1);
  for (const m of board.members) expect(m.most).not.toBeNull();
}, 60_000);

test('a wish is kept and costs what it costs; a weight of nothing leaves out; what is planned already is not given again', async () => {
  const free = await boardOf(odalys, await question({ fairDays: null }));
  const contested = free.slots.find(
    (s) =>
      s.projectId && free.projects.some((p) => p.projectId !== s.projectId && p.eligible.some((e) => e.slot === s.id)),
  )!;
  const other = free.projects.find(
    (p) => p.projectId !== contested.projectId && p.eligible.some((e) => e.slot === contested.id),
  )!;
  const wished = await boardOf(
    odalys,
    await question({ fairDays: null, locked: [{ slot: contested.id, project: other.projectId }] }),
  );
  expect(wished.slots.find((s) => s.id === contested.id)!.projectId).toBe(other.projectId);
  expect(wished.objective).toBeLessThanOrEqual(free.bound + 1e-6);
  const without = await boardOf(odalys, await question({ weights: { [other.projectId]: 0 } }));
  expect(without.projects.map((p) => p.projectId)).not.toContain(other.projectId);

  const { plan, rig } = await somethingToPlan(odalys, FROM);
  const saved = await odalys.post(api.addPlan.path, plan(18, 23));
  expect(saved.status).toBe(200);
  const after = await boardOf(odalys, await question());
  const there = after.slots.filter((s) => s.rigId === rig.id && s.night === FROM);
  for (const s of there) expect(s.end <= `${FROM}T18:00` || s.start >= `${FROM}T23:00`).toBe(true);
  expect(there.length).toBeLessThan(free.slots.filter((s) => s.rigId === rig.id && s.night === FROM).length);
  // one that is cancelled gives its hours back
  expect((await odalys.del(fill(api.cancelPlan.path, (saved.body as { id: string }).id))).status).toBe(200);
  const again = await boardOf(odalys, await question());
  expect(again.slots.filter((s) => s.rigId === rig.id && s.night === FROM).length).toBe(
    free.slots.filter((s) => s.rigId === rig.id && s.night === FROM).length,
  );
}, 120_000);

test('refuses rigs that are not one’s own or twice, nights by the hundred, and locks that name nothing', async () => {
  const stranger = await begin(server.app, 'elsewhere', 'another club for the board');
  const sent = await question();
  expect((await stranger.post(api.workOutBoard.path, sent)).body).toMatchObject({
    code: 'invalid_input',
    issues: sent.rigIds.map((_, i) => ({ path: `rigIds.${i}` })),
  });
  for (const [more, path] of [
    [{ rigIds: [sent.rigIds[0], sent.rigIds[0]] }, 'rigIds'],
    [{ nights: 61 }, 'nights'],
    [{ from: '2027-02-30' }, 'from'],
    [{ slotMinutes: 5 }, 'slotMinutes'],
    [{ clearFraction: 0 }, 'clearFraction'],
    [{ weights: { [sent.rigIds[0]!]: -1 } }, `weights.${sent.rigIds[0]}`],
  ] as const) {
    const got = await odalys.post(api.workOutBoard.path, { ...sent, ...more });
    expect([got.status, got.body.issues?.[0]?.path]).toEqual([400, path]);
  }
  const project = (await every<ProjectRecord>(odalys, api.projects.path))[0]!;
  const asked = await odalys.post(api.workOutBoard.path, {
    ...sent,
    locked: [{ slot: '2026-01-01 nowhere 0', project: project.id }],
  });
  const done = await ended(odalys, (asked.body as JobRecord).id);
  expect([done.state, done.problem?.issues?.[0]]).toEqual([
    'failed',
    { path: 'locked.0.slot', message: expect.stringContaining('Work the board out anew') },
  ]);
}, 60_000);

/** What may be changed of a project. */
const fieldsOf = ({
  owner: _o,
  ownerId: _w,
  framing: _f,
  panels: _p,
  byPanel: _b,
  done: _d,
  nights: _n,
  updatedAt: _a,
  updatedBy: _u,
  id: _i,
  ...fields
}: ProjectRecord) => fields;

test('a deadline, certain hours and an owner’s own priority: what a project may have, and what it weighs', async () => {
  const { id: rigId } = (await rigsOf(odalys))[0]!;
  const asked = await question({ fairDays: null, switchPenalty: 0, rigIds: [rigId] });
  const before = await boardOf(odalys, asked);
  const [one, two] = before.projects.filter((p) => p.eligible.length > 5);
  const projects = await every<ProjectRecord>(odalys, api.projects.path);
  const change = async (id: string, season: object) => {
    const p = projects.find((x) => x.id === id)!;
    const got = await odalys.put(fill(api.changeProject.path, id), { ...fieldsOf(p), season });
    expect(got.status).toBe(200);
    Object.assign(p, got.body);
  };
  const slots = new Map(before.slots.map((s) => [s.id, s]));
  const nightsOf = (of: Board, id: string) =>
    of.projects.find((p) => p.projectId === id)?.eligible.map((e) => of.slots.find((s) => s.id === e.slot)!) ?? [];
  await change(one!.projectId, { deadline: FROM, priority: 4 });
  const spell = slots.get(two!.eligible[2]!.slot)!;
  await change(two!.projectId, { spells: [{ start: spell.start, end: spell.end }] });
  const after = await boardOf(odalys, asked);
  expect(new Set(nightsOf(after, one!.projectId).map((s) => s.night))).toEqual(new Set([FROM]));
  expect(nightsOf(after, two!.projectId).map((s) => s.id)).toEqual([spell.id]);
  // of one owner’s projects the mean stays one: what one has more the others have less
  const owner = after.projects.find((p) => p.projectId === one!.projectId)!.memberId;
  const open = projects.filter((p) => p.ownerId === owner && p.rigId === rigId && !p.archived && wantedMinutes(p) > 0);
  const weights = open.map((p) => after.projects.find((x) => x.projectId === p.id)?.weight ?? 0);
  expect(weights.reduce((a, b) => a + b, 0)).toBeCloseTo(open.length, 6);
  if (open.length > 1) expect(Math.max(...weights)).toBeGreaterThan(1);
  const wrong = { deadline: '2027-02-30', priority: 40, spells: [{ start: spell.end, end: spell.start }] };
  const p = projects.find((x) => x.id === one!.projectId)!;
  const refused = await odalys.put(fill(api.changeProject.path, p.id), { ...fieldsOf(p), season: wrong });
  expect((refused.body.issues as { path: string }[]).map((i) => i.path).sort()).toEqual([
    'season.deadline',
    'season.priority',
    'season.spells.0.end',
  ]);
}, 60_000);

test('shares follow the club’s rule where nothing else is asked: days, and what a clouded hour counts', async () => {
  const { id: rigId } = (await rigsOf(odalys))[0]!;
  const asked = await question({ switchPenalty: 0, rigIds: [rigId] });
  const rule = (rules: object) => odalys.put(api.changeSeasonRules.path, rules);
  expect((await rule({ fairDays: 200, cloudShare: 0 })).status).toBe(200);
  const fair = await boardOf(odalys, asked);
  expect(fair.settings.fairDays).toBe(200);
  expect(fair.members.every((m) => m.most !== null)).toBe(true);
  await rule({ fairDays: null, cloudShare: 0 });
  const open = await boardOf(odalys, asked);
  expect([open.settings.fairDays, open.members.every((m) => m.most === null)]).toEqual([null, true]);
  // asked otherwise it is so, whatever the rule
  expect((await boardOf(odalys, { ...asked, fairDays: 30 })).settings.fairDays).toBe(30);
}, 60_000);

test('nights on which their owner is away are given to none of their projects', async () => {
  const asked = await question({ fairDays: null, switchPenalty: 0 });
  const before = await boardOf(odalys, asked);
  const nightsOf = (of: Board, member: string) =>
    new Set(
      of.projects.filter((p) => p.memberId === member).flatMap((p) => p.eligible.map((e) => e.slot.slice(0, 10))),
    );
  const projects = await every<ProjectRecord>(odalys, api.projects.path);
  const id = projects.find((p) => p.owner === 'Teun Achterberg')!.ownerId;
  expect(nightsOf(before, id).has(FROM)).toBe(true);
  await teun.put(api.keepAbsences.path, { absences: [{ from: '2027-01-01', until: FROM, title: '' }] });
  const after = await boardOf(odalys, asked);
  expect(nightsOf(after, id)).toEqual(new Set([...nightsOf(before, id)].filter((n) => n > FROM)));
  const other = before.projects.find((p) => p.memberId !== id)!.memberId;
  expect(nightsOf(after, other)).toEqual(nightsOf(before, other));
  await teun.put(api.keepAbsences.path, { absences: [] });
}, 60_000);
