import { expect, test } from '@jest/globals';
import { api, type RigRecord, type SinceLastNight } from '@keen/contract';
import { fill, testServer } from '../../test/harness.ts';

const { odalys, ines, sefu } = testServer(['odalys', 'ines', 'sefu']);

test('whoever comes back to a rig is told what others did to it since, and not what was before', async () => {
  const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  const since = async (p: typeof sefu, id: string) =>
    (await p.get(fill(api.sinceLastNight.path, id))).body as SinceLastNight;
  const told = await Promise.all(rigs.map(async (r) => ({ r, s: await since(sefu, r.id) })));
  const worked = told.find(({ s }) => s.night !== null)!;
  // who never worked with it has nothing to come back to
  expect(await since(ines, worked.r.id)).toEqual({ night: null, revisions: [], offsets: [], log: [] });
  const { r } = worked;
  const setup = { ...r.setup, note: 'the dovetail was turned round' };
  const body = { name: `${r.name} again`, siteId: r.siteId, setup, version: r.version };
  expect((await odalys.post(fill(api.reviseRig.path, r.id), body)).status).toBe(200);
  const fault = { rigId: r.id, problem: 'the clutch slips', stops: { system: null, until: null } };
  await odalys.post(api.addLog.path, fault);
  const after = await since(sefu, r.id);
  expect(after.night).toBe(worked.s.night);
  expect(after.revisions.length).toBe(worked.s.revisions.length + 1);
  expect(after.revisions[0]!.by).toBe('Odalys Brandt');
  expect(after.log[0]).toMatchObject({ problem: 'the clutch slips', by: 'Odalys Brandt', stops: true, cure: '' });
  expect((await odalys.get(fill(api.sinceLastNight.path, '00000000-0000-4000-8000-000000000000'))).status).toBe(404);
});
