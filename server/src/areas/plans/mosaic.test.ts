import { describe, expect, test } from '@jest/globals';
import {
  api,
  type FramingFields,
  type PlanRecord,
  type ProjectRecord,
  type RigRecord,
  type RunRecord,
} from '@keen/contract';
import { panelsOf } from '@keen/core/sky';
import { mosaicOf } from '@keen/core/train';
import { viewOf } from '@keen/core/rig';
import { fill, somethingToPlan, testServer, rehearsed } from '../../test/harness.ts';

const { odalys } = testServer(['odalys']);

const projectNow = async (id: string) =>
  ((await odalys.get(api.projects.path)).body as ProjectRecord[]).find((p) => p.id === id)!;
/** A project begun for the test, so that no frames of the demo are in it, pinned as two panels side by side. */
async function mosaic(night: string, columns = 2) {
  const some = await somethingToPlan(odalys, night);
  const { name: _n, ...like } = some.projects[0]!;
  const { object, objectType, raDeg, decDeg, sizeArcmin, rigId, system, angleDeg, minimumAltitudeDeg, goals, note } =
    like;
  const fields = {
    name: `mosaic ${night}`,
    object,
    objectType,
    raDeg,
    decDeg,
    sizeArcmin,
    rigId,
    system,
    angleDeg,
    minimumAltitudeDeg,
    goals,
    note,
  };
  const made = (await odalys.post(api.addProject.path, fields)).body as ProjectRecord;
  const framing: FramingFields = {
    raDeg,
    decDeg,
    angleDeg: 0,
    windowPaDeg: null,
    columns,
    rows: 1,
    overlap: 0.1,
    star: null,
    guideExposureS: null,
  };
  const pin = async (f: FramingFields, version: number) =>
    (await odalys.put(fill(api.pinFraming.path, made.id), { framing: f, version })).body as ProjectRecord;
  return { ...some, project: await pin(framing, made.version), framing, pin };
}
const panelsIn = (framing: FramingFields, rig: RigRecord, system: string) =>
  panelsOf(mosaicOf(framing, viewOf(rig.setup, system)));

describe('a mosaic', () => {
  test('is worked panel by panel: each panel has its own sky, quota and frames', async () => {
    const { plan, leg, project } = await mosaic('2027-01-20');
    const none = project.goals.map(() => 0);
    expect(project).toMatchObject({ panels: 2, byPanel: [none, none], done: none });
    const filters = project.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: 3 }));
    const of = (panel: number, from: number, to: number) =>
      leg(from, to, {
        id: `p${panel}`,
        projectId: project.id,
        panel,
        turnMin: 60,
        settings: { ...leg(0, 0).settings, filters },
      });
    const got = await odalys.post(api.addPlan.path, plan(18, 22, { legs: [of(0, 18, 22), of(1, 18, 22)] }));
    expect(got.status).toBe(200);
    const saved = got.body as PlanRecord;
    // the western panel crosses the meridian at its own moment
    if (saved.legs[0]!.flipAt && saved.legs[1]!.flipAt) expect(saved.legs[0]!.flipAt).not.toBe(saved.legs[1]!.flipAt);
    const run = (await rehearsed(odalys, saved.id, 3)).body as RunRecord;
    const good = (k: number) => run.result.frames.filter((f) => f.leg === k && f.accepted).length;
    expect(good(0)).toBeGreaterThan(0);
    expect(good(1)).toBeGreaterThan(0);
    expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(200);
    const after = await projectNow(project.id);
    const sum = (done: number[]) => done.reduce((s, n) => s + n, 0);
    expect(after.byPanel.map(sum)).toEqual([good(0), good(1)]);
    expect(sum(after.done)).toBe(good(0) + good(1));
  });
  test('gives frames that are brought in the panel they point at, and again when it is framed anew', async () => {
    const { project, framing, pin, rig } = await mosaic('2027-02-01');
    const [east, west] = panelsIn(framing, rig, project.system);
    const [goal] = project.goals;
    const frame = (n: number, at?: { raDeg: number; decDeg: number }) => ({
      kind: 'light',
      projectId: project.id,
      filter: goal!.filter,
      exposureS: goal!.exposureS,
      startedAt: '2026-10-20T20:00:00.000Z',
      file: `f${n}.fits`,
      hash: null,
      header: at ? { raDeg: at.raDeg, decDeg: at.decDeg } : {},
      accepted: true,
      reason: '',
      refusal: null,
    });
    const far = { raDeg: project.raDeg, decDeg: project.decDeg > 0 ? project.decDeg - 40 : project.decDeg + 40 };
    const frames = [frame(1, east), frame(2, east), frame(3, west), frame(4), frame(5, far)];
    const body = { system: project.system, night: '2026-10-20', name: 'two panels', frames };
    expect((await odalys.post(fill(api.recordNight.path, rig.id), body)).status).toBe(200);
    const brought = await projectNow(project.id);
    expect(brought.byPanel.map((done) => done[0])).toEqual([2, 1]);
    // without a place, or beside all panels, it counts for none
    expect(brought.nights.filter((n) => !n.counts)).toEqual([expect.objectContaining({ panel: null, accepted: 2 })]);
    expect(brought.done[0]).toBe(3);
    // one field again: every frame counts; then a mosaic that lies elsewhere
    const single = await pin({ ...framing, columns: 1 }, brought.version);
    expect([single.panels, single.byPanel, single.done[0]]).toEqual([1, [], 5]);
    const moved = await pin({ ...framing, raDeg: west!.raDeg, decDeg: west!.decDeg }, single.version);
    const places = panelsIn({ ...framing, raDeg: west!.raDeg, decDeg: west!.decDeg }, rig, project.system);
    expect(places).toHaveLength(2);
    expect(moved.byPanel.reduce((s, d) => s + d[0]!, 0)).toBeLessThanOrEqual(3);
  });
  test('refuses a panel it does not have, and one of a single field', async () => {
    const { plan, leg, project, projects } = await mosaic('2027-02-05');
    const try_ = async (projectId: string, panel: number) => {
      const got = await odalys.post(api.addPlan.path, plan(18, 20, { legs: [leg(18, 20, { projectId, panel })] }));
      return [got.status, got.body.issues?.[0].path, got.body.issues?.[0].message];
    };
    expect(await try_(project.id, 2)).toEqual([400, 'legs.0.panel', expect.stringContaining('has 2 panels')]);
    const single = projects.find((p) => p.panels === 1)!;
    expect(await try_(single.id, 0)).toEqual([400, 'legs.0.panel', expect.stringContaining('one field')]);
  });
});
