import { describe, expect, test } from '@jest/globals';
import {
  api,
  type OffsetSetRecord,
  type PlanRecord,
  type ProjectRecord,
  type RevisionInfo,
  type RigRecord,
  type RunRecord,
} from '@keen/contract';
import { every, fill, somethingToPlan, type Person, testServer, rehearsed } from '../test/harness.ts';

const { odalys, teun } = testServer(['odalys', 'teun']);

const NIGHT = '2027-01-12';
const project = async (p: Person, id: string) =>
  ((await p.get(api.projects.path)).body as ProjectRecord[]).find((q) => q.id === id)!;
const inAll = (p: ProjectRecord) => p.done.reduce((s, n) => s + n, 0);
const sum = (r: Record<string, number>) => Object.values(r).reduce((s, n) => s + n, 0);

describe('from plan to progress', () => {
  test('plan, rehearse, accept: frames are counted once, focus runs are kept, the next plan asks for what is missing', async () => {
    const { plan, project: chosen, rig } = await somethingToPlan(odalys, NIGHT);
    const before = await project(odalys, chosen.id);
    const made = (await odalys.post(api.addPlan.path, plan(18, 23))).body as PlanRecord;
    const run = (await rehearsed(odalys, made.id, 5)).body as RunRecord;
    expect(run.result.frames.length).toBeGreaterThan(5);
    expect(await project(odalys, chosen.id)).toEqual(before);

    const again = (await rehearsed(odalys, made.id, 5)).body as RunRecord;
    expect(again.result).toEqual(run.result);

    const focusBefore = (await every(odalys, `${api.focusRuns.path}?trainStateId=${rig.systems[0]!.trainStateId}`))
      .length;
    const answers = await Promise.all([run, again, run].map((r) => odalys.post(fill(api.acceptRun.path, r.id))));
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409]);
    const after = await project(odalys, chosen.id);
    expect(inAll(after) - inAll(before)).toBe(sum(run.result.accepted));
    const focusAfter = (await every(odalys, `${api.focusRuns.path}?trainStateId=${rig.systems[0]!.trainStateId}`))
      .length;
    expect(focusAfter - focusBefore).toBe(run.result.focusRuns.length);

    // a lagging plan begins with the filter farthest behind
    const next = (
      await odalys.post(api.addPlan.path, {
        ...plan(24 + 18, 24 + 20),
        night: '2027-01-13',
      })
    ).body as PlanRecord;
    const second = (await rehearsed(odalys, next.id, 9)).body as RunRecord;
    const share = (f: string) => {
      const i = chosen.goals.findIndex((g) => g.filter === f);
      return after.done[i]! / chosen.goals[i]!.quota;
    };
    const lowest = Math.min(...chosen.goals.map((g) => share(g.filter)));
    expect(share(second.result.frames[0]!.filter)).toBeCloseTo(lowest, 9);
    expect((await rehearsed(odalys, made.id, 6)).body.code).toBe('already_done');
  });

  test('offsets hold while what decides them does: a turned camera keeps them, a spacer does not, and back they are', async () => {
    const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
    const rig = rigs.find((r) => r.name === '200 mm astrograph')!;
    const sets = (r: RigRecord) =>
      odalys
        .get(`${api.offsetSets.path}?trainStateId=${r.systems[0]!.trainStateId}`)
        .then((got) => got.body as OffsetSetRecord[]);
    const held = await sets(rig);
    expect(held.length).toBeGreaterThan(0);
    const revise = async (from: RigRecord, change: (s: RigRecord['setup']['systems'][number]) => void) => {
      const setup = structuredClone(rig.setup);
      change(setup.systems[0]!);
      const body = { name: rig.name, siteId: rig.siteId, setup, version: from.version };
      return (await odalys.post(fill(api.reviseRig.path, rig.id), body)).body as RigRecord;
    };
    const turned = await revise(rig, (s) => (s.camera.angleDeg += 30));
    expect(turned.systems[0]!.words).not.toBe(rig.systems[0]!.words);
    expect(await sets(turned)).toEqual(held);
    const longer = await revise(turned, (s) => s.train.splice(1, 0, { name: 'ring', lengthMm: 1 }));
    expect(await sets(longer)).toEqual([]);
    const back = await revise(longer, () => undefined);
    expect(back.systems[0]!.words).toBe(rig.systems[0]!.words);
    expect(await sets(back)).toEqual(held);
    const history = (await odalys.get(fill(api.revisions.path, rig.id))).body as RevisionInfo[];
    expect(history.slice(0, 3).map((h) => h.number)).toEqual([rig.revision + 3, rig.revision + 2, rig.revision + 1]);
    expect(history[2]!.changes.map((c) => c.code)).toEqual(['rig.camera-turned', 'redo.flats', 'redo.framing']);
    expect(history[1]!.changes.map((c) => c.code)).toContain('redo.focus');
  });
});

describe('two at once', () => {
  test('of two people saving one version, one wins and the other is shown both sides', async () => {
    const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '250 mm Newtonian')!;
    const body = (note: string) => ({
      name: rig.name,
      siteId: rig.siteId,
      setup: { ...rig.setup, note },
      version: rig.version,
    });
    const path = fill(api.reviseRig.path, rig.id);
    const answers = await Promise.all([odalys.post(path, body('from Odalys')), teun.post(path, body('from Teun'))]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    const lost = answers.find((a) => a.status === 409)!;
    const won = answers.find((a) => a.status === 200)!;
    expect(lost.body.code).toBe('stale');
    expect(lost.body.current).toMatchObject({ version: rig.version + 1, setup: { note: won.body.setup.note } });
    expect(lost.body.detail).toMatch(/Odalys Brandt|Teun Achterberg/);
  });
  test('of eight overlapping plans of one moment exactly one is saved', async () => {
    const { plan } = await somethingToPlan(odalys, '2027-02-02');
    const answers = await Promise.all(
      [18, 18.5, 19, 19.5, 20, 20.5, 21, 21.5].map((h) => odalys.post(api.addPlan.path, plan(h, 22))),
    );
    const codes = answers.map((a) => (a.status === 200 ? 'saved' : (a.body.code as string)));
    expect(codes.filter((c) => c === 'saved')).toHaveLength(1);
    expect(codes.filter((c) => c === 'night_overlap')).toHaveLength(7);
    const refused = answers.find((a) => a.status === 409)!;
    expect(refused.body.detail).toContain('Odalys Brandt');
    // end to start is no overlap
    const held = answers.find((a) => a.status === 200)!.body as PlanRecord;
    expect((await odalys.post(api.addPlan.path, plan(22, 23))).status).toBe(200);
    expect((await odalys.del(fill(api.cancelPlan.path, held.id))).status).toBe(200);
    expect((await odalys.post(api.addPlan.path, plan(18, 19))).status).toBe(200);
  });
});

describe('what is not right is refused with its place', () => {
  test('a plan in another night, ending before it starts, or for a filter that is not there', async () => {
    const { plan } = await somethingToPlan(odalys, '2027-02-10');
    const wrongNight = await odalys.post(api.addPlan.path, { ...plan(18, 20), night: '2027-02-11' });
    expect([wrongNight.status, wrongNight.body.issues[0].path]).toEqual([400, 'legs']);
    expect((await odalys.post(api.addPlan.path, plan(20, 18))).body.issues[0]).toMatchObject({
      path: 'legs.0.until',
      message: 'The leg would end before it begins.',
    });
    const twice = plan(18, 20);
    const { settings } = twice.legs[0]!;
    settings.filters = [settings.filters[0]!, settings.filters[0]!];
    expect((await odalys.post(api.addPlan.path, twice)).body.issues[0].message).toContain('twice');
    const foreign = plan(18, 20);
    foreign.legs[0]!.settings.filters[0]!.name = 'infrared';
    const saved = (await odalys.post(api.addPlan.path, foreign)).body as PlanRecord;
    const run = await rehearsed(odalys, saved.id, 1);
    expect([run.status, run.body.detail]).toEqual([400, expect.stringContaining('infrared')]);
  });
  test('a locked plan is closed to its member and open to a steward', async () => {
    const { plan } = await somethingToPlan(teun, '2027-02-20');
    const mine = (await teun.post(api.addPlan.path, plan(18, 20))).body as PlanRecord;
    const locked = (
      await odalys.put(fill(api.changePlan.path, mine.id), { ...plan(18, 20, { locked: true }), version: mine.version })
    ).body as PlanRecord;
    expect(locked.locked).toBe(true);
    const again = await teun.put(fill(api.changePlan.path, mine.id), { ...plan(18, 21), version: locked.version });
    expect([again.status, again.body.code]).toEqual([403, 'not_allowed']);
  });
  test('a part in use does not vanish; a loose one does, and comes back', async () => {
    const parts = (await odalys.get(api.parts.path)).body as { id: string; name: string; usedIn: string[] }[];
    const used = parts.find((p) => p.usedIn.length > 0)!;
    const loose = parts.find((p) => p.usedIn.length === 0)!;
    expect((await odalys.del(fill(api.archivePart.path, used.id))).body).toMatchObject({
      code: 'in_use',
      detail: expect.stringContaining(used.usedIn[0]!),
    });
    expect((await odalys.del(fill(api.archivePart.path, loose.id))).status).toBe(200);
    expect((await odalys.post(fill(api.restorePart.path, loose.id))).status).toBe(200);
  });
  test('the same focus runs sent twice are known, not doubled', async () => {
    const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
    const run = {
      filter: 'L',
      position: 8123,
      hfd: 2.4,
      error: null,
      temperatureC: 3.5,
      time: '2026-11-20T19:00:00.000Z',
      points: [],
      usable: true,
      reason: '',
    };
    const body = {
      trainStateId: rig.systems[0]!.trainStateId,
      source: 'file',
      runs: [run, { ...run, position: 8130, time: '2026-11-20T20:00:00.000Z' }],
    };
    expect((await odalys.post(api.addFocusRuns.path, body)).body).toEqual({ added: 2, known: 0 });
    expect((await odalys.post(api.addFocusRuns.path, body)).body).toEqual({ added: 0, known: 2 });
  });
  test('who changed what is written down', async () => {
    const changes = (await odalys.get(api.changes.path)).body as { by: string; subject: string; text: string }[];
    expect(changes.some((c) => c.by === 'Teun Achterberg' || c.by === 'Odalys Brandt')).toBe(true);
    expect(changes.some((c) => c.text.includes('accepted'))).toBe(true);
  });
});
