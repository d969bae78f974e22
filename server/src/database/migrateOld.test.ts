import { randomBytes, randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import {
  api,
  type FrameRecord,
  type OffsetSetRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
} from '@keen/contract';
import { words, type Phrase } from '@keen/core/phrases';
import { RIGS } from '@keen/demo';
import { viewOf, type RigSetup } from '@keen/core/rig';
import { QueryTypes, type Sequelize } from 'sequelize';
import { hashPassword } from '../access/index.ts';
import { makeApp } from '../app.ts';
import { makeStore } from '../store.ts';
import { fill, signInAs, type Person } from '../test/harness.ts';
import { connect, migrate } from './index.ts';

/** A database as the version before rigs had systems left it, written row by row, then brought up to date. */
let db: Sequelize;
let admin: Sequelize;
let name: string;
let steward: Person;
/** Aspects of the state the train is in, by the names they had. */
let before: Record<'flats' | 'focus', string>;
const ids = Object.fromEntries(
  [
    'club',
    'member',
    'site',
    'big',
    'lens',
    'yard',
    's1',
    's2',
    's3',
    'sl',
    'sy',
    'project',
    'plan',
    'run',
    'set',
    'master',
    'beside',
  ].map((k) => [k, randomUUID()]),
) as Record<string, string>;
const [ridge, refractor] = [RIGS.find((r) => r.key === 'newtonian')!.build, RIGS.find((r) => r.key === 'refractor')!];
const old = ({ practice: _p, ...s }: RigSetup) => s;
const big = old(viewOf(ridge, 'newtonian'));
const lens = old(viewOf(ridge, 'lens'));
const renamed = { ...big, train: big.train.map((t, i) => (i === 1 ? { ...t, name: 'the spacer' } : t)) };
const turned = { ...renamed, camera: { ...renamed.camera, angleDeg: 77 } };
const OLD_SETTINGS = {
  filters: [{ name: 'L', exposureS: 60, quota: 10 }],
  order: 'rolling',
  dither: { everyFrames: 2, perRound: false },
  focus: { policy: 'every-change' },
  coolingCPerHour: 1,
};
/** Somebody’s own words, which happen to look like a field. */
const TYPED = 'the log "said":[nothing';
/** What a run wrote of wind before a speed had a unit of its own. */
const gust = { phrase: { code: 'run.shut-wind', values: { wind: 12, humidityPercent: 40 } } };
/** A column of JSON, which comes as text from a table that was altered. */
const parsed = <T>(v: unknown): T => (typeof v === 'string' ? (JSON.parse(v) as T) : (v as T));
const ask = <T extends object>(sql: string) => db.query<T>(sql, { type: QueryTypes.SELECT });

beforeAll(async () => {
  admin = connect(process.env.KEEN_TEST_DATABASE_URL!, 1);
  name = `keen_${randomBytes(5).toString('hex')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  const url = new URL(process.env.KEEN_TEST_DATABASE_URL!);
  url.pathname = `/${name}`;
  await migrate(url.href, '003-dusk-settings');
  db = connect(url.href);
  const insert = (table: string, row: Record<string, unknown>) => db.getQueryInterface().bulkInsert(table, [row]);
  const stamps = { version: 1, updated_at: new Date(), updated_by: null, archived_at: null };
  await insert('clubs', { id: ids.club, name: 'Old', demo: 1 });
  const password_hash = await hashPassword('long enough');
  await insert('members', {
    id: ids.member,
    club_id: ids.club,
    name: 'Ada',
    sign_in: 'ada',
    role: 'steward',
    password_hash,
  });
  await insert('sites', {
    id: ids.site,
    club_id: ids.club,
    name: 'Ridge',
    kind: 'remote',
    latitude_deg: -23,
    longitude_deg: 16,
    elevation_m: 0,
    time_zone: 'Africa/Windhoek',
    sky_mag: 21,
    horizon: '[]',
    horizon_note: '',
    ...stamps,
  });
  for (const [id, n] of [
    ['big', 'Newtonian'],
    ['lens', 'Wide lens'],
    ['yard', 'Refractor'],
  ])
    await insert('rigs', { id: ids[id!], club_id: ids.club, site_id: ids.site, name: n, ...stamps });
  for (const [s, rig] of [
    ['s1', 'big'],
    ['s2', 'big'],
    ['s3', 'big'],
    ['sl', 'lens'],
    ['sy', 'yard'],
  ])
    await insert('train_states', {
      id: ids[s!],
      rig_id: ids[rig!],
      fingerprint: s!.padEnd(16, '0'),
      words: `word-${s}`,
      created_at: new Date(Date.UTC(2026, 1, s!.charCodeAt(1) - 40)),
    });
  const revision = (rig: string, number: number, setup: object, state: string) =>
    insert('rig_revisions', {
      id: randomUUID(),
      rig_id: ids[rig],
      number,
      setup: JSON.stringify(setup),
      changes: '["built"]',
      train_state_id: ids[state],
      by_id: ids.member,
      at: new Date(),
    });
  await revision('big', 1, big, 's1');
  await revision('big', 2, renamed, 's2');
  await revision('big', 3, turned, 's3');
  await revision('lens', 1, lens, 'sl');
  await revision('yard', 1, old(refractor.setup), 'sy');
  const focus = (state: string, position: number, time: string) =>
    insert('focus_runs', {
      id: randomUUID(),
      train_state_id: ids[state],
      filter: 'L',
      position,
      hfd: 2,
      error: null,
      temperature_c: 3,
      time: new Date(time),
      points: '[]',
      usable: 1,
      reason: '',
      source: 'file',
      run_id: null,
      excluded: 0,
      by_id: ids.member,
      created_at: new Date(),
    });
  await focus('s1', 100, '2026-02-01T20:00:00Z');
  await focus('s2', 100, '2026-02-01T20:00:00Z');
  await focus('s3', 130, '2026-02-02T20:00:00Z');
  await insert('offset_sets', {
    id: ids.set,
    train_state_id: ids.s1,
    reference: 'L',
    model: 'none',
    offsets: '{"L":{"steps":0,"error":0,"runs":2}}',
    temperature_steps_per_c: null,
    zone_steps: null,
    run_count: 2,
    by_id: ids.member,
    adopted_at: new Date(),
  });
  const framing = {
    raDeg: 84,
    decDeg: -69,
    angleDeg: 0,
    windowPaDeg: null,
    columns: 1,
    rows: 1,
    overlap: 0.1,
    star: null,
    guideExposureS: null,
    words: 'word-sl',
    at: '2026-02-01T00:00:00.000Z',
    byId: ids.member,
  };
  await insert('projects', {
    id: ids.project,
    club_id: ids.club,
    owner_id: ids.member,
    rig_id: ids.lens,
    name: 'Wide',
    object: 'NGC 2070',
    object_type: '',
    ra_deg: 84,
    dec_deg: -69,
    size_arcmin: null,
    angle_deg: 0,
    minimum_altitude_deg: 30,
    note: '',
    framing: JSON.stringify(framing),
    ...stamps,
  });
  await insert('project_goals', {
    id: randomUUID(),
    project_id: ids.project,
    place: 0,
    filter: 'L',
    exposure_s: 60,
    quota: 10,
  });
  await insert('plans', {
    id: ids.plan,
    project_id: ids.project,
    rig_id: ids.lens,
    owner_id: ids.member,
    night: '2026-02-03',
    start: new Date('2026-02-03T20:00:00Z'),
    end: new Date('2026-02-03T22:00:00Z'),
    flip_at: null,
    settings: JSON.stringify(OLD_SETTINGS),
    locked: 0,
    status: 'done',
    ...stamps,
  });
  const frame = (accepted: boolean, exposureS: number) => ({
    filter: 'L',
    frame: 1,
    start: '2026-02-03T20:10:00.000Z',
    exposureS,
    hfdPx: 2,
    stars: 90,
    eccentricity: 0.3,
    background: 100,
    focusPosition: 5,
    temperatureC: 3,
    accepted,
    reason: accepted ? '' : 'stars 1.6 times as wide as they should be',
  });
  const result = {
    frames: [frame(true, 60), frame(true, 60), frame(false, 60), frame(true, 30)],
    verdict: { level: 'good', text: TYPED, said: [{ code: 'run.frames', values: { good: 3, rejected: 1 } }] },
  };
  await insert('runs', {
    id: ids.run,
    plan_id: ids.plan,
    train_state_id: ids.sl,
    seed: 1,
    state: 'accepted',
    offsets_used: 0,
    result: JSON.stringify(result),
    by_id: ids.member,
    at: new Date(),
    accepted_plan: ids.plan,
  });
  await insert('frame_counts', {
    id: randomUUID(),
    run_id: ids.run,
    project_id: ids.project,
    night: '2026-02-03',
    filter: 'L',
    exposure_s: 60,
    accepted: 3,
    rejected: 1,
  });

  // what came between: a master, and a second camera's night that was told by its name
  expect(await migrate(url.href, '022-goals-by-length')).toContain('006-refusals');
  const [state] = await ask<{ aspects: unknown; rig: string }>(
    `SELECT aspects, rig_id AS rig FROM train_states WHERE id = '${ids.s3}'`,
  );
  const aspects = parsed<Record<'flats' | 'focus', string>>(state!.aspects);
  before = aspects;
  await insert('masters', {
    id: ids.master,
    rig_id: state!.rig,
    train_state_id: ids.s3,
    flats_aspect: aspects.flats,
    data: '{}',
    by_id: ids.member,
    at: new Date(),
    archived_at: null,
  });
  await db.query(`UPDATE plans SET made_for = '${JSON.stringify({ revision: 3, offsetSetId: ids.set, aspects })}'`);
  const together = '2026-02-03 23:00:00';
  await db.query(`UPDATE runs SET at = '${together}'`);
  await db.query(
    `INSERT INTO runs (id, rig_id, system, night, train_state_id, kind, name, seed, state, offsets_used, result, by_id, at)
     SELECT '${ids.beside}', rig_id, system, night, train_state_id, 'live', 'beside maple', seed, 'accepted', 0, '${JSON.stringify({ events: [gust] })}', by_id, at FROM runs LIMIT 1`,
  );
  expect(await migrate(url.href)).toEqual([
    '023-one-definition',
    '024-wind-in-units',
    '025-turns',
    '026-many-hands',
    '027-hours',
    '028-upkeep',
    '029-live-runs',
    '030-run-frames',
    '031-second-camera-frames',
  ]);
  const config = {
    databaseUrl: url.href,
    host: '127.0.0.1',
    port: 0,
    secret: 'x'.repeat(40),
    secureCookies: false,
    webFolder: '',
    dataFolder: '/nowhere',
    loadDemo: false,
    demoAsked: false,
    names: [],
    signInLimit: 100,
    calculationLimit: 100,
    trustProxy: false,
    logLevel: 'silent',
    bridges: {},
    frames: { folder: '', days: 30, reserveMb: 0 },
    metricsToken: '',
    drainS: 0,
    checkAnswers: true,
  };
  steward = await signInAs(makeApp(config, makeStore(db)), 'ada', 'long enough');
}, 90_000);
afterAll(async () => {
  await db.close();
  await admin.query(`DROP DATABASE ${name}`);
  await admin.close();
});

test('two rigs on one mount are one rig with two systems; another mount stays a rig of its own', async () => {
  const rigs = (await steward.get(api.rigs.path)).body as RigRecord[];
  expect(rigs.map((r) => [r.name, r.systems.map((s) => s.name)])).toEqual([
    ['Newtonian', ['Newtonian', 'Wide lens']],
    ['Refractor', ['Refractor']],
  ]);
  expect(rigs[0]!.setup.practice).toBe(true);
  expect(rigs[0]!.systems.map((s) => s.words)).toEqual(['word-s3', 'word-sl']);
});

test('offsets measured before a piece was renamed and the camera turned still hold, and no run stands twice', async () => {
  const [rig] = (await steward.get(api.rigs.path)).body as RigRecord[];
  const state = rig!.systems[0]!.trainStateId;
  const sets = (await steward.get(`${api.offsetSets.path}?trainStateId=${state}`)).body as OffsetSetRecord[];
  expect(sets.map((s) => s.id)).toEqual([ids.set]);
  const runs = (await steward.get(`${api.focusRuns.path}?trainStateId=${state}`)).body as { position: number }[];
  expect(runs.map((r) => r.position)).toEqual([100, 130]);
});

test('a framing still holds for its system, and progress counts the frames of the goal’s own exposure', async () => {
  const [rig] = (await steward.get(api.rigs.path)).body as RigRecord[];
  const [project] = (await steward.get(api.projects.path)).body as ProjectRecord[];
  expect([project!.rigId, project!.system]).toEqual([ids.big, 'second']);
  expect(project!.framing!.aspect).toBe(rig!.systems[1]!.aspects.framing);
  expect(Object.fromEntries(project!.goals.map((g, i) => [g.filter, project!.done[i]]))).toMatchObject({ L: 2 });
  expect(project!.nights.map((n) => [n.exposureS, n.accepted, n.rejected, n.counts])).toEqual([
    [30, 1, 0, false],
    [60, 2, 1, true],
  ]);
  // goals of before are one a filter; from here on a filter may be wanted at two lengths
  const {
    id,
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
  } = project!;
  const short = { ...fields.goals[0]!, exposureS: fields.goals[0]!.exposureS / 2 };
  const changed = await steward.put(fill(api.changeProject.path, id), { ...fields, goals: [...fields.goals, short] });
  expect((changed.body as ProjectRecord).goals).toHaveLength(fields.goals.length + 1);
});

test('what a frame was refused for has a code', async () => {
  const frames = (await steward.get(api.nightFrames.path.replace(':id', ids.run!))).body as FrameRecord[];
  expect(frames.map((f) => f.refusal)).toEqual([null, null, 'wide', null]);
});

test('the history is kept in words, and the schema refuses what it should', async () => {
  const [rig] = (await steward.get(api.rigs.path)).body as RigRecord[];
  const history = (await steward.get(api.revisions.path.replace(':id', rig!.id))).body as { changes: object[] }[];
  expect(history.at(-1)!.changes).toEqual([{ code: 'rig.text', values: { text: 'built' } }]);
  expect(history[0]!.changes).toEqual([{ code: 'rig.system-added', values: { name: 'Wide lens' } }]);
  expect(
    (
      await ask<{ n: number }>(
        "SELECT COUNT(*) AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'frame_counts'",
      )
    )[0]!.n,
  ).toBe(0);
  await expect(
    db.query(
      `INSERT INTO frames SELECT UUID(), run_id, seq, kind, project_id, NULL, filter, exposure_s, started_at, file, header, measures, NULL, accepted, 0, reason, NULL, NULL, NULL FROM frames LIMIT 1`,
    ),
  ).rejects.toThrow(/uplicate|Validation/);
});

test('codes of what was kept stand under their new name; what a person wrote is left as it is', async () => {
  const [run] = await ask<{ result: string }>(`SELECT result FROM runs WHERE id = '${ids.run}'`);
  const { verdict } = JSON.parse(run!.result) as { verdict: object };
  expect(verdict).toEqual({
    level: 'good',
    text: TYPED,
    phrases: [{ code: 'run.frames', values: { good: 3, rejected: 1 } }],
  });
});

test('what was kept under the first names of aspects stands under the second, and holds', async () => {
  const [rig] = (await steward.get(api.rigs.path)).body as RigRecord[];
  const now = rig!.systems[0]!.aspects;
  expect(before.flats).not.toContain('.');
  expect(await ask('SELECT DISTINCT aspect FROM focus_runs')).toEqual([{ aspect: now.focus }]);
  expect(await ask('SELECT DISTINCT aspect FROM offset_sets')).toEqual([{ aspect: now.focus }]);
  expect(await ask('SELECT flats_aspect AS flats FROM masters')).toEqual([{ flats: now.flats }]);
  const [plan] = await ask<{ madeFor: unknown }>('SELECT made_for AS madeFor FROM plans');
  expect(parsed<{ aspects: object }>(plan!.madeFor).aspects).toMatchObject({
    focus: now.focus,
    flats: now.flats,
  });
});

test('a second camera’s night says beside which run it was taken, and keeps its own name', async () => {
  expect(await ask(`SELECT beside_id AS beside, name FROM runs WHERE id = '${ids.beside}'`)).toEqual([
    { beside: ids.run, name: 'maple' },
  ]);
});

test('a plan of one target is a night of one leg, from its start to its end by the clock', async () => {
  const [plan] = (await steward.get(api.plans.path)).body as PlanRecord[];
  expect(plan).toMatchObject({
    id: ids.plan,
    start: '2026-02-03T20:00:00.000Z',
    end: '2026-02-03T22:00:00.000Z',
    opening: [],
    closing: [],
    locked: false,
  });
  expect(plan!.legs).toEqual([
    expect.objectContaining({
      projectId: ids.project,
      object: 'NGC 2070',
      role: 'main',
      panel: null,
      turnMin: null,
      centreWithinArcmin: 0.5,
      follower: null,
      from: { by: 'clock', at: plan!.start },
      until: { by: 'clock', at: plan!.end },
      start: plan!.start,
      end: plan!.end,
    }),
  ]);
  expect(await ask('SELECT plan_id AS plan, project_id AS project FROM plan_projects')).toEqual([
    { plan: ids.plan, project: ids.project },
  ]);
});

test('the wind of a run is a speed, in the reader’s units', async () => {
  const [run] = await ask<{ result: unknown }>(`SELECT result FROM runs WHERE id = '${ids.beside}'`);
  const [event] = parsed<{ events: { phrase: Phrase }[] }>(run!.result).events;
  expect(['metric', 'imperial'].map((s) => words(event!.phrase, s as 'metric'))).toEqual([
    'wind of 12\u202fm/s: shutter closed',
    'wind of 27\u202fmph: shutter closed',
  ]);
});
