import { describe, expect, test } from '@jest/globals';
import { api, type MemberInfo, type ProjectRecord, type RigRecord } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import { fill, somethingToPlan, testServer } from '../test/harness.ts';

const { server, odalys, teun } = testServer(['odalys', 'teun']);
const turns = async (table: 'clubs' | 'rigs', where: string) => {
  const [row] = await server.db.query<{ n: number }>(`SELECT SUM(turns) AS n FROM ${table} WHERE ${where}`, {
    type: QueryTypes.SELECT,
  });
  return Number(row!.n);
};
const triplet = async () =>
  ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;

describe('what must exclude itself writes into the record that guards it', () => {
  test.each<[string, (rig: RigRecord) => Promise<{ status: number }>]>([
    [
      'a plan',
      async () => {
        const { plan } = await somethingToPlan(teun, '2027-02-03');
        return teun.post(api.addPlan.path, plan(19, 21));
      },
    ],
    [
      'a night brought in',
      async (rig) => {
        const projects = (await teun.get(api.projects.path)).body as ProjectRecord[];
        const frame = {
          kind: 'light',
          projectId: projects.find((p) => p.rigId === rig.id && p.owner.startsWith('Teun'))!.id,
          filter: 'Ha',
          exposureS: 300,
          startedAt: '2026-11-09T20:00:00.000Z',
          file: 'a.fits',
          hash: 'a'.repeat(64),
          header: {},
          accepted: true,
          reason: '',
        };
        const body = { system: rig.systems[0]!.key, night: '2026-11-09', name: 'a', frames: [frame] };
        return teun.post(fill(api.recordNight.path, rig.id), body);
      },
    ],
    [
      'focus runs',
      async (rig) => {
        const run = {
          filter: 'Ha',
          position: 14_000,
          time: null,
          temperatureC: 4,
          hfd: 2,
          error: 1,
          usable: true,
          reason: '',
          points: [],
        };
        const body = { trainStateId: rig.systems[0]!.trainStateId, source: 'typed', runs: [run] };
        return teun.post(api.addFocusRuns.path, body);
      },
    ],
    [
      'the rig itself',
      async ({ id, name, siteId, setup, version }) =>
        odalys.post(fill(api.reviseRig.path, id), { name, siteId, setup: { ...setup, note: 'turned' }, version }),
    ],
  ])('%s', async (_, send) => {
    const rig = await triplet();
    const counts = () => Promise.all(['=', '<>'].map((is) => turns('rigs', `id ${is} '${rig.id}'`)));
    const [own, others] = await counts();
    const got = await send(rig);
    expect(got.status).toBe(200);
    expect(await counts()).toEqual([own! + 1, others]);
  });
  test('what is refused leaves no turn behind', async () => {
    const rig = await triplet();
    const before = await turns('rigs', `id = '${rig.id}'`);
    const { id, name, siteId, setup } = rig;
    const old = { name, siteId, setup, version: rig.version - 1 };
    expect((await odalys.post(fill(api.reviseRig.path, id), old)).body.code).toBe('stale');
    expect(await turns('rigs', `id = '${rig.id}'`)).toBe(before);
  });
  test('a part that is put away, and a rig that names one', async () => {
    const part = { name: 'a ring', kind: 'rings', massKg: 0.4, lengthMm: 20, ownedByClub: true };
    const { id } = (await odalys.post(api.addPart.path, part)).body as { id: string };
    const rig = await triplet();
    const place = { ...rig.setup.placed[0]!, name: 'a ring more', partId: id };
    const counts = async () => [await turns('clubs', '1 = 1'), await turns('rigs', `id = '${rig.id}'`)];
    const [clubs, rigs] = await counts();
    const { name, siteId, version } = rig;
    const body = { name, siteId, setup: { ...rig.setup, placed: [...rig.setup.placed, place] }, version };
    expect((await odalys.post(fill(api.reviseRig.path, rig.id), body)).status).toBe(200);
    expect(await counts()).toEqual([clubs! + 1, rigs! + 1]);
    expect((await odalys.del(fill(api.archivePart.path, id))).body.code).toBe('in_use');
    // the part is added in a turn of its own
    const unused = (await odalys.post(api.addPart.path, { ...part, name: 'another' })).body as { id: string };
    expect((await odalys.del(fill(api.archivePart.path, unused.id))).status).toBe(200);
    expect(await counts()).toEqual([clubs! + 3, rigs! + 1]);
  });
  test('a change of members, where somebody must stay steward', async () => {
    const ines = ((await odalys.get(api.members.path)).body as MemberInfo[]).find((m) => m.role === 'guest')!;
    const before = await turns('clubs', '1 = 1');
    expect((await odalys.put(fill(api.changeMember.path, ines.id), { role: 'member' })).status).toBe(200);
    expect(await turns('clubs', '1 = 1')).toBe(before + 1);
  });
});
