import { afterAll, expect, test } from '@jest/globals';
import { api, type KeptFrames, type LiveRun, type PlanRecord, type RunRecord } from '@keen/contract';
import { measurePicture } from '@keen/core/frames';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';

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
