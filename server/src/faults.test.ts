import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { api, type PlanRecord } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import { freePort } from '../../scripts/lib/database.mjs';
import { DEMO_MADE } from '../../scripts/lib/demoInstant.mjs';
import { DEMO_PASSWORD } from './access/index.ts';
import { faultAt, WRITE_STEPS } from './database/index.ts';
import { signInAs, somethingToPlan, testServer } from './test/harness.ts';

const ROOT = join(import.meta.dirname, '../..');
const { server, teun } = testServer(['teun']);
const running: ChildProcess[] = [];
afterAll(() => running.forEach((c) => c.kill('SIGKILL')));

/** A server of its own on the same database, which ends itself at a step. */
async function another(fault: string, port: number) {
  const child = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: ROOT,
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      KEEN_DATABASE_URL: server.config.databaseUrl,
      KEEN_SECRET: server.config.secret,
      KEEN_PORT: String(port),
      KEEN_DEMO: '1',
      KEEN_CLOCK: DEMO_MADE,
      KEEN_FAULT: fault,
      KEEN_LOG: 'silent',
    },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  running.push(child);
  const ended = new Promise<NodeJS.Signals | null>((done) => child.once('exit', (_, signal) => done(signal)));
  await Promise.race([
    new Promise((done) => child.once('message', done)),
    ended.then(() => Promise.reject(new Error(`the server that was to end at “${fault}” did not start`))),
  ]);
  return { url: `http://127.0.0.1:${port}`, ended };
}

describe('a server that dies at a step of a shared write', () => {
  const nights = WRITE_STEPS.map((step, i) => [step, `2027-03-0${i + 1}`] as const);
  const signals = new Map<string, NodeJS.Signals | null>();
  beforeAll(async () => {
    const ports: number[] = [];
    for (const _ of nights) ports.push(await freePort((ports.at(-1) ?? 4559) + 1));
    const dies = async ([step, night]: (typeof nights)[number], port: number) => {
      const { url, ended } = await another(step, port);
      const person = await signInAs(url as never, 'teun', DEMO_PASSWORD);
      const { plan } = await somethingToPlan(teun, night);
      const sent = person.post(api.addPlan.path, plan(19, 21)).set('idempotency-key', `plan-of-${night}`);
      await expect(sent).rejects.toThrow();
      signals.set(step, await ended);
    };
    await Promise.all(nights.map((n, i) => dies(n, ports[i]!)));
  }, 120_000);
  test.each(nights)('%s: what is sent again stands once, and is told of once', async (step, night) => {
    expect(signals.get(step)).toBe('SIGKILL');
    const { plan, rig } = await somethingToPlan(teun, night);
    const again = () => teun.post(api.addPlan.path, plan(19, 21)).set('idempotency-key', `plan-of-${night}`);
    const [first, second] = [await again(), await again()];
    expect([first.status, second.status]).toEqual([200, 200]);
    expect(second.body).toEqual(first.body);
    const there = ((await teun.get(`${api.plans.path}?night=${night}`)).body as PlanRecord[]).filter(
      (p) => p.rigId === rig.id,
    );
    expect(there.map((p) => p.id)).toEqual([(first.body as PlanRecord).id]);
    const [told] = await server.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM changes WHERE text LIKE :text', {
      replacements: { text: `%plan for the night of ${night} saved` },
      type: QueryTypes.SELECT,
    });
    expect(Number(told!.n)).toBe(1);
  });
});
test.each(['nowhere', 'worked:0', 'worked:x', ''])('there is no step “%s”', (wish) => {
  expect(() => faultAt(wish, () => undefined)).toThrow('KEEN_FAULT is one of begun, keyed');
});
