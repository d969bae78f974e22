import { describe, expect, test } from '@jest/globals';
import {
  api,
  DuskSettings,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type RunRecord,
  type SiteRecord,
} from '@keen/contract';
import { fill, somethingToPlan, testServer, rehearsed } from '../test/harness.ts';

/** More people at once than the database has connections for this process: everybody is answered, and rightly. */
const CROWD = 40;
const { odalys } = testServer(['odalys']);

const crowd = <T>(one: (i: number) => PromiseLike<T>) => Promise.all(Array.from({ length: CROWD }, (_, i) => one(i)));
const tally = (answers: { status: number }[]) => ({
  saved: answers.filter((a) => a.status === 200).length,
  stale: answers.filter((a) => a.status === 409).length,
});
const one = { saved: 1, stale: CROWD - 1 };

describe('a crowd that saves the same record', () => {
  test('a rig', async () => {
    const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
    const answers = await crowd((i) =>
      odalys.post(fill(api.reviseRig.path, rig.id), {
        name: rig.name,
        siteId: rig.siteId,
        setup: { ...rig.setup, note: `by ${i}` },
        version: rig.version,
      }),
    );
    expect(tally(answers)).toEqual(one);
  });
  test('a site', async () => {
    const { id, updatedAt: _a, updatedBy: _b, ...site } = ((await odalys.get(api.sites.path)).body as SiteRecord[])[0]!;
    expect(
      tally(await crowd((i) => odalys.put(fill(api.changeSite.path, id), { ...site, horizonNote: `by ${i}` }))),
    ).toEqual(one);
  });
  test('a part', async () => {
    const part = {
      name: 'a new ring',
      kind: 'adapter',
      massKg: 0.1,
      count: 1,
      note: '',
      ownedByClub: true,
    };
    const { id, version } = (await odalys.post(api.addPart.path, part)).body as { id: string; version: number };
    expect(
      tally(await crowd((i) => odalys.put(fill(api.changePart.path, id), { ...part, note: `by ${i}`, version }))),
    ).toEqual(one);
  });
  test('a project, and its framing', async () => {
    const project = ((await odalys.get(api.projects.path)).body as ProjectRecord[])[0]!;
    const pin = (angleDeg: number) => ({
      framing: {
        raDeg: 10,
        decDeg: 40,
        angleDeg,
        windowPaDeg: null,
        columns: 1,
        rows: 1,
        overlap: 0.1,
        star: null,
        guideExposureS: null,
      },
      version: project.version,
    });
    expect(tally(await crowd((i) => odalys.put(fill(api.pinFraming.path, project.id), pin(i))))).toEqual(one);
  });
  test('what was told about a rig’s evenings', async () => {
    const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name.includes('Newtonian'))!;
    const settings = (ambientC: number) => DuskSettings.parse({ cooling: { ambientC } });
    expect(
      tally(
        await crowd((i) => odalys.put(fill(api.keepDuskSettings.path, rig.id), { settings: settings(i), version: 0 })),
      ),
    ).toEqual(one);
  });
  test('a night: of all plans of one hour one is saved', async () => {
    const { plan } = await somethingToPlan(odalys, '2027-04-01');
    expect(tally(await crowd(() => odalys.post(api.addPlan.path, plan(20, 21))))).toEqual(one);
  });
});

test('a plan is cancelled and a run of it accepted in one moment: one of both happens', async () => {
  const { plan } = await somethingToPlan(odalys, '2027-05-02');
  const made = (await odalys.post(api.addPlan.path, plan(21, 22))).body as PlanRecord;
  const run = (await rehearsed(odalys, made.id, 2)).body as RunRecord;
  const answers = await Promise.all([
    odalys.del(fill(api.cancelPlan.path, made.id)),
    odalys.post(fill(api.acceptRun.path, run.id)),
  ]);
  expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
  expect(answers.find((a) => a.status === 409)!.body.code).toBe('already_done');
});

test('while a crowd saves, those who only look are answered', async () => {
  const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
  const body = { name: rig.name, siteId: rig.siteId, setup: rig.setup, version: rig.version };
  const [, looks] = await Promise.all([
    crowd(() => odalys.post(fill(api.reviseRig.path, rig.id), body)),
    crowd(() => odalys.get(api.projects.path)),
  ]);
  expect(looks.map((l) => l.status)).toEqual(looks.map(() => 200));
});
