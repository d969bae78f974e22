import { beforeAll, expect, test } from '@jest/globals';
import {
  api,
  type FocusRunRecord,
  type GuideLogRecord,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type RunRecord,
} from '@keen/contract';
import { hashPassword } from '../access/index.ts';
import { fill, somethingToPlan, type Person, testServer, rehearsed } from '../test/harness.ts';

/** Two clubs on one database: neither sees or moves anything of the other, not even its stewards. */
const { server, odalys } = testServer(['odalys']);
let stranger: Person;
const PASSWORD = 'a password of the other club';
beforeAll(async () => {
  const { store } = server;
  const clubId = store.id();
  await store.clubs.create({ id: clubId, name: 'Another club', kind: 'club', demo: 0 });
  await store.members.create({
    id: store.id(),
    clubId,
    name: 'Steward elsewhere',
    signIn: 'elsewhere',
    role: 'steward',
    passwordHash: await hashPassword(PASSWORD),
    owner: 0,
    factorKey: null,
    factorStep: 0,
    sessionEpoch: 0,
    archivedAt: null,
  });
  stranger = await server.as('elsewhere', PASSWORD);
}, 60_000);

const list = async <T>(path: string): Promise<T[]> => (await odalys.get(path)).body as T[];

test('lists are empty, and the audit and the members are one’s own', async () => {
  for (const name of ['sites', 'parts', 'rigs', 'projects', 'plans', 'runs', 'changes'] as const) {
    expect((await list(api[name].path)).length).toBeGreaterThan(0);
    expect([name, (await stranger.get(api[name].path)).body]).toEqual([name, []]);
  }
  expect((await stranger.get(api.members.path)).body).toHaveLength(1);
});

test('no record of the other club can be read, changed or dropped by knowing its id', async () => {
  const rig = (await list<RigRecord>(api.rigs.path))[0]!;
  const project = (await list<ProjectRecord>(api.projects.path))[0]!;
  const { plan } = await somethingToPlan(odalys, '2027-03-01');
  const planned = (await odalys.post(api.addPlan.path, plan(19, 21))).body as PlanRecord;
  const run = (await rehearsed(odalys, planned.id, 3)).body as RunRecord;
  const states = await Promise.all(
    (await list<RigRecord>(api.rigs.path)).map((r) =>
      list<FocusRunRecord>(`${api.focusRuns.path}?trainStateId=${r.systems[0]!.trainStateId}`),
    ),
  );
  const focusRun = states.flat()[0]!;
  const logs = await Promise.all(
    (await list<RigRecord>(api.rigs.path)).map((r) => list<GuideLogRecord>(fill(api.guideLogs.path, r.id))),
  );
  const log = logs.flat()[0]!;
  const site = (await list<{ id: string; version: number }>(api.sites.path))[0]!;
  const part = (await list<{ id: string; version: number }>(api.parts.path))[0]!;
  const { id: _s, updatedAt: _a, updatedBy: _b, ...siteFields } = site as Record<string, unknown> & typeof site;
  const {
    id: _i,
    owner: _o,
    ownerId: _w,
    framing: _f,
    panels: _panels,
    byPanel: _byPanel,
    done: _d,
    nights: _n,
    updatedAt: _u,
    updatedBy: _v,
    ...fields
  } = project;
  const entry = { rigId: rig.id, problem: 'a shadow' };
  const written = (await odalys.post(api.addLog.path, entry)).body as { id: string };
  const master = { system: rig.systems[0]!.key, kind: 'dark', exposureS: 300, frames: 20, madeOn: '2026-11-01' };
  const made = (await odalys.post(fill(api.addMaster.path, rig.id), master)).body as { id: string };
  const { sheet } = (await odalys.get(fill(api.cables.path, rig.id))).body as { sheet: object };
  const tries: [string, Promise<{ status: number; body: { code?: string } }>][] = [
    ['revisions', stranger.get(fill(api.revisions.path, rig.id))],
    ['train states', stranger.get(fill(api.trainStates.path, rig.id))],
    ['focus runs', stranger.get(`${api.focusRuns.path}?trainStateId=${rig.systems[0]!.trainStateId}`)],
    ['offsets', stranger.get(`${api.offsetSets.path}?trainStateId=${rig.systems[0]!.trainStateId}`)],
    ['exclude a focus run', stranger.put(fill(api.excludeFocusRun.path, focusRun.id), { excluded: true })],
    ['set-up list', stranger.get(`${fill(api.setupList.path, rig.id)}?night=2027-03-01`)],
    ['tick', stranger.post(fill(api.tickSetup.path, rig.id), { night: '2027-03-01', key: 'ground', done: true })],
    ['dusk settings', stranger.get(fill(api.duskSettings.path, rig.id))],
    ['guide logs', stranger.get(fill(api.guideLogs.path, rig.id))],
    ['a guide log', stranger.get(fill(api.guideLog.path, log.id))],
    ['say when a guide log began', stranger.put(fill(api.timeGuideLog.path, log.id), { beganAt: null })],
    ['nights in figures', stranger.get(fill(api.nightFigures.path, rig.id))],
    ['the log of their rig', stranger.get(`${api.logbook.path}?rig=${rig.id}`)],
    ['write into their log', stranger.post(api.addLog.path, entry)],
    ['change an entry', stranger.put(fill(api.changeLog.path, written.id), { ...entry, version: 1 })],
    ['put an entry away', stranger.del(fill(api.dropLog.path, written.id))],
    ['bring an entry back', stranger.post(fill(api.restoreLog.path, written.id), {})],
    ['masters', stranger.get(fill(api.masters.path, rig.id))],
    ['put a master on record', stranger.post(fill(api.addMaster.path, rig.id), master)],
    ['put a master away', stranger.del(fill(api.dropMaster.path, made.id))],
    ['bring a master back', stranger.post(fill(api.restoreMaster.path, made.id), {})],
    ['cables', stranger.get(fill(api.cables.path, rig.id))],
    ['keep their cables', stranger.put(fill(api.keepCables.path, rig.id), { sheet, version: 0 })],
    ['drop a guide log', stranger.del(fill(api.dropGuideLog.path, log.id))],
    ['a run', stranger.get(fill(api.run.path, run.id))],
    ['accept a run', stranger.post(fill(api.acceptRun.path, run.id))],
    ['rehearse', stranger.post(fill(api.rehearse.path, planned.id), { seed: 1 })],
    ['cancel a plan', stranger.del(fill(api.cancelPlan.path, planned.id))],
    [
      'change a plan',
      stranger.put(fill(api.changePlan.path, planned.id), { ...plan(19, 20), version: planned.version }),
    ],
    ['plan on their rig', stranger.post(api.addPlan.path, plan(22, 23))],
    ['change a project', stranger.put(fill(api.changeProject.path, project.id), fields)],
    ['pin a framing', stranger.put(fill(api.pinFraming.path, project.id), { framing: null, version: project.version })],
    [
      'revise a rig',
      stranger.post(fill(api.reviseRig.path, rig.id), {
        name: rig.name,
        siteId: rig.siteId,
        setup: rig.setup,
        version: rig.version,
      }),
    ],
    ['change a site', stranger.put(fill(api.changeSite.path, site.id), siteFields)],
    ['archive a part', stranger.del(fill(api.archivePart.path, part.id))],
  ];
  const told = await Promise.all(tries.map(async ([what, answer]) => [what, (await answer).body.code] as const));
  expect(told).toEqual(tries.map(([what]) => [what, 'not_found']));
  expect(await list(api.logbook.path)).toEqual(expect.arrayContaining([expect.objectContaining({ id: written.id })]));
  // a list of one’s own club holds nothing of another’s
  expect((await stranger.get(api.logbook.path)).body).toEqual([]);
  expect((await stranger.get(api.weakSpots.path)).body).toEqual([]);
  expect((await list<ProjectRecord>(api.projects.path)).find((p) => p.id === project.id)).toEqual(project);
});
