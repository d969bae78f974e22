import { beforeAll, describe, expect, test } from '@jest/globals';
import { api, MOST_JOBS, type JobRecord, type JobWithResult, type PlanRecord, type RunRecord } from '@keen/contract';
import { ConnectionRefusedError, QueryTypes } from 'sequelize';
import type { RunJob } from '../areas/calculations/pool.ts';
import { connect } from '../database/index.ts';
import { makeMetrics } from '../metrics.ts';
import { makeStore } from '../store.ts';
import { ended, fill, somethingToPlan, testServer, type Person } from '../test/harness.ts';
import { jobQueue, MOST_ATTEMPTS } from './queue.ts';
import { jobRunner } from './runner.ts';

const { server, teun, mirela, odalys } = testServer(['teun', 'mirela', 'odalys']);
let plan: PlanRecord;
let mirelas: PlanRecord;
beforeAll(async () => {
  const of = async (p: Person, night: string) =>
    (await p.post(api.addPlan.path, (await somethingToPlan(p, night)).plan(19, 21))).body as PlanRecord;
  [plan, mirelas] = [await of(teun, '2027-02-10'), await of(mirela, '2027-02-11')];
}, 60_000);
const ask = async (p: Person, of: PlanRecord, seed = 1) => p.post(fill(api.rehearse.path, of.id), { seed });
const jobOf = async (p: Person, id: string) => (await p.get(fill(api.job.path, id))).body as JobWithResult;
const ofSeed = async (seed: number) =>
  Number(
    (
      await server.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM runs WHERE seed = :seed AND kind = :kind', {
        replacements: { seed, kind: 'rehearsed' },
        type: QueryTypes.SELECT,
      })
    )[0]!.n,
  );
const until = async (what: () => boolean | Promise<boolean>) => {
  while (!(await what())) await new Promise((r) => setTimeout(r, 20));
};

describe('a job', () => {
  test('is answered at once, tells what it is at, and ends with what came of it', async () => {
    const asked = await ask(teun, plan, 11);
    const job = asked.body as JobRecord;
    expect([asked.status, job.kind, job.state, job.subjectId]).toEqual([200, 'rehearsal', 'waiting', plan.id]);
    const done = await ended(teun, job.id);
    expect([done.state, done.share, done.problem]).toEqual(['done', 1, null]);
    const run = (await teun.get(fill(api.run.path, (done.result as { runId: string }).runId))).body as RunRecord;
    expect([run.planId, run.seed, run.state]).toEqual([plan.id, 11, 'rehearsed']);
    const told = await server.db.query<{ data: { job: JobRecord } }>(
      "SELECT data FROM events WHERE kind = 'job' ORDER BY at",
      { type: QueryTypes.SELECT },
    );
    const states = told
      .map(({ data }) => (typeof data === 'string' ? (JSON.parse(data) as { job: JobRecord }) : data).job)
      .filter((j) => j.id === job.id)
      .map((j) => `${j.state} ${j.stage?.code ?? ''}`);
    expect(states.slice(0, 2)).toEqual(['waiting job.waiting', 'running job.begun']);
    expect(states.at(-1)).toBe('done ');
  });
  test('faults that are asked for come in the rehearsal, by its seed, and are told with it; twice the same is none', async () => {
    const path = fill(api.rehearse.path, plan.id);
    const twice = await teun.post(path, { seed: 31, faults: ['cloud', 'cloud'] });
    expect([twice.status, twice.body.issues[0].path]).toEqual([400, 'faults']);
    expect((await teun.post(path, { seed: 31, faults: ['a meteor'] })).status).toBe(400);
    const played = async (faults: string[]) => {
      const done = await ended(teun, ((await teun.post(path, { seed: 31, faults })).body as JobRecord).id);
      return ((await teun.get(fill(api.run.path, (done.result as { runId: string }).runId))).body as RunRecord).result;
    };
    const [quiet, full, again] = [await played([]), await played(['disk-full']), await played(['disk-full'])];
    const codes = (r: RunRecord['result']) => r.events.map((e) => e.phrase?.code);
    expect([quiet.faults, full.faults]).toEqual([[], ['disk-full']]);
    expect(codes(full)).toContain('run.device-fault');
    expect(codes(quiet)).not.toContain('run.device-fault');
    expect(full.frames.length).toBeLessThan(quiet.frames.length);
    expect(again).toEqual(full);
  }, 60_000);
  test('is its member’s alone', async () => {
    const { id } = (await ask(teun, plan, 12)).body as JobRecord;
    for (const other of [mirela, odalys]) {
      expect((await other.get(fill(api.job.path, id))).status).toBe(404);
      expect((await other.del(fill(api.cancelJob.path, id))).status).toBe(404);
      expect(((await other.get(api.jobs.path)).body as JobRecord[]).map((j) => j.id)).not.toContain(id);
    }
    expect((await ended(teun, id)).state).toBe('done');
    expect(((await teun.get(api.jobs.path)).body as JobRecord[])[0]!.id).toBe(id);
    expect((await teun.del(fill(api.cancelJob.path, id))).body.code).toBe('already_done');
  });
  test('of a night under many skies gives the share of every order', async () => {
    const { plan: body } = await somethingToPlan(teun, '2027-02-12');
    const weather = { clearMeanMin: 60, cloudMeanMin: 40 };
    const question = { plan: body(19, 22), legIndex: 0, weather, nights: 60, seed: 3 };
    const { id } = (await teun.post(api.playRisk.path, question)).body as JobRecord;
    const { result } = await ended(teun, id);
    if (result?.kind !== 'risk') throw new Error('no risk');
    expect(Object.keys(result.risk.perOrder).sort()).toEqual(['block', 'lagging', 'rolling']);
    const again = (await teun.post(api.playRisk.path, { ...question, orders: ['block'] })).body as JobRecord;
    const other = (await ended(teun, again.id)).result;
    expect(other?.kind === 'risk' && other.risk.perOrder.block).toEqual(result.risk.perOrder.block);
    const none = await teun.post(api.playRisk.path, { ...question, legIndex: 4 });
    expect((await ended(teun, (none.body as JobRecord).id)).problem).toMatchObject({
      code: 'invalid_input',
      issues: [{ path: 'legIndex', message: 'has no hours in this night' }],
    });
  });
});

describe('many jobs', () => {
  test('twenty of one member, and no more; another’s first is done long before their last', async () => {
    const asked = await Promise.all(Array.from({ length: MOST_JOBS + 3 }, (_, i) => ask(teun, plan, 100 + i)));
    const taken = asked.filter((a) => a.status === 200).map((a) => (a.body as JobRecord).id);
    expect(taken.length).toBeGreaterThanOrEqual(MOST_JOBS);
    expect(asked.filter((a) => a.status !== 200).map((a) => a.body.code as string)).toEqual(
      Array(asked.length - taken.length).fill('too_many'),
    );
    const first = await ended(mirela, ((await ask(mirela, mirelas, 5)).body as JobRecord).id);
    const open = await server.db.query<{ n: number }>(
      "SELECT COUNT(*) AS n FROM jobs WHERE state IN ('waiting', 'running')",
      { type: QueryTypes.SELECT },
    );
    expect(first.state).toBe('done');
    expect(Number(open[0]!.n)).toBeGreaterThan(0);
    for (const id of taken) expect((await ended(teun, id)).state).toBe('done');
  }, 120_000);
  test('cancelled while they wait they are over at once, and never begun', async () => {
    const asked = await Promise.all(Array.from({ length: 8 }, (_, i) => ask(teun, plan, 200 + i)));
    const ids = asked.map((a) => (a.body as JobRecord).id);
    await Promise.all(ids.map((id) => teun.del(fill(api.cancelJob.path, id))));
    const all = await Promise.all(ids.map((id) => ended(teun, id)));
    for (const [i, job] of all.entries()) {
      expect(['cancelled', 'done']).toContain(job.state);
      expect(await ofSeed(200 + i)).toBe(job.state === 'done' ? 1 : 0);
    }
    expect(all.filter((j) => j.state === 'cancelled' && j.attempts === 0).length).toBeGreaterThan(0);
  }, 60_000);
});

/** Another server on the same database, whose work goes as a test says, and which can be taken off it in one moment. */
function another(runJob: RunJob) {
  const db = connect(server.config.databaseUrl, 4);
  const store = makeStore(db, server.store.now);
  const runner = jobRunner(store, runJob, makeMetrics(), () => undefined);
  return { store, runner, dies: () => db.close() };
}
const queue = () => jobQueue(server.store);
/** Asks for a job at which the harness’s own server does not look. */
const asked = async (seed: number) => {
  return queue().add(await memberOf(plan.ownerId), 'rehearsal', plan.id, { planId: plan.id, seed });
};
const memberOf = async (id: string) =>
  (
    await server.store.read<{ id: string; clubId: string; name: string; role: 'member' }>(
      'SELECT id, club_id AS clubId, name, role FROM members WHERE id = ?',
      [id],
    )
  )[0]!;
const leaseOver = () => server.db.query("UPDATE jobs SET lease_until = '2020-01-01' WHERE state = 'running'");
const never = new Promise<never>(() => undefined);
/** Work that goes on until it is given up, also where that was before it began. */
const untilGone = (gone: AbortSignal) =>
  new Promise<never>((_, fail) => {
    const end = () => fail(new Error('stopped'));
    if (gone.aborted) end();
    else gone.addEventListener('abort', end);
  });

describe('a server that ends under a job', () => {
  // the harness’s own server is a third that would take what is asked for here
  beforeAll(() => server.jobs.stop());
  test.each(['taken', 'told', 'worked out'] as const)(
    '%s: the next begins it again, and it is kept once',
    async (stage) => {
      const seed = { taken: 301, told: 302, 'worked out': 303 }[stage];
      const { id } = await asked(seed);
      let died = false;
      const dying = another((async (task, input, asker) => {
        if (stage === 'told') {
          asker.progress({ share: 0.5, stage: { code: 'job.rehearsing', values: { frames: 3 } } });
          await until(async () => (await jobOf(teun, id)).share === 0.5);
        }
        const result = stage === 'worked out' ? await server.workers.runJob(task, input, asker) : null;
        await dying.dies();
        died = true;
        return result ?? never;
      }) as RunJob);
      dying.runner.look();
      await until(() => died);
      expect((await jobOf(teun, id)).state).toBe('running');
      const next = another(server.workers.runJob);
      next.runner.look();
      await leaseOver();
      const done = await ended(teun, id);
      expect([done.state, done.attempts, await ofSeed(seed)]).toEqual(['done', 2, 1]);
      await next.runner.stop();
      await next.dies();
    },
    60_000,
  );
  test('one that was only slow finds its job another’s, and keeps nothing', async () => {
    const { id } = await asked(310);
    let release = (): void => undefined;
    const held = new Promise<void>((done) => (release = done));
    const slow = another((async (task, input, asker) => {
      const result = await server.workers.runJob(task, input, asker);
      await held;
      return result;
    }) as RunJob);
    slow.runner.look();
    await until(async () => (await jobOf(teun, id)).state === 'running');
    const next = another(server.workers.runJob);
    // again and again: one that is slow here still says that it is at work, once a second
    await until(async () => {
      await leaseOver();
      next.runner.look();
      // the next one has time to take it: an end of its lease meanwhile would be one of theirs
      for (let i = 0; i < 20; i++) {
        if ((await jobOf(teun, id)).attempts === 2) return true;
        await new Promise((r) => setTimeout(r, 50));
      }
      return false;
    });
    expect((await ended(teun, id)).state).toBe('done');
    release();
    await slow.runner.stop();
    expect([await ofSeed(310), (await jobOf(teun, id)).state]).toEqual([1, 'done']);
    await Promise.all([next.runner.stop(), slow.dies()]);
    await next.dies();
  }, 60_000);
  test('one that is stopped gives it back, and that was no attempt', async () => {
    const { id } = await asked(320);
    const stops = another((async (_task, _input, asker) => untilGone(asker.gone)) as RunJob);
    stops.runner.look();
    await until(async () => (await jobOf(teun, id)).state === 'running');
    await stops.runner.stop();
    expect(await jobOf(teun, id)).toMatchObject({ state: 'waiting', attempts: 0, stage: { code: 'job.waiting' } });
    await stops.dies();
    await teun.del(fill(api.cancelJob.path, id));
  }, 60_000);
  test('a database that was away under it makes no job fail: it is begun again', async () => {
    const { id } = await asked(325);
    let tries = 0;
    const works = another((async (task, input, asker) => {
      if (++tries === 1) throw new ConnectionRefusedError(new Error('connect ECONNREFUSED'));
      return server.workers.runJob(task, input, asker);
    }) as RunJob);
    works.runner.look();
    const done = await ended(teun, id);
    expect([done.state, done.attempts, await ofSeed(325)]).toEqual(['done', 2, 1]);
    await works.runner.stop();
    await works.dies();
  }, 60_000);
  test('while it runs it is cancelled at its next word, and nothing is kept', async () => {
    const { id } = await asked(330);
    const works = another((async (_task, _input, asker) => untilGone(asker.gone)) as RunJob);
    works.runner.look();
    await until(async () => (await jobOf(teun, id)).state === 'running');
    expect((await teun.del(fill(api.cancelJob.path, id))).status).toBe(200);
    expect((await teun.del(fill(api.cancelJob.path, id))).status).toBe(200);
    expect([(await ended(teun, id)).state, await ofSeed(330)]).toEqual(['cancelled', 0]);
    await works.runner.stop();
    await works.dies();
  }, 60_000);
  test(`${MOST_ATTEMPTS} times: it is given up, and said so`, async () => {
    const { id } = await asked(340);
    for (let n = 0; n < MOST_ATTEMPTS; n++) {
      expect(await queue().claim(`server ${n}`, [])).toMatchObject({ row: { id, attempts: n + 1 } });
      await leaseOver();
    }
    const last = another(server.workers.runJob);
    last.runner.look();
    expect(await ended(teun, id)).toMatchObject({ state: 'failed', problem: { code: 'gave_up' } });
    expect(await ofSeed(340)).toBe(0);
    await last.runner.stop();
    await last.dies();
  }, 60_000);
  test('of many servers that want the same job one has it', async () => {
    const { id } = await asked(350);
    const pools = Array.from({ length: 4 }, () => connect(server.config.databaseUrl, 2));
    const claims = await Promise.all(
      pools.flatMap((db, i) =>
        Array.from({ length: 4 }, () => jobQueue(makeStore(db, server.store.now)).claim(`server ${i}`, [])),
      ),
    );
    expect(claims.filter((c) => c?.row.id === id)).toHaveLength(1);
    await Promise.all(pools.map((db) => db.close()));
    await queue().giveBack(
      claims.find((c) => c)!,
      false,
    );
    await teun.del(fill(api.cancelJob.path, id));
  }, 60_000);
});
