import { beforeAll, describe, expect, test } from '@jest/globals';
import {
  api,
  DuskSettings,
  SecondTube,
  type DuskSettingsRecord,
  type FramingFields,
  type GuideLogRecord,
  type ProjectRecord,
  type RigRecord,
  type SetupListRecord,
} from '@keen/contract';
import { guideToCsv } from '@keen/core/exchange';
import { simulateGuiding } from '@keen/core/observatory';
import { fill, type Person, testServer } from '../../test/harness.ts';

const { odalys, teun, ines } = testServer(['odalys', 'teun', 'ines']);
let rig: RigRecord;
beforeAll(async () => {
  rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name.includes('triplet'))!;
}, 60_000);

const NIGHT = '2027-02-03';
const path = (p: string) => `${fill(p, rig.id)}?night=${NIGHT}`;
const listOf = async (p: Person) => (await p.get(path(api.setupList.path))).body as SetupListRecord;
const tick = (p: Person, key: string, done = true, night = NIGHT) =>
  p.post(fill(api.tickSetup.path, rig.id), { night, key, done });

describe('the set-up list', () => {
  test('begins with the offered steps; ticks are kept with who and when, once, and by night', async () => {
    const before = await listOf(teun);
    expect([before.own, before.version, before.ticks]).toEqual([false, 0, []]);
    // two thumbs on the same step at the same moment
    const both = await Promise.all([tick(teun, 'ground'), tick(odalys, 'ground')]);
    expect(both.map((r) => r.status)).toEqual([200, 200]);
    const after = await listOf(teun);
    expect(after.ticks).toHaveLength(1);
    expect(['Teun', 'Odalys']).toContain(after.ticks[0]!.by.split(' ')[0]);
    expect((await tick(teun, 'ground', true, '2027-02-04')).body.ticks).toHaveLength(1);
    await tick(teun, 'ground', false);
    expect((await listOf(teun)).ticks).toEqual([]);
  });
  test('a step that is not on the list is refused with those that are; a guest may read, not tick', async () => {
    const got = await tick(teun, 'no-such-step');
    expect([got.status, got.body.code]).toEqual([400, 'invalid_input']);
    expect(got.body.issues[0].message).toContain('ground');
    expect((await ines.get(path(api.setupList.path))).status).toBe(200);
    expect((await tick(ines, 'ground')).status).toBe(403);
  });
  test('a steward makes the club’s list; a member may not; a stale save shows the other side', async () => {
    const { items } = await listOf(odalys);
    const mine = [...items.slice(0, 3), { key: 'own-1', group: 'Attach', text: 'Rain cover within reach' }];
    expect((await teun.put(path(api.changeSetupList.path), { items: mine, version: 0 })).status).toBe(403);
    const saved = await odalys.put(path(api.changeSetupList.path), { items: mine, version: 0 });
    expect(saved.body).toMatchObject({ own: true, version: 1 });
    const stale = await odalys.put(path(api.changeSetupList.path), { items, version: 0 });
    expect([stale.status, stale.body.code]).toEqual([409, 'stale']);
    expect(stale.body.current.items).toHaveLength(4);
    expect((await tick(teun, 'own-1')).body.ticks).toHaveLength(1);
    expect((await odalys.put(path(api.changeSetupList.path), { items: [], version: 1 })).status).toBe(400);
    const twice = await odalys.put(path(api.changeSetupList.path), { items: [mine[0], mine[0]], version: 1 });
    expect(twice.body.issues ?? twice.body.error?.issues).toBeDefined();
    expect(twice.status).toBe(400);
  });
});

describe('what was told about a rig’s evenings', () => {
  const own = () => fill(api.duskSettings.path, rig.id);
  const read = async (p: Person) => (await p.get(own())).body as DuskSettingsRecord;
  test('begins with common values, is kept for everybody, and of two first saves one is stale', async () => {
    const bare = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name.includes('Newtonian'))!;
    const where = fill(api.duskSettings.path, bare.id);
    const first = (await ines.get(where)).body as DuskSettingsRecord;
    expect([first.kept, first.version, first.settings]).toEqual([false, 0, DuskSettings.parse({})]);
    const criteria = (setPointC: number) => DuskSettings.parse({ cooling: { setPointC } });
    const answers = await Promise.all([
      odalys.put(where, { settings: criteria(-15), version: 0 }),
      teun.put(where, { settings: criteria(-20), version: 0 }),
    ]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    const [won, lost] = [answers.find((a) => a.status === 200)!, answers.find((a) => a.status === 409)!];
    expect(lost.body.current.settings).toEqual(won.body.settings);
    expect((await ines.get(where)).body).toMatchObject({ kept: true, version: 1, settings: won.body.settings });
  });
  test('a guest only reads; what cannot be is refused with its place; the audit names what changed', async () => {
    const { settings, version } = await read(teun);
    expect((await ines.put(own(), { settings, version })).status).toBe(403);
    const wrong = structuredClone(settings);
    wrong.guider.guideRate = 0;
    const refused = await teun.put(own(), { settings: wrong, version });
    expect([refused.status, refused.body.issues[0].path]).toEqual([400, 'settings.guider.guideRate']);
    const second = SecondTube.parse({ focalLengthMm: 200 });
    expect((await teun.put(own(), { settings: { ...settings, second }, version })).status).toBe(200);
    expect((await read(odalys)).settings.second).toEqual(second);
    const changes = (await odalys.get(api.changes.path)).body as { text: string }[];
    expect(changes.map((c) => c.text)).toContain('kept for its evenings: second tube');
  });
});

describe('a framing', () => {
  const framing: FramingFields = {
    raDeg: 35.6,
    decDeg: 42.3,
    angleDeg: 84,
    windowPaDeg: 84,
    columns: 1,
    rows: 1,
    overlap: 0.15,
    star: { raDeg: 35.9, decDeg: 42.6, mag: 10.4 },
    guideExposureS: 2,
  };
  test('is pinned with the train it was found on, survives a change of the project, and is let go', async () => {
    const projects = (await teun.get(api.projects.path)).body as ProjectRecord[];
    const mine = projects.find((p) => p.owner.startsWith('Teun') && !p.framing)!;
    const pinned = await teun.put(fill(api.pinFraming.path, mine.id), { framing, version: mine.version });
    expect(pinned.status).toBe(200);
    const record = pinned.body as ProjectRecord;
    expect(record.framing).toMatchObject({ ...framing, by: mine.owner });
    expect(record.framing!.words.length).toBeGreaterThan(4);
    expect(record.angleDeg).toBe(84);
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
      ...fields
    } = record;
    const changed = await teun.put(fill(api.changeProject.path, mine.id), { ...fields, note: 'later' });
    expect(changed.body.framing).toEqual(record.framing);
    const stale = await teun.put(fill(api.pinFraming.path, mine.id), { framing: null, version: mine.version });
    expect(stale.status).toBe(409);
    const gone = await teun.put(fill(api.pinFraming.path, mine.id), { framing: null, version: changed.body.version });
    expect(gone.body.framing).toBeNull();
  });
  test('somebody else’s is not to be moved, and a place off the sky is refused', async () => {
    const projects = (await teun.get(api.projects.path)).body as ProjectRecord[];
    const other = projects.find((p) => !p.owner.startsWith('Teun'))!;
    expect((await teun.put(fill(api.pinFraming.path, other.id), { framing, version: other.version })).status).toBe(403);
    const off = await odalys.put(fill(api.pinFraming.path, other.id), {
      framing: { ...framing, decDeg: 95 },
      version: other.version,
    });
    expect(off.status).toBe(400);
  });
  test('the demo’s pinned framings have a real star', async () => {
    const projects = (await teun.get(api.projects.path)).body as ProjectRecord[];
    expect(projects.filter((p) => p.framing?.star).length).toBeGreaterThanOrEqual(2);
  });
});

describe('kept guide logs', () => {
  const csv = guideToCsv(simulateGuiding({ seed: 77, seconds: 3600, fault: 'over-correction' }));
  const body = { night: NIGHT, name: 'a test night', note: 'gain up', csv };
  test('figures are worked out here from the samples; the samples come back as sent', async () => {
    const kept = await teun.post(fill(api.keepGuideLog.path, rig.id), body);
    expect(kept.status).toBe(200);
    const log = kept.body as GuideLogRecord;
    expect(log.summary.findings[0]!.code).toBe('over-correction-ra');
    const list = (await ines.get(fill(api.guideLogs.path, rig.id))).body as GuideLogRecord[];
    expect(list[0]).toEqual(log);
    expect((await ines.get(fill(api.guideLog.path, log.id))).body.csv).toBe(csv);
    expect(log.beganAt).toBeNull();
    const told = { beganAt: '2026-11-18T19:03:00.000Z' };
    expect((await ines.put(fill(api.timeGuideLog.path, log.id), told)).status).toBe(403);
    expect((await teun.put(fill(api.timeGuideLog.path, log.id), told)).body).toMatchObject(told);
    expect((await ines.get(fill(api.guideLog.path, log.id))).body.log).toMatchObject(told);
    expect((await teun.put(fill(api.timeGuideLog.path, log.id), { beganAt: 'nine' })).status).toBe(400);
    expect((await ines.del(fill(api.dropGuideLog.path, log.id))).status).toBe(403);
    expect((await teun.del(fill(api.dropGuideLog.path, log.id))).status).toBe(200);
    expect((await teun.get(fill(api.guideLog.path, log.id))).status).toBe(404);
  });
  test('a log with bad rows, too few samples or too much text is refused with the reason', async () => {
    const keep = (over: object) => teun.post(fill(api.keepGuideLog.path, rig.id), { ...body, ...over });
    const bad = await keep({ csv: csv.replace(/^2,/m, 'noon,') });
    expect(bad.status).toBe(400);
    expect(JSON.stringify(bad.body)).toContain('line 3');
    expect((await keep({ csv: csv.split('\n').slice(0, 6).join('\n') })).status).toBe(400);
    expect((await keep({ name: ' ' })).status).toBe(400);
    expect((await keep({ csv: 'x'.repeat(3_000_001) })).status).toBe(400);
  });
});

test('star tiles are served by ranges and may be held for long', async () => {
  const got = await odalys.get('/data/stars/dec-p10.bin').set('Range', 'bytes=800-1599');
  expect(got.status).toBe(206);
  expect(Number(got.headers['content-length'])).toBe(800);
  expect(got.headers['cache-control']).toContain('immutable');
  expect((await odalys.get('/data/stars/dec-p99.bin')).status).toBe(404);
});
