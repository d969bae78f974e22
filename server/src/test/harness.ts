import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { afterAll, beforeAll } from '@jest/globals';
import type { JobRecord, JobWithResult, PlanFields, ProjectRecord, RigRecord, SiteRecord } from '@keen/contract';
import { USUAL_WATCHES } from '@keen/core/sequence';
import { target } from '@keen/core/sky';
import { api, MOST_A_PAGE } from '@keen/contract';
import type { Express } from 'express';
import { createConnection } from 'mariadb';
import { QueryTypes, type Sequelize } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../app.ts';
import { calculationPool, type Workers } from '../areas/calculations/pool.ts';
import { makeLive, type Live } from '../areas/live/index.ts';
import type { Config } from '../config.ts';
import { connect, migrate } from '../database/index.ts';
import { DEMO_PASSWORD, hashQuickly } from '../access/index.ts';
import { reporter } from '../errorsLogged.ts';
import { jobRunner, type JobRunner } from '../jobs/runner.ts';
import { makeMetrics } from '../metrics.ts';
import { seedDemo } from '../seed.ts';
import { makeStore, type Store } from '../store.ts';
import { DEMO_MADE } from '../../../scripts/lib/demoInstant.mjs';

/** A signed-in browser, so to speak: cookie and token are carried along. */
export interface Person {
  get: (path: string) => request.Test;
  post: (path: string, body?: object) => request.Test;
  put: (path: string, body: object) => request.Test;
  del: (path: string) => request.Test;
}
export interface TestServer {
  app: Express;
  db: Sequelize;
  store: Store;
  config: Config;
  workers: Workers;
  jobs: JobRunner;
  live: Live;
  as: (signIn: string, password?: string) => Promise<Person>;
  stop: () => Promise<void>;
}

export interface ServerOptions {
  demo?: boolean;
  config?: Partial<Config>;
  now?: () => Date;
  freshDemo?: boolean;
}

hashQuickly();
const ROOT = join(import.meta.dirname, '../../..');

/** Databases that tests of this process have given back, with the demo's tables in them. */
const given: string[] = [];

const tablesOfDemo = async (admin: Sequelize) =>
  (
    await admin.query<{ t: string }>(
      `SELECT table_name AS t FROM information_schema.tables WHERE table_schema = 'keen_template'`,
      { type: QueryTypes.SELECT },
    )
  ).map(({ t }) => t);

/** All of it in one go, over one connection. */
async function together(statements: readonly string[]): Promise<void> {
  const { hostname, port, username, password } = new URL(process.env.KEEN_TEST_DATABASE_URL!);
  const to = { host: hostname, port: Number(port), user: username, password: decodeURIComponent(password) };
  const connection = await createConnection({ ...to, multipleStatements: true });
  try {
    await connection.query(['SET FOREIGN_KEY_CHECKS = 0', ...statements].join(';\n'));
  } finally {
    await connection.end();
  }
}

/** A database with the demo in it, constraints and all, from where the set-up of the run made it. */
async function demoDatabase(admin: Sequelize): Promise<string> {
  const tables = await tablesOfDemo(admin);
  const back = given.pop();
  if (back) {
    await together(
      tables.flatMap((t) => [`DELETE FROM ${back}.${t}`, `INSERT INTO ${back}.${t} SELECT * FROM keen_template.${t}`]),
    );
    return back;
  }
  const name = await emptyDatabase(admin);
  const made = await Promise.all(
    tables.map((t) =>
      admin.query<{ 'Create Table': string }>(`SHOW CREATE TABLE keen_template.${t}`, { type: QueryTypes.SELECT }),
    ),
  );
  await together([
    `USE ${name}`,
    ...made.map(([shown]) => shown!['Create Table']),
    ...tables.map((t) => `INSERT INTO ${t} SELECT * FROM keen_template.${t}`),
  ]);
  return name;
}

async function emptyDatabase(admin: Sequelize): Promise<string> {
  const name = `keen_${randomBytes(5).toString('hex')}`;
  await admin.query(`CREATE DATABASE ${name}`);
  return name;
}

/** Tables as the demo’s are: no test has changed what others would find. */
async function asDemo(admin: Sequelize, name: string): Promise<boolean> {
  const shapeOf = async (schema: string) => {
    const columns = await admin.query(
      `SELECT table_name, column_name, column_type, is_nullable, column_default FROM information_schema.columns
       WHERE table_schema = '${schema}' ORDER BY table_name, ordinal_position`,
      { type: QueryTypes.SELECT },
    );
    const triggers = await admin.query(
      `SELECT trigger_name FROM information_schema.triggers WHERE trigger_schema = '${schema}'`,
      { type: QueryTypes.SELECT },
    );
    return JSON.stringify([columns, triggers]);
  };
  return (await shapeOf(name)) === (await shapeOf('keen_template'));
}

/** Workers as the server has them, in one file that is there at once. */
export const testPool = (dataFolder: string) => calculationPool(dataFolder, join(ROOT, '.keen/test-bundle/worker.mjs'));

/**
 * A database of its own with the demo club in it, and the application on it; no socket is opened. Its clock runs from when the
 * demo was made, or as `now` says; the demo is made anew at that instant only where `freshDemo` asks for it.
 */
export async function startServer(options: ServerOptions = {}): Promise<TestServer> {
  const url = new URL(process.env.KEEN_TEST_DATABASE_URL!);
  const admin = connect(url.href, 1);
  const copied = options.demo !== false && !options.freshDemo;
  const name = copied ? await demoDatabase(admin) : await emptyDatabase(admin);
  url.pathname = `/${name}`;
  const began = Date.now();
  const now = options.now ?? (() => new Date(Date.parse(DEMO_MADE) + Date.now() - began));
  if (!copied) await migrate(url.href);
  const db = connect(url.href);
  const store = makeStore(db, now);
  if (options.demo !== false && !copied) await seedDemo(store);
  const config: Config = {
    databaseUrl: url.href,
    host: '127.0.0.1',
    port: 0,
    secret: 'a secret for tests that is long enough to sign with',
    secureCookies: false,
    webFolder: join(ROOT, 'web/dist'),
    dataFolder: join(ROOT, 'data'),
    loadDemo: false,
    demoAsked: true,
    names: [],
    signInLimit: 1000,
    calculationLimit: 10_000,
    trustProxy: false,
    logLevel: 'silent',
    metricsToken: '',
    drainS: 0,
    checkAnswers: true,
    bridges: {},
    frames: { folder: '', days: 30, reserveMb: 0 },
    ...options.config,
  };
  const pool = testPool(config.dataFolder);
  const jobs = jobRunner(store, pool.runJob, makeMetrics(), reporter('error'));
  const live = makeLive(store, pool.runTask, config, reporter('error'));
  const app = makeApp(config, store, { workers: pool, jobs, live });
  return {
    app,
    db,
    store,
    config,
    workers: pool,
    jobs,
    live,
    as: (signIn, password = DEMO_PASSWORD) => signInAs(app, signIn, password),
    stop: async () => {
      await Promise.all([jobs.stop(), live.runner.stop()]);
      await pool.close();
      await db.close();
      if (copied && (await asDemo(admin, name))) given.push(name);
      else await admin.query(`DROP DATABASE ${name}`);
      await admin.close();
    },
  };
}

/** Somebody who is there only when the tests begin. */
const later = <T extends object>(get: () => T): T =>
  new Proxy({} as T, { get: (_, key) => Reflect.get(get(), key) as unknown });

/**
 * The server of a file of tests, stopped after them, and members of its demo who are signed in, by their names there.
 * @param people as they sign in
 */
export function testServer<const Name extends string>(
  people: readonly Name[] = [],
  options: ServerOptions = {},
): { server: TestServer } & Record<Name, Person> {
  let server: TestServer | null = null;
  const there = new Map<string, Person>();
  beforeAll(async () => {
    server = await startServer(options);
    for (const name of people) there.set(name, await server.as(name));
  }, 120_000);
  afterAll(() => server?.stop());
  const one = (name: string) => [name, later(() => there.get(name)!)] as const;
  return { server: later(() => server!), ...(Object.fromEntries(people.map(one)) as Record<Name, Person>) };
}

export async function signInAs(app: Express, signIn: string, password: string): Promise<Person> {
  const agent = request.agent(app);
  const before = await agent.get(api.session.path);
  const got = await agent
    .post(api.signIn.path)
    .set('x-keen-token', before.body.csrfToken as string)
    .send({ signIn, password });
  if (got.status !== 200) throw new Error(`sign-in failed: ${got.status} ${JSON.stringify(got.body)}`);
  const token = got.body.csrfToken as string;
  return {
    get: (path) => agent.get(path),
    post: (path, body = {}) => agent.post(path).set('x-keen-token', token).send(body),
    put: (path, body) => agent.put(path).set('x-keen-token', token).send(body),
    del: (path) => agent.delete(path).set('x-keen-token', token),
  };
}

/** Begins a club of one's own with its first steward, and signs in. */
export async function begin(app: Express, signIn: string, password: string): Promise<Person> {
  const agent = request.agent(app);
  const { body } = await agent.get(api.session.path);
  await agent
    .post(api.begin.path)
    .set('x-keen-token', body.csrfToken as string)
    .send({ kind: 'club', place: `club of ${signIn}`, name: signIn, signIn, password });
  return signInAs(app, signIn, password);
}

/** A whole list, page by page. */
export async function every<T>(p: Person, path: string): Promise<T[]> {
  const all: T[] = [];
  for (;;) {
    const page = (await p.get(`${path}${path.includes('?') ? '&' : '?'}from=${all.length}`)).body as T[];
    all.push(...page);
    if (page.length < MOST_A_PAGE) return all;
  }
}

/** An address with its id; numbers beside it are the first. */
export const fill = (path: string, id: string) => path.replace(':id', id).replace('/:n/', '/0/');

/** The first rig that has a project, with a plan body for a night of its own. */
export async function somethingToPlan(p: Person, night: string, rigName = '120 mm triplet') {
  const rigs = (await p.get(api.rigs.path)).body as RigRecord[];
  const rig = rigs.find((r) => r.name === rigName)!;
  const all = ((await p.get(api.projects.path)).body as ProjectRecord[]).filter((q) => q.rigId === rig.id);
  const site = ((await p.get(api.sites.path)).body as SiteRecord[]).find((s) => s.id === rig.siteId)!;
  // those that stand free longest between 18 and 24 hours first
  const { latitudeDeg, longitudeDeg, elevationM, timeZone, horizon } = site;
  const hoursUp = (q: ProjectRecord) => {
    const { raDeg, decDeg } = q.framing ?? q;
    const { windows } = target({
      site: { latitudeDeg, longitudeDeg, elevationM, timeZone, horizon },
      date: night,
      raDeg,
      decDeg,
      minimumAltitudeDeg: q.minimumAltitudeDeg,
      darkness: 'astronomical',
      stepMin: 5,
    });
    const [from, until] = [18, 24].map((h) => Date.parse(`${night}T00:00:00Z`) + h * 3_600_000) as [number, number];
    return windows.reduce(
      (s, w) => s + Math.max(0, Math.min(until, Date.parse(w.end)) - Math.max(from, Date.parse(w.start))),
      0,
    );
  };
  const projects = all
    .map((q) => ({ q, up: hoursUp(q) }))
    .sort((a, b) => b.up - a.up)
    .map(({ q }) => q);
  const project = projects[0]!;
  const at = (hour: number) => new Date(Date.parse(`${night}T00:00:00Z`) + hour * 3_600_000).toISOString();
  const settings: PlanFields['legs'][number]['settings'] = {
    filters: project.goals.map((g) => ({ name: g.filter, exposureS: g.exposureS, quota: g.quota })),
    order: 'lagging',
    dither: { everyFrames: 2, perRound: false },
    focus: { policy: 'every-change' },
    coolingCPerHour: 1,
  };
  const leg = (
    from: number,
    to: number,
    more: Partial<PlanFields['legs'][number]> = {},
  ): PlanFields['legs'][number] => ({
    id: 'one',
    projectId: project.id,
    panel: null,
    role: 'main',
    turnMin: null,
    from: { by: 'clock', at: at(from) },
    until: { by: 'clock', at: at(to) },
    settings: structuredClone(settings),
    guiding: true,
    meridian: 'flip',
    centreWithinArcmin: 0.5,
    follower: null,
    ...more,
  });
  /** One leg and nothing around it. */
  const plan = (from: number, to: number, more: Partial<PlanFields> = {}): PlanFields => ({
    rigId: rig.id,
    night,
    opening: [],
    legs: [leg(from, to)],
    closing: [],
    watches: USUAL_WATCHES,
    locked: false,
    locks: [],
    ...more,
  });
  return { rig, project, projects, plan, leg };
}

/** A job waited for until it has ended. */
export async function ended(p: Person, id: string): Promise<JobWithResult> {
  for (;;) {
    const job = (await p.get(fill(api.job.path, id))).body as JobWithResult;
    if (job.endedAt) return job;
    await new Promise((r) => setTimeout(r, 25));
  }
}
/** A rehearsal asked for and waited for: the run it became, or what was said instead. */
export async function rehearsed(
  p: Person,
  planId: string,
  seed: number,
): Promise<Pick<request.Response, 'status' | 'body'>> {
  const asked = await p.post(fill(api.rehearse.path, planId), { seed });
  if (asked.status !== 200) return asked;
  const { problem, result } = await ended(p, (asked.body as JobRecord).id);
  if (problem) return { status: problem.status, body: problem };
  if (result?.kind !== 'rehearsal') throw new Error('the rehearsal came to nothing');
  return p.get(fill(api.run.path, result.runId));
}
