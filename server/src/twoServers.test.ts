import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Express } from 'express';
import {
  api,
  type LogRecord,
  type MasterRecord,
  type PartRecord,
  type ProjectRecord,
  type RigRecord,
  type SetupListRecord,
  type SiteRecord,
} from '@keen/contract';
import { makeApp } from './app.ts';
import { connect } from './database/index.ts';
import { makeStore } from './store.ts';
import { DEMO_PASSWORD } from './access/index.ts';
import { begin, ended, fill, rehearsed, signInAs, somethingToPlan, testServer, type Person } from './test/harness.ts';

/**
 * Every record that excludes, wanted at one moment at two servers, each with connections of its own: who comes second is told
 * so. The cluster’s storm does the same to plans on three nodes.
 */
const { server, odalys } = testServer(['odalys']);
let stewards: Person[];
let apps: Express[];
const pools = [1, 2];
const ends: (() => Promise<unknown>)[] = [];
beforeAll(async () => {
  apps = pools.map(() => {
    const db = connect(server.config.databaseUrl, 6);
    ends.push(() => db.close());
    return makeApp(server.config, makeStore(db, server.store.now), { workers: server.workers });
  });
  stewards = await Promise.all(apps.map((app) => signInAs(app, 'odalys', DEMO_PASSWORD)));
}, 60_000);
afterAll(() => Promise.all(ends.map((end) => end())));

const ATTEMPTS = 8;
interface Got {
  status: number;
  body: { code?: string; added?: number };
}
const wanted = (send: (p: Person, i: number) => PromiseLike<Got>): Promise<Got[]> =>
  Promise.all(Array.from({ length: ATTEMPTS }, (_, i) => send(stewards[i % stewards.length]!, i)));
const rig = async (): Promise<RigRecord> =>
  ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;
const first = async <T>(path: string): Promise<T> => ((await odalys.get(path)).body as T[])[0]!;

/** What is sent, and what those are told who come second. */
const RACES: [what: string, second: string, prepare: () => Promise<(p: Person, i: number) => PromiseLike<Got>>][] = [
  [
    'a night of a rig',
    'night_overlap',
    async () => {
      const { plan } = await somethingToPlan(odalys, '2027-02-20');
      return (p) => p.post(api.addPlan.path, plan(19, 21));
    },
  ],
  [
    'hours of a rig',
    'night_overlap',
    async () => {
      const { id: rigId } = await rig();
      const hour = (h: number) => new Date(Date.UTC(2026, 11, 5, h)).toISOString();
      // each wants other hours than the next, all of them those of nine
      return (p, i) =>
        p.post(api.addBooking.path, { rigId, night: '2026-12-05', start: hour(20 - (i % 3)), end: hour(21 + (i % 4)) });
    },
  ],
  [
    'a board that is promised',
    'night_overlap',
    async () => {
      const { id: rigId } = await rig();
      const asked = await stewards[0]!.post(api.workOutBoard.path, {
        from: '2026-12-10',
        nights: 3,
        rigIds: [rigId],
        switchPenalty: 0,
      });
      const { id: jobId } = await ended(odalys, (asked.body as { id: string }).id);
      return (p) => p.post(api.promise.path, { jobId, until: '2026-12-12' });
    },
  ],
  [
    'the revision of a rig',
    'stale',
    async () => {
      const { id, name, siteId, setup, version } = await rig();
      return (p, i) =>
        p.post(fill(api.reviseRig.path, id), { name, siteId, setup: { ...setup, note: `note ${i}` }, version });
    },
  ],
  [
    'the name of a rig',
    'already_exists',
    async () => {
      const { siteId, setup } = await rig();
      return (p) => p.post(api.addRig.path, { name: 'one name', siteId, setup });
    },
  ],
  [
    'the name of a site',
    'already_exists',
    async () => {
      const { id: _i, version: _v, updatedAt: _a, updatedBy: _b, ...fields } = await first<SiteRecord>(api.sites.path);
      return (p) => p.post(api.addSite.path, { ...fields, name: 'one ridge' });
    },
  ],
  [
    'a rig’s cables, kept for the first time',
    'stale',
    async () => {
      const { id } = await rig();
      const { sheet } = (await odalys.get(fill(api.cables.path, id))).body as { sheet: object };
      return (p) => p.put(fill(api.keepCables.path, id), { sheet, version: 0 });
    },
  ],
  [
    'a rig’s set-up list',
    'stale',
    async () => {
      const { id } = await rig();
      const { items, version } = (await odalys.get(`${fill(api.setupList.path, id)}?night=2026-11-20`))
        .body as SetupListRecord;
      return (p) => p.put(`${fill(api.changeSetupList.path, id)}?night=2026-11-20`, { items, version });
    },
  ],
  [
    'a project',
    'stale',
    async () => {
      const all = (await odalys.get(api.projects.path)).body as ProjectRecord[];
      const { id, version, goals, ...p } = all.find((q) => !q.archived)!;
      const { name, object, objectType, raDeg, decDeg, sizeArcmin, rigId, system, angleDeg, minimumAltitudeDeg } = p;
      const fields = {
        name,
        object,
        objectType,
        raDeg,
        decDeg,
        sizeArcmin,
        rigId,
        system,
        angleDeg,
        minimumAltitudeDeg,
      };
      return (q, i) =>
        q.put(fill(api.changeProject.path, id), { ...fields, goals, note: `note ${i}`, archived: false, version });
    },
  ],
  [
    'a part',
    'stale',
    async () => {
      const part = { name: 'a ring', kind: 'rings', massKg: 0.4, lengthMm: 20, ownedByClub: true };
      const { id, version } = (await odalys.post(api.addPart.path, part)).body as PartRecord;
      return (p, i) => p.put(fill(api.changePart.path, id), { ...part, massKg: 0.5 + i / 10, version });
    },
  ],
  [
    'an entry of the logbook',
    'stale',
    async () => {
      const fields = { rigId: (await rig()).id, problem: 'wanted by two' };
      const { id, version } = (await odalys.post(api.addLog.path, fields)).body as LogRecord;
      return (p, i) => p.put(fill(api.changeLog.path, id), { ...fields, cause: `cause ${i}`, version });
    },
  ],
  [
    'a master that is put away',
    'not_found',
    async () => {
      const { id, systems } = await rig();
      const fields = { system: systems[0]!.key, kind: 'dark', exposureS: 300, frames: 20, madeOn: '2026-11-01' };
      const master = (await odalys.post(fill(api.addMaster.path, id), fields)).body as MasterRecord;
      return (p) => p.del(fill(api.dropMaster.path, master.id));
    },
  ],
  [
    'a rehearsed night that is accepted',
    'already_done',
    async () => {
      const { plan } = await somethingToPlan(odalys, '2027-02-21');
      const made = (await odalys.post(api.addPlan.path, plan(19, 20))).body as { id: string };
      const run = (await rehearsed(odalys, made.id, 3)).body as { id: string };
      return (p) => p.post(fill(api.acceptRun.path, run.id));
    },
  ],
];
test.each(RACES)(
  '%s is had once, and the others are told: %s',
  async (_what, second, prepare) => {
    const got = await wanted(await prepare());
    expect(got.map((g) => (g.status === 200 ? 'had' : g.body.code)).sort()).toEqual(
      ['had', ...Array<string>(ATTEMPTS - 1).fill(second)].sort(),
    );
  },
  60_000,
);

test('a folder of frames and a file of focus runs count once, whoever brings them in', async () => {
  const { id, systems } = await rig();
  const system = systems[0]!;
  const { projects } = await somethingToPlan(odalys, '2027-02-22');
  const frames = Array.from({ length: 5 }, (_, n) => ({
    kind: 'light',
    projectId: projects[0]!.id,
    filter: 'Ha',
    exposureS: 300,
    startedAt: `2026-11-12T20:0${n}:00.000Z`,
    file: `race-${n}.fits`,
    hash: `${n}`.repeat(64),
    header: {},
    accepted: true,
    reason: '',
    refusal: null,
  }));
  const folder = { system: system.key, night: '2026-11-12', name: 'one folder', frames };
  const nights = await wanted((p) => p.post(fill(api.recordNight.path, id), folder));
  expect(nights.map((g) => g.body.added).sort()).toEqual([...Array<number>(ATTEMPTS - 1).fill(0), 5]);
  const run = {
    filter: 'Ha',
    position: 71_003,
    time: null,
    temperatureC: 4,
    hfd: 2,
    error: 1,
    usable: true,
    reason: '',
    points: [],
  };
  const file = { trainStateId: system.trainStateId, source: 'file', runs: [run] };
  const files = await wanted((p) => p.post(api.addFocusRuns.path, file));
  expect(files.map((g) => g.body.added).sort()).toEqual([...Array<number>(ATTEMPTS - 1).fill(0), 1]);
}, 60_000);

test('who joins at one server has a name at the other at once, which had read the names before', async () => {
  const [one, two] = apps as [Express, Express];
  const steward = await begin(one, 'warden', 'two servers one club');
  const there = await signInAs(two, 'warden', 'two servers one club');
  const { id: _i, version: _v, updatedAt: _a, updatedBy: _b, ...ridge } = await first<SiteRecord>(api.sites.path);
  const site = (name: string) => ({ ...ridge, name });
  const names = async () => ((await there.get(api.sites.path)).body as SiteRecord[]).map((s) => s.updatedBy);
  await steward.post(api.addSite.path, site('by the warden'));
  expect(await names()).toEqual(['warden']);
  const { token } = (await steward.post(api.invite.path, { name: '', role: 'steward' })).body as { token: string };
  const joined = { token, name: 'Brannoc', signIn: 'brannoc', password: 'a second of the two' };
  expect((await there.post(api.join.path, joined)).status).toBe(200);
  const brannoc = await signInAs(one, 'brannoc', joined.password);
  await brannoc.post(api.addSite.path, site('by whoever joined'));
  expect((await names()).sort()).toEqual(['Brannoc', 'warden']);
}, 60_000);
