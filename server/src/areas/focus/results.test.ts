import { beforeAll, expect, test } from '@jest/globals';
import { api, type FocusRunRecord, type RigRecord } from '@keen/contract';
import { offsets } from '@keen/core/focus';
import { every, testServer } from '../../test/harness.ts';

const { odalys } = testServer(['odalys']);
let trainStateId: string;
beforeAll(async () => {
  const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  for (const r of rigs) {
    trainStateId = r.systems[0]!.trainStateId;
    if ((await kept()).length > 20) break;
  }
}, 60_000);

const kept = () => every<FocusRunRecord>(odalys, `${api.focusRuns.path}?trainStateId=${trainStateId}`);
/** What the screen would send now. */
async function found() {
  const runs = (await kept()).filter((r) => r.usable && !r.excluded);
  const reference = runs[0]!.filter;
  const got = offsets({
    runs: runs.map(({ filter, position, temperatureC, time }) => ({
      filter,
      position,
      ...(temperatureC === null ? {} : { temperatureC }),
      ...(time === null ? {} : { time }),
    })),
    reference,
    model: 'temperature',
  });
  return {
    trainStateId,
    reference,
    model: 'temperature',
    offsets: got.offsets,
    temperatureStepsPerC: got.temperatureStepsPerC ?? null,
    zoneSteps: null,
    runCount: runs.length,
  };
}
const adopt = (body: object) => odalys.post(api.adoptOffsets.path, body);

test('offsets are adopted as the runs on record give them: what is sent beside them does not count', async () => {
  const body = await found();
  const got = await adopt({ ...body, temperatureStepsPerC: 999, runCount: 1 });
  expect(got.status).toBe(200);
  expect(got.body).toMatchObject({ offsets: JSON.parse(JSON.stringify(body.offsets)), runCount: body.runCount });
  expect(got.body.temperatureStepsPerC).toBeCloseTo(body.temperatureStepsPerC!, 6);
});
test('offsets of one’s own making are refused, and those of runs that somebody left out meanwhile', async () => {
  const body = await found();
  const [filter] = Object.keys(body.offsets).filter((f) => f !== body.reference);
  const invented = {
    ...body.offsets,
    [filter!]: { ...body.offsets[filter!]!, steps: body.offsets[filter!]!.steps + 40 },
  };
  expect((await adopt({ ...body, offsets: invented })).body.code).toBe('stale');
  const run = (await kept()).find((r) => r.filter === filter && r.usable && !r.excluded)!;
  await odalys.put(api.excludeFocusRun.path.replace(':id', run.id), { excluded: true });
  expect((await adopt(body)).body.code).toBe('stale');
  expect((await adopt(await found())).status).toBe(200);
});
test('a run with points is stored as its points say; one that cannot be fitted says why', async () => {
  const points = Array.from({ length: 9 }, (_, i) => ({
    position: 900 + 25 * i,
    hfd: Math.hypot(2.1, (i - 4.4) * 0.9),
  }));
  const base = { filter: 'L', hfd: 1, error: 0, temperatureC: 3, usable: true, reason: '' };
  const runs = [
    { ...base, position: 5, time: '2026-11-01T20:00:00Z', points },
    { ...base, position: 777, time: '2026-11-01T20:10:00Z', points: points.slice(0, 3) },
    { ...base, position: 1010, time: '2026-11-01T20:20:00Z', points: [] },
  ];
  expect((await odalys.post(api.addFocusRuns.path, { trainStateId, source: 'file', runs })).body.added).toBe(3);
  const stored = (await kept()).filter((r) => r.time?.startsWith('2026-11-01T20:'));
  expect(stored[0]!.position).toBeCloseTo(1010, 0);
  expect(stored[0]!.hfd).toBeCloseTo(2.1, 1);
  expect(stored[1]).toMatchObject({ usable: false, position: 900 });
  expect(stored[1]!.reason).toMatch(/points/);
  expect(stored[2]).toMatchObject({ usable: true, position: 1010 });
});
