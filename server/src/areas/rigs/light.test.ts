import { describe, expect, test } from '@jest/globals';
import type { RigRecord } from '@keen/contract';
import { type Person, testServer } from '../../test/harness.ts';

/** What a camera and its filters let through is kept with the rig: a figure of exposures, no change of the train. */
const { odalys: steward, teun: member, ines: guest } = testServer(['odalys', 'teun', 'ines']);

const first = async (who = steward) => ((await who.get('/api/rigs')).body as RigRecord[])[0]!;
const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;
type Change = (setup: RigRecord['setup']) => void;
async function revise(who: Person, change: Change) {
  const r = await first();
  const setup = copy(r.setup);
  change(setup);
  return who.post(`/api/rigs/${r.id}/revisions`, { name: r.name, siteId: r.siteId, setup, version: r.version });
}

describe('the light a rig gets', () => {
  test('a rig from before has none of it, and nothing is made up for it', async () => {
    const r = await first();
    expect([r.setup.systems[0]!.camera.sensor, r.setup.systems[0]!.bands]).toEqual([undefined, undefined]);
  });
  test('is kept as it was sent; no aspect of the train and no train state changes with it', async () => {
    const before = await first();
    const sensor = { readNoiseE: 1.7, quantumEfficiency: 0.82, fullWellE: 38_000, darkEPerSPx: 0.0016 };
    const bands = [
      { filter: 'Ha', bandwidthNm: 4.5, skyEPerSPx: 0.081, skyOn: '2026-11-02' },
      { filter: 'L', bandwidthNm: 290 },
    ];
    const got = await revise(member, (s) =>
      Object.assign(s.systems[0]!, { bands, camera: { ...s.systems[0]!.camera, sensor } }),
    );
    expect(got.status).toBe(200);
    const after = await first(member);
    expect([after.setup.systems[0]!.camera.sensor, after.setup.systems[0]!.bands]).toEqual([sensor, bands]);
    expect(after.systems.map((s) => [s.trainStateId, s.aspects])).toEqual(
      before.systems.map((s) => [s.trainStateId, s.aspects]),
    );
    expect(after.revision).toBe(before.revision + 1);
  });
  test.each<[string, Change, string]>([
    [
      'more light than there is',
      (s) => Object.assign(s.systems[0]!.camera, { sensor: { quantumEfficiency: 1.2 } }),
      'setup.systems.0.camera.sensor.quantumEfficiency',
    ],
    [
      'noise below none',
      (s) => Object.assign(s.systems[0]!.camera, { sensor: { readNoiseE: -1 } }),
      'setup.systems.0.camera.sensor.readNoiseE',
    ],
    [
      'a figure nobody knows',
      (s) => Object.assign(s.systems[0]!.camera, { sensor: { gain: 100 } }),
      'setup.systems.0.camera.sensor',
    ],
    [
      'a band of no width',
      (s) => Object.assign(s.systems[0]!, { bands: [{ filter: 'Ha', bandwidthNm: 0 }] }),
      'setup.systems.0.bands.0.bandwidthNm',
    ],
    [
      'one filter twice',
      (s) => Object.assign(s.systems[0]!, { bands: [{ filter: 'Ha' }, { filter: 'Ha' }] }),
      'setup.systems.0.bands.1',
    ],
    [
      'a night that is none',
      (s) => Object.assign(s.systems[0]!, { bands: [{ filter: 'Ha', skyEPerSPx: 1, skyOn: '2026-02-30' }] }),
      'setup.systems.0.bands.0.skyOn',
    ],
    [
      'more filters than any wheel',
      (s) => Object.assign(s.systems[0]!, { bands: Array.from({ length: 31 }, (_, i) => ({ filter: `f${i}` })) }),
      'setup.systems.0.bands',
    ],
  ])('%s is refused with its place, and what stood there stays', async (_what, change, path) => {
    const before = await first();
    const got = await revise(member, change);
    expect([got.status, got.body.code]).toEqual([400, 'invalid_input']);
    expect((got.body.issues as { path: string }[]).map((i) => i.path)).toContain(path);
    expect((await first()).version).toBe(before.version);
  });
  test('a guest reads it and keeps none', async () => {
    expect((await first(guest)).setup.systems[0]!.bands).toHaveLength(2);
    expect((await revise(guest, (s) => void delete s.systems[0]!.bands)).status).toBe(403);
  });
  test('taken away again it is gone, not empty', async () => {
    await revise(steward, (s) => void (delete s.systems[0]!.bands, delete s.systems[0]!.camera.sensor));
    const r = await first();
    expect(r.setup.systems[0]).not.toHaveProperty('bands');
    expect(r.setup.systems[0]!.camera).not.toHaveProperty('sensor');
  });
});
