import { afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { api, type LiveRun, type NumberedEvent, type PlanRecord, type RunRecord } from '@keen/contract';
import { replay, wakeMs, type Happened } from '@keen/core/run';
import { seeded } from '@keen/core/statistics';
import type { Sequelize } from 'sequelize';
import { connect } from '../../database/index.ts';
import { makeStore } from '../../store.ts';
import { fill, somethingToPlan, testServer, type Person } from '../../test/harness.ts';
import { standInBridge } from '../../test/standInBridge.ts';
import { rounds } from '../../../../core/src/test/rounds.ts';
import { makeLive, type Live } from './index.ts';

const { server, odalys, teun, mirela, ines } = testServer(['odalys', 'teun', 'mirela', 'ines']);
let plan: PlanRecord;
let quiet: RunRecord['result'];
const SEED = 4;
beforeAll(async () => {
  plan = (await teun.post(api.addPlan.path, (await somethingToPlan(teun, '2027-02-10')).plan(19, 21)))
    .body as PlanRecord;
  const first = await begun(teun, { speed: 600 }, 20_000);
  server.live.runner.look();
  quiet = await resultOf(await over(first.id));
}, 60_000);
/** Servers a test has begun. */
const others: { live: Live; db: Sequelize }[] = [];
afterEach(async () => {
  for (const { live, db } of others.splice(0)) {
    await live.runner.stop();
    await db.close();
  }
  await server.db.query(
    "UPDATE live_runs SET state = 'failed', rig_busy = NULL, lease_owner = NULL WHERE state = 'running'",
  );
});
/** Another server on the same database. @returns what takes it off in one moment */
function another(): () => Promise<void> {
  const db = connect(server.config.databaseUrl, 4);
  const live = makeLive(makeStore(db, server.store.now), server.workers.runTask, server.config, () => undefined);
  others.push({ live, db });
  live.runner.look();
  return () => db.close();
}
const hurries = (id: string, hurry: number) =>
  server.db.query('UPDATE live_runs SET speed = :hurry WHERE id = :id', { replacements: { hurry, id } });
/** @param hurry  times as fast as the world, beyond what one can ask for */
async function begun(p: Person, body: object, hurry?: number): Promise<LiveRun> {
  const got = await p.post(fill(api.startRun.path, plan.id), { seed: SEED, ...body });
  if (got.status !== 200) throw new Error(JSON.stringify(got.body));
  const run = got.body as LiveRun;
  if (hurry) await hurries(run.id, hurry);
  return run;
}
const until = async (what: () => Promise<boolean>) => {
  for (let i = 0; i < 1500; i++) {
    if (await what()) return;
    await new Promise((r) => setTimeout(r, 20));
  }
  throw new Error('it does not come');
};
const of = async (id: string) => (await teun.get(fill(api.liveRun.path, id))).body as LiveRun;
async function over(id: string): Promise<LiveRun> {
  await until(async () => (await of(id)).state !== 'running');
  return of(id);
}
const resultOf = async (run: LiveRun) => ((await teun.get(fill(api.run.path, run.runId!))).body as RunRecord).result;
async function eventsOf(id: string, after = 0): Promise<NumberedEvent[]> {
  const all: NumberedEvent[] = [];
  for (;;) {
    const from = all.at(-1)?.seq ?? after;
    const got = (await teun.get(`${fill(api.liveRunEvents.path, id)}?after=${from}`)).body as {
      events: NumberedEvent[];
      more: boolean;
    };
    all.push(...got.events);
    if (!got.more) return all;
  }
}

describe('a run the server drives', () => {
  test('comes to its end; what happened gives what came of it, and the rig is free again', async () => {
    const listed = await teun.get(api.liveRuns.path);
    const run = listed.body[0] as LiveRun;
    expect([run.state, run.rig, run.by, run.holderId, run.takenOver]).toEqual([
      'ended',
      '120 mm triplet',
      'Teun Achterberg',
      null,
      0,
    ]);
    const events = await eventsOf(run.id);
    expect(events.map((e) => e.seq)).toEqual(events.map((_, i) => i + 1));
    expect(events).toHaveLength(run.events);
    const { state, says } = replay(events.map((e) => e.event as Happened));
    expect([state!.finished, state!.frames]).toEqual([true, run.frames]);
    expect(quiet.frames).toHaveLength(says.filter((s) => s.said === 'frame').length);
    expect(quiet.frames.length).toBeGreaterThan(5);
  });
  test('one a rig: of eight asked for at a moment one is begun, the others are told who has it', async () => {
    const tries = await Promise.all(
      Array.from({ length: 8 }, () => teun.post(fill(api.startRun.path, plan.id), { seed: SEED, speed: 1 })),
    );
    expect(tries.filter((t) => t.status === 200)).toHaveLength(1);
    const refused = tries.filter((t) => t.status !== 200).map((t) => t.body as { code: string; detail: string });
    expect(refused.map((r) => r.code)).toEqual(Array(7).fill('already_exists'));
    expect(refused[0]!.detail).toContain('begun by Teun Achterberg');
  });
  test('of somebody else’s plan is refused, and so is a speed beyond what there is', async () => {
    const path = fill(api.startRun.path, plan.id);
    expect((await mirela.post(path, { seed: 1 })).body.code).toBe('not_allowed');
    expect((await teun.post(path, { seed: 1, speed: 5000 })).body.code).toBe('invalid_input');
    expect((await ines.post(path, { seed: 1 })).status).toBe(403);
  });
});

describe('the controls', () => {
  const controls = (p: Person, id: string, what: string) => p.post(fill(api.runControls.path, id), { do: what });
  const command = (p: Person, id: string, code: string) => p.post(fill(api.commandRun.path, id), { code });
  test('are one person’s, asked for and given; a steward may take them; whoever has none commands nothing', async () => {
    const { id } = await begun(teun, { speed: 1 });
    // nor is its plan changed under it
    expect((await teun.del(fill(api.cancelPlan.path, plan.id))).body.code).toBe('in_use');
    expect((await command(mirela, id, 'pause')).body.detail).toContain('Teun Achterberg is at the controls');
    expect((await controls(mirela, id, 'take')).body.code).toBe('not_allowed');
    expect((await controls(teun, id, 'give')).body.code).toBe('out_of_order');
    expect((await controls(mirela, id, 'ask')).body).toMatchObject({
      holder: 'Teun Achterberg',
      askedBy: expect.stringContaining('Mirela'),
    });
    expect((await controls(teun, id, 'give')).body).toMatchObject({
      holder: expect.stringContaining('Mirela'),
      askedBy: '',
    });
    expect((await command(teun, id, 'pause')).body.code).toBe('not_allowed');
    expect((await command(mirela, id, 'pause')).status).toBe(200);
    expect((await controls(odalys, id, 'take')).body).toMatchObject({ holder: expect.stringContaining('Odalys') });
    expect((await controls(odalys, id, 'leave')).body).toMatchObject({ holderId: null });
    expect((await controls(ines, id, 'take')).status).toBe(403);
    expect((await controls(teun, id, 'ask')).body).toMatchObject({ holder: 'Teun Achterberg' });
  });
  test('pause, go on, and stop: it is closed, with all that was asked for among what happened, in order', async () => {
    const { id } = await begun(teun, { speed: 600 });
    server.live.runner.look();
    await until(async () => (await of(id)).frames >= 2);
    await command(teun, id, 'pause');
    const paused = async () => replay((await eventsOf(id)).map((e) => e.event as Happened)).state!;
    await until(async () => (await paused()).paused && wakeMs(await paused()) === null);
    const { frames } = await paused();
    await new Promise((r) => setTimeout(r, 400));
    expect((await of(id)).frames).toBe(frames);
    await command(teun, id, 'resume');
    await until(async () => (await of(id)).frames > frames);
    await command(teun, id, 'stop');
    const ended = await over(id);
    expect(ended.state).toBe('ended');
    const asked = (await eventsOf(id)).flatMap(({ event: e }) => ('by' in e && e.code !== 'thrown' ? [e.code] : []));
    expect(asked).toEqual(['pause', 'resume', 'stop']);
    expect((await resultOf(ended)).frames.length).toBeLessThan(quiet.frames.length);
    expect((await command(teun, id, 'stop')).body.code).toBe('already_done');
  }, 60_000);
  test('a fault somebody throws in comes on the stand-ins, and is told of afterwards', async () => {
    const { id } = await begun(teun, { speed: 600 });
    server.live.runner.look();
    await until(async () => (await of(id)).frames >= 1);
    const thrown = await mirela.post(fill(api.throwFault.path, id), { fault: 'disk-full', withinMin: 0 });
    expect(thrown.status).toBe(200);
    await hurries(id, 20_000);
    const ended = await over(id);
    const result = await resultOf(ended);
    expect(ended.debrief!.faults).toMatchObject([{ fault: 'disk-full', done: ['run.device-fault'], asked: [] }]);
    // it was put in after a frame or more; left to itself it ends as it did
    expect(ended.debrief!.alone).toBe(ended.debrief!.accepted);
    expect(ended.debrief!.quiet).toBe(quiet.frames.filter((f) => f.accepted).length);
    expect(result.faults).toEqual(['disk-full']);
    expect(result.events.map((e) => e.phrase?.code)).toContain('run.device-fault');
  }, 60_000);
});

test('eight who watch at two servers are told everything once and in order, from wherever each begins', async () => {
  const { id } = await begun(teun, { speed: 600 }, 3000);
  another();
  const tails = [server.live.tail, others[0]!.live.tail];
  const ended = over(id);
  const told = await Promise.all(
    Array.from({ length: 8 }, async (_, i) => {
      const seen: number[] = [];
      // some come later, and some know a part already
      await until(async () => (await of(id)).events >= 20 * i);
      const after = i % 3 === 0 ? 0 : 5 * i;
      const leave = tails[i % 2]!.watch(id, { after, tell: (events) => seen.push(...events.map((e) => e.seq)) });
      const { events } = await ended;
      await until(async () => seen.at(-1) === events);
      leave();
      return { seen, after, events };
    }),
  );
  for (const { seen, after, events } of told)
    expect(seen).toEqual(Array.from({ length: events - after }, (_, k) => after + k + 1));
}, 90_000);

describe('over a bridge', () => {
  test('what it is driven on is chosen by a name the server knows; two servers drive it one after the other, and it is a night', async () => {
    const path = fill(api.startRun.path, plan.id);
    expect((await teun.post(path, { seed: 1, bridge: 'dome' })).body.issues[0].message).toContain('is none of none');
    const { station, close } = await standInBridge(server.config, 'dome', Date.parse(plan.start) - 1_800_000);
    try {
      expect((await teun.get(api.bridges.path)).body).toEqual(['dome']);
      const { id } = (await teun.post(path, { seed: 1, bridge: 'dome' })).body as LiveRun;
      server.live.runner.look();
      await until(async () => (await of(id)).events > 12);
      expect((await teun.put(fill(api.setRunSpeed.path, id), { speed: 60 })).body.code).toBe('not_allowed');
      expect((await mirela.post(fill(api.throwFault.path, id), { fault: null, withinMin: 1 })).body.code).toBe(
        'not_allowed',
      );
      // the next one has it although the first still believes it is its, and renews it meanwhile
      const overdue = "UPDATE live_runs SET lease_until = '2020-01-01' WHERE id = :id";
      another();
      await until(async () => {
        if ((await of(id)).takenOver >= 1) return true;
        await server.db.query(overdue, { replacements: { id } });
        return false;
      });
      const { events } = await of(id);
      await until(async () => (await of(id)).events > events + 2);
      await teun.post(fill(api.commandRun.path, id), { code: 'stop' });
      const ended = await over(id);
      const record = (await teun.get(fill(api.run.path, ended.runId!))).body as RunRecord;
      expect([ended.state, record.kind, record.state]).toEqual(['ended', 'live', 'rehearsed']);
      expect((await eventsOf(id)).map((e) => e.seq)).toEqual(Array.from({ length: ended.events }, (_, i) => i + 1));
      expect(station.status().readings.tube).toMatchObject({ follows: false });
    } finally {
      close();
    }
  }, 90_000);
});

describe('a server that ends under a run', () => {
  // the harness’s own server would take it over too
  beforeAll(() => server.live.runner.stop());
  const leaseOver = () =>
    server.db.query(
      "UPDATE live_runs SET lease_until = '2020-01-01' WHERE state = 'running' AND lease_owner IS NOT NULL",
    );
  test('one that another version began is not gone on with: that is said, and the rig is free', async () => {
    const { id } = await begun(teun, { speed: 60 });
    const dies = another();
    await until(async () => (await of(id)).events > 5);
    await dies();
    await server.db.query(`UPDATE run_events SET data = JSON_REMOVE(data, '$.rules') WHERE run_id = :id AND seq = 1`, {
      replacements: { id },
    });
    await leaseOver();
    another();
    await until(async () => (await of(id)).state === 'failed');
    expect((await of(id)).problem).toContain('another version');
    const again = await begun(teun, { speed: 60 });
    await teun.post(fill(api.commandRun.path, again.id), { code: 'stop' });
  }, 60_000);
  test(
    'at any event: the next one drives it on, and it is the night that was never broken off',
    async () => {
      const r = seeded(12);
      let taken = 0;
      for (let n = 0; n < rounds(2, 25); n++) {
        const { id } = await begun(teun, { speed: 600 }, 2000);
        for (let deaths = 0; deaths < 2; deaths++) {
          const dies = another();
          const at = (await of(id)).events + 1 + Math.floor(60 * r.next());
          await until(async () => (await of(id)).events >= at || (await of(id)).state !== 'running');
          await dies();
          await leaseOver();
        }
        another();
        const ended = await over(id);
        expect(ended.state).toBe('ended');
        taken += ended.takenOver;
        expect(await resultOf(ended)).toEqual(quiet);
        const events = await eventsOf(id);
        expect(events.map((e) => e.seq)).toEqual(events.map((_, i) => i + 1));
      }
      // one that is over before its server was to end cannot be taken over
      expect(taken).toBeGreaterThanOrEqual(rounds(1, 25));
    },
    rounds(300_000, 2_400_000),
  );
  test('with a fault in it that somebody put in, too', async () => {
    const { id } = await begun(teun, { speed: 600 });
    const dies = another();
    await until(async () => (await of(id)).frames >= 1);
    expect((await mirela.post(fill(api.throwFault.path, id), { fault: 'interlock', withinMin: 0 })).status).toBe(200);
    await until(async () => (await eventsOf(id)).some((e) => e.event.readings?.safe === true && e.seq > 20));
    await dies();
    await leaseOver();
    await hurries(id, 20_000);
    another();
    const ended = await over(id);
    expect([ended.state, ended.takenOver]).toEqual(['ended', 1]);
    expect(ended.debrief!.faults).toMatchObject([{ fault: 'interlock' }]);
  }, 120_000);
  test('two that hold it for theirs: one of them writes, the other leaves it, nothing is doubled', async () => {
    const { id } = await begun(teun, { speed: 600 }, 2000);
    another();
    await until(async () => (await of(id)).events > 20);
    await leaseOver();
    another();
    await leaseOver();
    const ended = await over(id);
    expect(await resultOf(ended)).toEqual(quiet);
    expect((await eventsOf(id)).map((e) => e.seq)).toEqual(Array.from({ length: ended.events }, (_, i) => i + 1));
  }, 120_000);
  test('one that is stopped in good order gives it back at once', async () => {
    const { id } = await begun(teun, { speed: 60 });
    another();
    await until(async () => (await of(id)).events > 5);
    const { live } = others[0]!;
    await live.runner.stop();
    expect((await of(id)).driven).toBe(false);
    another();
    await until(async () => (await of(id)).driven);
    expect((await of(id)).takenOver).toBe(1);
  }, 60_000);
});
