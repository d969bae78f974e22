import { afterAll, describe, expect, test } from '@jest/globals';
import {
  api,
  type KeptFrames,
  type LiveRun,
  type NumberedEvent,
  type PlanRecord,
  type RunRecord,
} from '@keen/contract';
import { measurePicture } from '@keen/core/frames';
import { step, type Happened, type Rehearsal, type RunState } from '@keen/core/run';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeFrame } from './drawFrame.ts';
import { forgetOld } from './log.ts';
import { fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';
import { standInBridge } from '../../test/standInBridge.ts';

const folder = mkdtempSync(join(tmpdir(), 'frames-'));
const { server, odalys, teun, ines } = testServer(['odalys', 'teun', 'ines'], {
  config: { frames: { folder, days: 30, reserveMb: 0 } },
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const until = async (what: () => Promise<boolean>) => {
  for (let i = 0; i < 1500; i++) {
    if (await what()) return;
    await new Promise((r) => setTimeout(r, 30));
  }
  throw new Error('it does not come');
};
const of = async (id: string) => (await teun.get(fill(api.liveRun.path, id))).body as LiveRun;
const framesOf = async (id: string) => (await teun.get(fill(api.liveRunFrames.path, id))).body as KeptFrames;
const at = (path: string, id: string, n: number) => path.replace(':id', id).replace(':n', String(n));
/** A file as it is sent. */
const fileOf = (p: Person, id: string, n: number) =>
  p
    .get(at(api.liveRunFile.path, id, n))
    .buffer(true)
    .parse((res, done) => {
      const parts: Buffer[] = [];
      res.on('data', (part: Buffer) => parts.push(part));
      res.on('end', () => done(null, Buffer.concat(parts)));
    });
/** A short night, driven as fast as it goes. */
async function night(): Promise<LiveRun> {
  const made = await teun.post(api.addPlan.path, (await somethingToPlan(teun, '2027-02-10')).plan(19, 20.5));
  const plan = made.body as PlanRecord;
  const { id } = (await teun.post(fill(api.startRun.path, plan.id), { seed: 4, speed: 600 })).body as LiveRun;
  await server.db.query('UPDATE live_runs SET speed = 20000 WHERE id = :id', { replacements: { id } });
  server.live.runner.look();
  await until(async () => (await of(id)).state === 'ended');
  await teun.del(fill(api.cancelPlan.path, plan.id));
  return of(id);
}

test('each frame of a run is a file, measured as it came; whoever may watch may have it', async () => {
  const run = await night();
  await until(async () => (await framesOf(run.id)).frames.length === run.frames);
  const { days, frames } = await framesOf(run.id);
  expect([days, frames.length > 2, frames.every((f) => f.kept)]).toEqual([30, true, true]);
  const { result } = (await teun.get(fill(api.run.path, run.runId!))).body as RunRecord;
  for (const [i, f] of frames.entries()) {
    expect([f.n, f.filter, f.start]).toEqual([i, result.frames[i]!.filter, result.frames[i]!.start]);
    // what was drawn shows what the camera told
    expect(Math.abs(f.hfdPx! / result.frames[i]!.hfdPx - 1)).toBeLessThan(0.35);
    expect(f.bytes).toBe(statSync(join(folder, run.id, `${i}.fits`)).size);
  }
  const file = await fileOf(odalys, run.id, 1);
  expect([file.status, file.type]).toEqual([200, 'application/fits']);
  const measured = measurePicture(new Uint8Array(file.body as Buffer));
  expect([measured.header.filter, measured.stars]).toEqual([frames[1]!.filter, frames[1]!.stars]);
  const small = (await ines.get(at(api.liveRunPicture.path, run.id, 1))).body as {
    widthPx: number;
    heightPx: number;
    tones: string;
  };
  expect(Buffer.from(small.tones, 'base64')).toHaveLength(small.widthPx * small.heightPx);
  expect((await teun.get(at(api.liveRunPicture.path, run.id, 999))).status).toBe(404);
  expect((await teun.get(`${fill(api.liveRunFrames.path, run.id)}/..%2f..%2fetc/file`)).status).toBeGreaterThanOrEqual(
    400,
  );
  // one that somebody took away is not there, and nothing breaks
  rmSync(join(folder, run.id, '1.fits'));
  expect((await fileOf(odalys, run.id, 1)).status).toBe(404);
}, 90_000);

test('they are kept for so long; folders of runs that are no more go, and nothing else in the folder', async () => {
  const run = await night();
  await until(async () => (await framesOf(run.id)).frames.length === run.frames);
  const stranger = join(folder, '00000000-0000-4000-8000-000000000009');
  mkdirSync(stranger);
  writeFileSync(join(folder, 'notes.txt'), 'mine');
  await server.db.query("UPDATE run_frames SET kept_at = '2020-01-01' WHERE run_id = :id AND n < 2", {
    replacements: { id: run.id },
  });
  await server.db.query("UPDATE live_runs SET ended_at = '2020-01-01' WHERE id = :id", {
    replacements: { id: run.id },
  });
  await server.live.keeper.sweep(true);
  expect((await framesOf(run.id)).frames.map((f) => f.n)).toEqual(
    Array.from({ length: run.frames }, (_, i) => i).slice(2),
  );
  expect(readdirSync(join(folder, run.id)).filter((f) => /^[01]\./.test(f))).toEqual([]);
  expect([existsSync(stranger), existsSync(join(folder, 'notes.txt'))]).toEqual([false, true]);
}, 90_000);

test('where no room is left the night is closed, and that is said', async () => {
  Object.assign(server.config.frames, { reserveMb: 1e12 });
  try {
    const run = await night();
    const { result } = (await teun.get(fill(api.run.path, run.runId!))).body as RunRecord;
    const codes = result.events.map((e) => e.phrase?.code);
    expect(codes).toContain('run.no-room');
    expect(codes.filter((c) => c === 'run.no-room')).toHaveLength(1);
    expect(codes.at(-1)).toBe('run.parked-warming');
    // nothing that was taken is lost from the record
    expect(result.frames.length).toBe(run.frames);
    const { frames } = await framesOf(run.id);
    expect(frames[0]).toMatchObject({ kept: false, problem: 'no room where frames are kept', stars: null });
    // there is room again: what is missing is made up for
    Object.assign(server.config.frames, { reserveMb: 0 });
    await server.live.keeper.sweep(true);
    const after = (await framesOf(run.id)).frames;
    expect(after.map((f) => f.kept)).toEqual(Array(run.frames).fill(true));
  } finally {
    Object.assign(server.config.frames, { reserveMb: 0 });
  }
}, 90_000);

test('what happened is kept two years beyond a run’s end, what came of it for longer', async () => {
  const run = await night();
  const count = async () => {
    const [row] = await server.store.read<{ n: number }>('SELECT COUNT(*) AS n FROM run_events WHERE run_id = ?', [
      run.id,
    ]);
    return Number(row!.n);
  };
  await forgetOld(server.store);
  expect(await count()).toBe(run.events);
  await server.db.query("UPDATE live_runs SET ended_at = '2020-01-01' WHERE id = :id", {
    replacements: { id: run.id },
  });
  await forgetOld(server.store);
  expect(await count()).toBe(0);
  expect((await teun.get(fill(api.run.path, run.runId!))).status).toBe(200);
});

test('what is no picture is not written, and it is said why', () => {
  const path = join(folder, 'none.fits');
  const got = writeFrame({ path, file: Buffer.from('not a picture') });
  expect(got).toMatchObject({ ok: false, why: expect.stringContaining('what the equipment gave cannot be read') });
  expect(existsSync(path)).toBe(false);
});

test('a second camera counts its own: kept beside the others, drawn at its own scale, never in their place', async () => {
  const run = await night();
  await until(async () => (await framesOf(run.id)).frames.length === run.frames);
  const [row] = await server.store.read<{ input: string; byId: string }>(
    'SELECT input, by_id AS byId FROM live_runs WHERE id = ?',
    [run.id],
  );
  const rehearsal = JSON.parse(row!.input) as Rehearsal;
  const { result } = (await teun.get(fill(api.run.path, run.runId!))).body as RunRecord;
  const second = result.frames.slice(0, 2).map((f) => ({ ...f, filter: 'Ha' }));
  const pictures = { ...rehearsal.pictures!, second: { scaleArcsecPerPx: 4, size: null } };
  const first = await fileOf(teun, run.id, 0);
  const keeping = { runId: run.id, byId: row!.byId, rehearsal: { ...rehearsal, pictures } };
  await server.live.keeper.makeUp(keeping, { frames: result.frames, second });
  const { frames } = await framesOf(run.id);
  expect(frames.filter((f) => f.second).map((f) => [f.n, f.filter, f.kept])).toEqual([
    [0, 'Ha', true],
    [1, 'Ha', true],
  ]);
  expect(frames.filter((f) => !f.second)).toHaveLength(run.frames);
  const path = `${at(api.liveRunFile.path, run.id, 0)}?second=true`;
  const got = await teun.get(path).buffer(true);
  expect([got.status, got.headers['content-disposition']]).toEqual([
    200,
    `attachment; filename="${run.id.slice(0, 8)}-second-0.fits"`,
  ]);
  expect((await teun.get(`${at(api.liveRunPicture.path, run.id, 0)}?second=true`)).status).toBe(200);
  expect((await teun.get(`${at(api.liveRunPicture.path, run.id, 2)}?second=true`)).status).toBe(404);
  expect((await teun.get(`${path.replace('true', 'maybe')}`)).status).toBe(400);
  expect((await fileOf(teun, run.id, 0)).body).toEqual(first.body);
  // what is too old of one is not what is too old of the other
  await server.db.query("UPDATE run_frames SET kept_at = '2020-01-01' WHERE run_id = :id AND second = 1 AND n = 0", {
    replacements: { id: run.id },
  });
  await server.live.keeper.sweep(true);
  const left = (await framesOf(run.id)).frames;
  expect(left.filter((f) => f.second).map((f) => f.n)).toEqual([1]);
  expect(left.filter((f) => !f.second)).toHaveLength(run.frames);
});

/** Numbers of the exposures of which a frame came, from what was asked for in a run. */
async function exposuresOf(id: string): Promise<number[]> {
  const { events } = (await teun.get(fill(api.liveRunEvents.path, id))).body as { events: NumberedEvent[] };
  const ids: number[] = [];
  let [state, last]: [RunState | null, number] = [null, 0];
  for (const { event } of events) {
    const stepped = step(state, event as Happened);
    state = stepped.state;
    ids.push(...stepped.says.filter((s) => s.said === 'frame').map(() => last));
    for (const act of stepped.acts) if (act.do === 'expose') last = act.id;
  }
  return ids;
}
describe('over a bridge', () => {
  test('of equipment that tells nothing of its frames the files are fetched, and judged by what is measured on them', async () => {
    const made = await teun.post(api.addPlan.path, (await somethingToPlan(teun, '2027-02-10')).plan(19, 20.5));
    const plan = made.body as PlanRecord;
    const { station, close } = await standInBridge(server.config, 'dome', Date.parse(plan.start) - 60_000, 120, false);
    const file = station.file.bind(station);
    const asked: number[] = [];
    // each is asked for to be measured, and to be kept: then the first does not come
    station.file = (id) => {
      asked.push(id);
      if (asked.length === 2) throw new Error('gone');
      return file(id);
    };
    try {
      const started = await teun.post(fill(api.startRun.path, plan.id), { seed: 4, bridge: 'dome' });
      const { id } = started.body as LiveRun;
      server.live.runner.look();
      await until(async () => (await framesOf(id)).frames.length >= 2);
      await teun.post(fill(api.commandRun.path, id), { code: 'stop' });
      await until(async () => (await of(id)).state === 'ended');
      const { frames } = await framesOf(id);
      expect(frames.slice(0, 2).map((f) => f.kept)).toEqual([false, true]);
      expect(frames[0]!.problem).toContain('the equipment did not give it');
      const run = (await teun.get(fill(api.run.path, (await of(id)).runId!))).body as RunRecord;
      // what is measured on the file is what the camera told of that very exposure
      const told = run.result.frames[1];
      expect(frames[1]!.start).toBe(told!.start);
      expect([told!.hfdPx, told!.stars, told!.eccentricity]).toEqual([
        frames[1]!.hfdPx,
        frames[1]!.stars,
        frames[1]!.eccentricity,
      ]);
      expect(told!.stars).toBeGreaterThan(10);
      expect(run.result.frames[0]!.stars).toBeGreaterThan(10);
      const header = ((await fileOf(odalys, id, 1)).body as Buffer).toString('latin1', 0, 5760);
      const taken = [...new Set(asked)];
      expect((await exposuresOf(id)).slice(0, taken.length)).toEqual(taken);
      expect(header).toContain(`FILTER  = '${told!.filter}`);
    } finally {
      close();
    }
  }, 120_000);
});
