import { expect, test } from '@jest/globals';
import {
  api,
  type Board,
  type JobRecord,
  type LogFields,
  type LogRecord,
  type PlanRecord,
  type RigRecord,
} from '@keen/contract';
import { ended, fill, somethingToPlan, testServer } from '../../test/harness.ts';

const { odalys, teun, ines } = testServer(['odalys', 'teun', 'ines']);
const [NIGHT, LATER] = ['2026-12-05', '2026-12-08'];

test('a fault keeps a rig from plans, bookings and hours of the board, up to its night, until it is cured', async () => {
  const { rig, plan } = await somethingToPlan(teun, NIGHT);
  const { plan: later } = await somethingToPlan(teun, LATER);
  const fault: Partial<LogFields> = {
    rigId: rig.id,
    problem: 'The clutch of the declination axis slips.',
    stops: { system: null, until: '2026-12-06' },
  };
  const told = (await teun.post(api.addLog.path, fault)).body as LogRecord;
  expect(((await ines.get(api.stops.path)).body as LogRecord[]).map((s) => [s.id, s.by])).toEqual([
    [told.id, 'Teun Achterberg'],
  ]);
  const refused = await odalys.post(api.addPlan.path, plan(19, 21));
  expect([refused.status, refused.body.code]).toEqual([409, 'out_of_order']);
  expect(refused.body.detail).toBe(
    'Out of order up to the night of 2026-12-06: The clutch of the declination axis slips. It is cleared in the logbook.',
  );
  const hours = { rigId: rig.id, night: NIGHT, start: `${NIGHT}T20:00:00Z`, end: `${NIGHT}T22:00:00Z` };
  expect((await odalys.post(api.addBooking.path, hours)).body.code).toBe('out_of_order');
  const after = await teun.post(api.addPlan.path, later(19, 20));
  expect(after.status).toBe(200);
  await teun.del(fill(api.cancelPlan.path, (after.body as PlanRecord).id));
  const board = async (): Promise<Board> => {
    const body = { from: NIGHT, nights: 3, rigIds: [rig.id], fairDays: null, switchPenalty: 0 };
    const done = await ended(odalys, ((await odalys.post(api.workOutBoard.path, body)).body as JobRecord).id);
    return done.result?.kind === 'board' ? done.result.board : (null as never);
  };
  const nights = (of: Board) => [...new Set(of.slots.map((s) => s.night))];
  expect(nights(await board())).toEqual(['2026-12-07']);
  // whoever wrote it says what cured it
  const { version } = told;
  const cured = await teun.put(fill(api.changeLog.path, told.id), { ...fault, cure: 'new pads', version });
  expect(cured.status).toBe(200);
  expect((await ines.get(api.stops.path)).body).toEqual([]);
  expect((await odalys.post(api.addPlan.path, plan(19, 21))).status).toBe(200);
  expect(nights(await board())).toContain(NIGHT);
}, 60_000);

test('a fault of one system leaves the rig’s others at work; a stranger’s system is refused', async () => {
  const rigs = (await odalys.get(api.rigs.path)).body as RigRecord[];
  const two = rigs.find((r) => r.systems.length > 1)!;
  const [lead, other] = two.systems;
  const fault = { rigId: two.id, problem: 'no light', stops: { system: other!.key, until: null } };
  const told = (await odalys.post(api.addLog.path, fault)).body as LogRecord;
  const hours = { rigId: two.id, night: NIGHT, start: `${NIGHT}T20:00:00Z`, end: `${NIGHT}T22:00:00Z` };
  const booked = await odalys.post(api.addBooking.path, hours);
  expect(booked.status).toBe(200);
  await odalys.del(fill(api.cancelBooking.path, (booked.body as { id: string }).id));
  const { plan, project } = await somethingToPlan(odalys, NIGHT, two.name);
  const planned = await odalys.post(api.addPlan.path, plan(19, 20));
  expect([project.system, planned.status === 200]).toEqual([project.system, project.system === lead!.key]);
  const wrong = await odalys.post(api.addLog.path, { ...fault, stops: { system: 'nothing of it', until: null } });
  expect(wrong.body.issues[0].path).toBe('stops.system');
  await odalys.del(fill(api.dropLog.path, told.id));
  expect((await odalys.get(api.stops.path)).body).toEqual([]);
}, 60_000);
