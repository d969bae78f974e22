import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  api,
  type CalibrationGroup,
  type CalibrationNeeds,
  type FrameFields,
  type FrameRecord,
  type MasterRecord,
  type NightFigures,
  type NightRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type RunRecord,
} from '@keen/contract';
import { frameLook, measurePicture } from '@keen/core/frames';
import { fill, somethingToPlan, type Person, testServer, rehearsed } from '../../test/harness.ts';

const { server, odalys, teun, mirela } = testServer(['odalys', 'teun', 'mirela']);
let rig: RigRecord;
let project: ProjectRecord;
beforeAll(async () => {
  rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;
  project = ((await odalys.get(api.projects.path)).body as ProjectRecord[]).find((p) => p.object === 'NGC 281')!;
}, 60_000);

const light = (n: number, more: Partial<FrameFields> = {}): FrameFields => ({
  kind: 'light',
  projectId: project.id,
  filter: 'Ha',
  exposureS: 300,
  startedAt: `2026-11-10T20:${String(n % 60).padStart(2, '0')}:00.000Z`,
  file: `ha-${n}.fits`,
  hash: n.toString(16).padStart(64, '0'),
  header: { gain: 100 },
  accepted: true,
  reason: '',
  refusal: null,
  ...more,
});
const bring = async (p: Person, frames: FrameFields[], night = '2026-11-10') => {
  const got = await p.post(fill(api.recordNight.path, rig.id), { system: 'main', night, name: 'the folder', frames });
  return got.body as { night: NightRecord | null; added: number; known: number };
};
const refusal = async (p: Person, frames: FrameFields[]) =>
  ((await bring(p, frames)) as unknown as { issues?: { path: string; message: string }[] }).issues?.[0];
const now = async () =>
  ((await odalys.get(api.projects.path)).body as ProjectRecord[]).find((p) => p.id === project.id)!;
const done = async () => {
  const p = await now();
  return p.done[p.goals.findIndex((g) => g.filter === 'Ha')]!;
};

describe('a night taken elsewhere', () => {
  test('moves the project by filter and exposure; the same files again count once; undone they count for nothing', async () => {
    const before = await done();
    const frames = [1, 2, 3, 4].map((n) => light(n));
    const first = await bring(teun, [
      ...frames,
      light(5, { exposureS: 60 }),
      light(6, { accepted: false, reason: 'cloud' }),
      light(7, { projectId: null }),
    ]);
    expect([first.added, first.known]).toEqual([7, 0]);
    expect(await done()).toBe(before + 4);
    expect(await bring(odalys, [...frames, light(8)])).toMatchObject({ added: 1, known: 4 });
    expect(await done()).toBe(before + 5);
    expect(await bring(teun, frames)).toEqual({ night: null, added: 0, known: 4 });

    const undo = fill(api.undoNight.path, first.night!.id);
    expect((await mirela.del(undo)).status).toBe(403);
    expect((await teun.del(undo)).status).toBe(200);
    expect(await done()).toBe(before + 1);
    expect((await teun.del(undo)).body.code).toBe('already_done');
    expect(await bring(teun, frames)).toMatchObject({ added: 4, known: 0 });
    expect(await done()).toBe(before + 5);
  });
  test('two lengths of one filter are two goals; what serves neither is kept beside them', async () => {
    const {
      id: _i,
      owner: _o,
      ownerId: _w,
      framing: _f,
      panels: _p,
      byPanel: _k,
      done: _d,
      nights: _n,
      updatedAt: _a,
      updatedBy: _b,
      archived,
      version,
      ...fields
    } = await now();
    const [ha] = fields.goals.filter((g) => g.filter === 'Ha');
    const twice = { ...fields, goals: [...fields.goals, { ...ha!, exposureS: 300.2 }], archived, version };
    const url = fill(api.changeProject.path, project.id);
    expect((await odalys.put(url, twice)).body).toMatchObject({
      code: 'invalid_input',
      issues: [
        { path: expect.stringMatching(/^goals\.\d+\.filter$/), message: expect.stringContaining('stands twice') },
      ],
    });
    const short = { filter: 'Ha', exposureS: 20, quota: 30 };
    const changed = (await odalys.put(url, { ...twice, goals: [...fields.goals, short] })).body as ProjectRecord;
    const at = changed.goals.findIndex((g) => g.exposureS === 20);
    const before = changed.done;
    await bring(
      teun,
      [901, 902, 903].map((n) => light(n, { exposureS: n === 903 ? 300 : 20 })),
    );
    await bring(teun, [light(904, { exposureS: 45 })]);
    const after = await now();
    expect(after.done.map((n, i) => n - before[i]!)).toEqual(
      after.goals.map((g, i) => (i === at ? 2 : g.filter === 'Ha' ? 1 : 0)),
    );
    expect(after.nights.filter((n) => n.exposureS === 45)).toEqual([
      expect.objectContaining({ counts: false, accepted: 1 }),
    ]);
  });
  test('the same folder brought in by two at once counts once', async () => {
    const before = await done();
    const frames = [21, 22, 23].map((n) => light(n));
    const answers = await Promise.all([bring(teun, frames), bring(teun, frames), bring(odalys, frames)]);
    expect(answers.map((a) => a.added).sort()).toEqual([0, 0, 3]);
    expect(await done()).toBe(before + 3);
  });
  test('frames count for projects of this rig only, for somebody else’s only if planned; a claimed file is not known to its owner', async () => {
    const projects = (await odalys.get(api.projects.path)).body as ProjectRecord[];
    const other = projects.find((p) => p.rigId !== rig.id)!;
    expect(await refusal(odalys, [light(31, { projectId: other.id })])).toEqual({
      path: 'frames.0.projectId',
      message: `${other.name} is taken with another rig`,
    });
    const typed = Array.from({ length: 200 }, () => light(0, { hash: null, file: '', startedAt: null }));
    expect((await refusal(mirela, typed))?.message).toContain('is a project of Teun Achterberg');
    expect(await bring(mirela, [light(32, { projectId: null })])).toMatchObject({ added: 1, known: 0 });
    expect(await bring(teun, [light(32)])).toMatchObject({ added: 1, known: 0 });
    const said = JSON.stringify((await odalys.get(`${api.changes.path}`)).body);
    expect(said).toContain(`1 frames, 1 for ${project.name}, 0 for calibration`);
    // whoever planned it for the night may
    const planned = ((await odalys.get(api.plans.path)).body as PlanRecord[]).find(
      (q) => q.rigId === rig.id && q.night < '2026-11-19',
    )!;
    await server.db.query(
      "UPDATE plans SET owner_id = (SELECT id FROM members WHERE sign_in = 'mirela') WHERE id = ?",
      { replacements: [planned.id] },
    );
    await server.db.query('INSERT IGNORE INTO plan_projects (plan_id, project_id) VALUES (?, ?)', {
      replacements: [planned.id, project.id],
    });
    expect(
      await bring(mirela, [light(34, { startedAt: `${planned.night}T20:34:00.000Z` })], planned.night),
    ).toMatchObject({ added: 1, known: 0 });
    expect((await refusal(mirela, [light(35)]))?.message).toContain('is a project of Teun Achterberg');
  });
  test('frames without a file, typed, count as often as they are said', async () => {
    const before = await done();
    await bring(
      teun,
      Array.from({ length: 12 }, () => light(0, { hash: null, file: '', startedAt: null })),
    );
    expect(await done()).toBe(before + 12);
  });
  test('each frame can be refused and taken again', async () => {
    const { night } = await bring(teun, [light(31), light(32)]);
    const before = await done();
    const frames = (await teun.get(fill(api.nightFrames.path, night!.id))).body as FrameRecord[];
    const judge = (accepted: boolean, reason = '') =>
      teun.put(fill(api.judgeFrames.path, night!.id), { frames: [frames[0]!.id], accepted, reason });
    expect(((await judge(false, 'trail')).body as FrameRecord[])[0]).toMatchObject({
      accepted: false,
      reason: 'trail',
    });
    expect(await done()).toBe(before - 1);
    await judge(true);
    expect(await done()).toBe(before);
    const nobody = '00000000-0000-4000-8000-000000000000';
    await teun.put(fill(api.judgeFrames.path, night!.id), { frames: [nobody], accepted: false });
    expect(await done()).toBe(before);
  });
  test('what was measured is kept with a small picture, and people’s words are held against their fellows', async () => {
    const { night } = await bring(
      teun,
      Array.from({ length: 6 }, (_, i) => light(60 + i)),
    );
    const frames = (await teun.get(fill(api.nightFrames.path, night!.id))).body as FrameRecord[];
    expect(frames.map((f) => [f.look, f.judged])).toEqual(frames.map(() => [null, false]));
    const measured = frameLook(
      measurePicture(readFileSync(join(import.meta.dirname, '../../../../examples/frames/round.fits'))),
    );
    const picture = 'data:image/png;base64,iVBORw0KGgo=';
    const looks = frames.map((f, i) => ({
      id: f.id,
      look: { ...measured, hfdPx: i === 5 ? 7 : measured.hfdPx },
      picture,
    }));
    const keep = (p: Person, body: object) => p.put(fill(api.keepLooks.path, night!.id), body);
    expect((await keep(teun, { looks })).body).toEqual({ kept: 6 });
    // again, and a frame that is not of this night: kept once, left out
    expect((await keep(teun, { looks: [...looks.slice(0, 1), { ...looks[0], id: night!.id }] })).body).toEqual({
      kept: 1,
    });
    const after = (await teun.get(fill(api.nightFrames.path, night!.id))).body as FrameRecord[];
    expect(after[5]!.look).toEqual({ ...measured, hfdPx: 7 });
    const pictures = (await teun.get(`${fill(api.framePictures.path, night!.id)}?from=2&count=3`)).body;
    expect(pictures).toEqual(frames.slice(2, 5).map((f) => ({ id: f.id, picture })));
    await teun.put(fill(api.judgeFrames.path, night!.id), { frames: [frames[5]!.id], accepted: false });
    await teun.put(fill(api.judgeFrames.path, night!.id), { frames: [frames[0]!.id], accepted: true });
    const words = (await teun.get(`${fill(api.judgements.path, rig.id)}?system=main`)).body as {
      accepted: boolean;
      wide: number;
    }[];
    expect(words.map((w) => [w.accepted, Math.round(100 * w.wide)])).toEqual([
      [true, 100],
      [false, Math.round(700 / measured.hfdPx!)],
    ]);
    expect((await keep(teun, { looks: [{ ...looks[0], picture: 'javascript:alert(1)' }] })).status).toBe(400);
    expect((await keep(teun, { looks: [{ ...looks[0], look: { ...measured, stars: 1e9 } }] })).status).toBe(400);
  });
  test('a light frame of another night is refused with its night; a dark of another day is none of that night’s business', async () => {
    const other = { startedAt: '2026-11-11T12:30:00.000Z' };
    // 13:30 at the site: the noon before that evening has passed
    const refused = await refusal(teun, [light(44), light(45, other)]);
    expect(refused).toMatchObject({
      path: 'frames.1.startedAt',
      message: 'lies in the night of 2026-11-11; bring it in with that one',
    });
    expect(await refusal(teun, [light(46, { startedAt: '9999-12-31T20:00:00.000Z' })])).toMatchObject({
      path: 'frames.0.startedAt',
    });
    const dark = light(47, { ...other, kind: 'dark', projectId: null, filter: '' });
    expect(await refusal(teun, [dark, light(48, other)])).toMatchObject({ path: 'frames.1.startedAt' });
  });
  test('a night to come, and a project that is not there, are refused with their place', async () => {
    const post = (body: object) => teun.post(fill(api.recordNight.path, rig.id), body);
    const body = { system: 'main', name: 'x', night: '2026-11-25', frames: [light(41)] };
    expect((await post(body)).body).toMatchObject({ code: 'invalid_input', issues: [{ path: 'night' }] });
    const foreign = light(42, { projectId: '00000000-0000-4000-8000-000000000000' });
    expect(
      (
        await post({
          ...body,
          night: '2026-11-11',
          frames: [light(43), foreign].map((f) => ({ ...f, startedAt: null })),
        })
      ).body.issues[0].path,
    ).toBe('frames.1.projectId');
  });
  test('darks and flats are on record; flats hold until what decides them changes', async () => {
    const flat = light(51, { kind: 'flat', projectId: null, filter: 'L', exposureS: 2 });
    const dark = light(52, { kind: 'dark', projectId: null, filter: '', header: { gain: 100, setPointC: -10 } });
    await bring(odalys, [flat, dark, light(53, { ...dark, hash: '5'.repeat(64) })]);
    const read = async () => (await odalys.get(fill(api.calibration.path, rig.id))).body as CalibrationGroup[];
    expect(await read()).toEqual([
      expect.objectContaining({ kind: 'flat', filter: 'L', frames: 1, holds: true }),
      expect.objectContaining({ kind: 'dark', filter: '', frames: 2, setPointC: -10, holds: true }),
    ]);
    const master = (more: object) =>
      odalys.post(fill(api.addMaster.path, rig.id), {
        system: 'main',
        kind: 'flat',
        filter: 'L',
        exposureS: 2,
        gain: 100,
        frames: 20,
        madeOn: '2026-11-11',
        ...more,
      });
    const flatMaster = (await master({})).body as MasterRecord;
    expect(flatMaster).toMatchObject({ holds: true, kind: 'flat', frames: 20, words: rig.systems[0]!.words });
    await master({ kind: 'dark', filter: '', exposureS: 300, setPointC: -10 });
    for (const wrong of [{ kind: 'light' }, { frames: 0 }, { madeOn: 'soon' }, { exposureS: -1 }])
      expect((await master(wrong)).status).toBe(400);
    expect((await teun.del(fill(api.dropMaster.path, flatMaster.id))).status).toBe(403);
    expect((await odalys.del(fill(api.dropMaster.path, flatMaster.id))).status).toBe(200);
    const masters = async () =>
      ((await mirela.get(fill(api.masters.path, rig.id))).body as MasterRecord[]).map((m) => [m.kind, m.holds]);
    expect(await masters()).toEqual([['dark', true]]);
    expect((await odalys.post(fill(api.restoreMaster.path, flatMaster.id), {})).status).toBe(200);
    const setup = structuredClone(rig.setup);
    setup.systems[0]!.camera.angleDeg += 5;
    const body = { name: rig.name, siteId: rig.siteId, setup, version: rig.version };
    expect((await odalys.post(fill(api.reviseRig.path, rig.id), body)).status).toBe(200);
    expect((await read()).map((g) => [g.kind, g.holds])).toEqual([
      ['flat', false],
      ['dark', true],
    ]);
    // both were put on record at the same instant of this test’s clock
    expect(new Map((await masters()) as [string, boolean][])).toEqual(
      new Map([
        ['dark', true],
        ['flat', false],
      ]),
    );
  });
});

test('a rehearsal never counts for a rig that is not marked for practice', async () => {
  const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  const real = rigs.find((r) => r.name === '200 mm astrograph')!;
  const body = {
    name: real.name,
    siteId: real.siteId,
    setup: { ...real.setup, practice: false },
    version: real.version,
  };
  expect((await odalys.post(fill(api.reviseRig.path, real.id), body)).status).toBe(200);
  const { plan } = await somethingToPlan(odalys, '2027-01-12', '200 mm astrograph');
  const made = (await odalys.post(api.addPlan.path, plan(18, 20))).body as PlanRecord;
  expect(made.madeFor!.offsetSetId).not.toBeNull();
  const run = (await rehearsed(odalys, made.id, 3)).body as RunRecord;
  expect(run.kind).toBe('rehearsed');
  const got = await odalys.post(fill(api.acceptRun.path, run.id));
  expect([got.status, got.body.code]).toEqual([403, 'not_allowed']);
});

describe('what is still to be taken', () => {
  test('what frames lack for calibration follows from what is on record, what is lost first being urgent', async () => {
    const needs = async () =>
      (await teun.get(`${fill(api.calibrationNeeds.path, rig.id)}?system=main`)).body as CalibrationNeeds;
    const header = { gain: 77, offset: 30, setPointC: -10 };
    const of = (more: object) => light(0, { exposureS: 611, filter: 'SII', header, ...more });
    await bring(teun, [of({ hash: 'a1'.padStart(64, '0') }), of({ hash: 'a2'.padStart(64, '0') })]);
    const mine = (n: CalibrationNeeds) => n.missing.filter((m) => m.gain === 77).map((m) => [m.kind, m.frames]);
    const before = await needs();
    expect(mine(before)).toEqual([
      ['flat', 2],
      ['dark', 2],
    ]);
    expect(before.urgent.filter((u) => u.gain === 77)).toHaveLength(1);
    // a master serves as its frames do, for as long as it is on record
    const made = (
      await teun.post(fill(api.addMaster.path, rig.id), {
        system: 'main',
        kind: 'dark',
        exposureS: 611,
        gain: 77,
        setPointC: -10,
        frames: 30,
        madeOn: '2026-10-01',
      })
    ).body as MasterRecord;
    expect(mine(await needs())).toEqual([['flat', 2]]);
    await teun.del(fill(api.dropMaster.path, made.id));
    expect(mine(await needs())).toEqual(mine(before));
    // frames of other tests tell no temperature
    expect(before.leftOut).toBeGreaterThan(0);
    await bring(teun, [
      of({ kind: 'flat', projectId: null, exposureS: 2, hash: 'a3'.padStart(64, '0') }),
      of({
        kind: 'dark',
        projectId: null,
        filter: '',
        hash: 'a4'.padStart(64, '0'),
        header: { ...header, setPointC: -9.5 },
      }),
    ]);
    expect(mine(await needs())).toEqual([['darkFlat', 2]]);
    await bring(teun, [
      of({ kind: 'darkFlat', projectId: null, filter: '', exposureS: 2, hash: 'a5'.padStart(64, '0') }),
    ]);
    expect(mine(await needs())).toEqual([]);
  });
});

describe('nights in figures', () => {
  test('are summed night by night, cloud told apart, widths the middle ones, guiding from the logs; undone nights are none', async () => {
    const frame = (n: number, more: Partial<FrameFields> = {}) =>
      light(700 + n, {
        startedAt: `2026-09-0${1 + Math.floor(n / 10)}T21:0${n % 10}:00.000Z`,
        exposureS: 60,
        projectId: null,
        ...more,
      });
    const cloud = { accepted: false, reason: 'few stars', refusal: 'cloud' as const };
    const first = await bring(
      teun,
      [frame(0), frame(1), frame(2, cloud), frame(3, { accepted: false, reason: 'x', refusal: 'by-hand' })],
      '2026-09-01',
    );
    await bring(teun, [frame(10), frame(11), frame(12)], '2026-09-02');
    const undone = await bring(teun, [frame(20)], '2026-09-03');
    await teun.del(fill(api.undoNight.path, undone.night!.id));
    const kept = (await teun.get(fill(api.nightFrames.path, first.night!.id))).body as FrameRecord[];
    const seen = frameLook(
      measurePicture(readFileSync(join(import.meta.dirname, '../../../../examples/frames/round.fits'))),
    );
    const looks = kept
      .slice(0, 3)
      .map((f, i) => ({ id: f.id, look: { ...seen, hfdPx: [2, 4, 100][i]! }, picture: null }));
    expect((await teun.put(fill(api.keepLooks.path, first.night!.id), { looks })).status).toBe(200);
    const csv = (size: number) =>
      'time_s,ra_arcsec,dec_arcsec\n' +
      Array.from({ length: 200 }, (_, i) => `${2 * i},${i % 2 ? size : -size},0`).join('\n');
    for (const size of [0.3, 0.4])
      await teun.post(fill(api.keepGuideLog.path, rig.id), {
        night: '2026-09-01',
        name: `log ${size}`,
        csv: csv(size),
      });
    const figures = (await mirela.get(fill(api.nightFigures.path, rig.id))).body as NightFigures[];
    const of = (night: string) => figures.find((f) => f.night === night);
    // by hand: two frames of a minute count, widths 2 and 4 of them, √((0.3² + 0.4²)/2)
    expect(of('2026-09-01')).toMatchObject({
      countedS: 120,
      refusedS: 120,
      cloudS: 60,
      frames: 4,
      first: '2026-09-01T21:00:00.000Z',
      last: '2026-09-01T21:04:00.000Z',
      hfdPx: 3,
      focusRuns: 0,
      focusStepsPerC: null,
    });
    expect(of('2026-09-01')!.guidingArcsec).toBeCloseTo(Math.sqrt((0.09 + 0.16) / 2), 2);
    expect(of('2026-09-02')).toMatchObject({ countedS: 180, refusedS: 0, hfdPx: null, guidingArcsec: null });
    expect(of('2026-09-03')).toBeUndefined();
    expect(figures.map((f) => f.night)).toEqual([...figures.map((f) => f.night)].sort().reverse());
  });
  test('of one system hold nothing of the other on the same mount, the same night', async () => {
    const two = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.systems.length > 1)!;
    const night = '2026-09-05';
    const [one, other] = two.systems.map((s) => s.key) as [string, string];
    const taken = async (system: string, frames: number, from: number) => {
      const { filter } = two.setup.systems.find((s) => s.key === system)!.wheel[0]!;
      const got = await teun.post(fill(api.recordNight.path, two.id), {
        system,
        night,
        name: 'the folder',
        frames: Array.from({ length: frames }, (_, i) =>
          light(from + i, { filter, exposureS: 60, projectId: null, startedAt: `${night}T21:0${i}:00.000Z` }),
        ),
      });
      expect(got.status).toBe(200);
    };
    await taken(one, 1, 900);
    await taken(other, 3, 910);
    const counted = async (system: string) => {
      const path = `${fill(api.nightFigures.path, two.id)}?system=${system}`;
      const figures = (await mirela.get(path)).body as NightFigures[];
      return figures.find((f) => f.night === night)?.countedS;
    };
    expect([await counted(one), await counted(other)]).toEqual([60, 180]);
  });
});
