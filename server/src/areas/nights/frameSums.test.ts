import { beforeAll, expect, test } from '@jest/globals';
import { api, type NightRecord, type ProjectRecord, type RigRecord } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import { fill, rehearsed, somethingToPlan, testServer } from '../../test/harness.ts';
import { takenOf, takenOfMany } from '../projects/progress.ts';

const { server, odalys } = testServer(['odalys']);
let rig: RigRecord;
let project: ProjectRecord;
beforeAll(async () => {
  rig = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;
  project = ((await odalys.get(api.projects.path)).body as ProjectRecord[]).find((p) => p.object === 'NGC 281')!;
}, 60_000);

const ask = <T extends object>(sql: string) => server.db.query<T>(sql, { type: QueryTypes.SELECT });
const inOrder = (rows: readonly object[]) =>
  rows.map((r) => JSON.stringify(Object.entries(r).sort(([a], [b]) => (a < b ? -1 : 1)))).sort();

/** What is remembered is what the frames come to, by a plain count of each of them. */
async function holds(): Promise<void> {
  const ids = (await ask<{ id: string }>('SELECT id FROM projects')).map((p) => p.id);
  expect(inOrder(await takenOfMany(server.store, ids))).toEqual(inOrder(await takenOf(server.store, ids)));
  const nights = (await odalys.get(fill(api.nights.path, rig.id))).body as NightRecord[];
  const counted = await ask<{
    run: string;
    kind: string;
    filter: string;
    project: string | null;
    yes: number;
    no: number;
  }>(
    `SELECT run_id AS run, kind, filter, project_id AS project, CAST(SUM(accepted = 1) AS INT) AS yes, CAST(SUM(accepted = 0) AS INT) AS no
     FROM frames GROUP BY run_id, kind, filter, project_id, exposure_s`,
  );
  for (const n of nights) {
    const own = counted.filter((c) => c.run === n.id);
    expect(inOrder(n.taken.map((t) => ({ p: t.projectId, f: t.filter, a: t.accepted, r: t.rejected })))).toEqual(
      inOrder(
        own
          .filter((c) => c.kind === 'light')
          .map((c) => ({ p: c.project, f: c.filter, a: Number(c.yes), r: Number(c.no) })),
      ),
    );
    expect(n.calibration).toBe(
      own.filter((c) => c.kind !== 'light').reduce((s, c) => s + Number(c.yes) + Number(c.no), 0),
    );
  }
}

test('what was summed once is what the frames come to, after whatever changes them', async () => {
  await holds();
  const frame = (n: number, more: object = {}) => ({
    kind: 'light',
    projectId: project.id,
    filter: n % 2 ? 'Ha' : 'OIII',
    exposureS: 300,
    startedAt: `2026-11-10T20:0${n}:00.000Z`,
    file: `sum-${n}.fits`,
    hash: `${n}`.repeat(64),
    header: { raDeg: project.raDeg, decDeg: project.decDeg },
    accepted: true,
    reason: '',
    refusal: null,
    ...more,
  });
  const frames = [0, 1, 2, 3, 4, 5].map((n) => frame(n));
  frames.push(frame(6, { kind: 'dark', projectId: null, filter: '', startedAt: null }));
  const folder = { system: 'main', night: '2026-11-10', name: 'sums', frames };
  const { night } = (await odalys.post(fill(api.recordNight.path, rig.id), folder)).body as { night: NightRecord };
  await holds();
  const [{ id }] = (await ask<{ id: string }>(
    `SELECT id FROM frames WHERE run_id = '${night.id}' AND kind = 'light'`,
  )) as [{ id: string }];
  const judged = { frames: [id], accepted: false, reason: 'a trail', refusal: 'by-hand', judged: true };
  const verdict = await odalys.put(fill(api.judgeFrames.path, night.id), judged);
  expect(verdict.status).toBe(200);
  await holds();
  // pinned as a mosaic its frames have panels, let go they have none
  const now = async () =>
    ((await odalys.get(api.projects.path)).body as ProjectRecord[]).find((p) => p.id === project.id)!;
  const panels = async () =>
    (
      await ask<{ n: number }>(
        `SELECT COUNT(*) AS n FROM frames WHERE project_id = '${project.id}' AND panel IS NOT NULL`,
      )
    )[0]!.n;
  const framing = {
    raDeg: project.raDeg,
    decDeg: project.decDeg,
    angleDeg: 0,
    windowPaDeg: null,
    guideExposureS: null,
    columns: 2,
    rows: 1,
    overlap: 0.1,
    star: null,
  };
  const pinned = await odalys.put(fill(api.pinFraming.path, project.id), { framing, version: (await now()).version });
  expect([pinned.status, Number(await panels()) > 0]).toEqual([200, true]);
  await holds();
  const loose = await odalys.put(fill(api.pinFraming.path, project.id), {
    framing: null,
    version: (await now()).version,
  });
  expect([loose.status, Number(await panels())]).toEqual([200, 0]);
  await holds();
  expect((await odalys.del(fill(api.undoNight.path, night.id))).status).toBe(200);
  await holds();
  const { plan } = await somethingToPlan(odalys, '2027-03-01');
  const made = (await odalys.post(api.addPlan.path, plan(19, 21))).body as { id: string };
  const run = (await rehearsed(odalys, made.id, 3)).body as { id: string };
  await holds();
  expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(200);
  await holds();
}, 60_000);
