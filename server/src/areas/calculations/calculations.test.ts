import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import { calculations } from '@keen/core';
import { highsSolver } from '@keen/core/solver';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { Problem, PROBLEMS } from '../../problems.ts';
import { shippedStars } from '../../../../core/src/test/shippedStars.ts';
import { begin, testServer } from '../../test/harness.ts';

const ROOT = join(import.meta.dirname, '../../../..');
const stars = shippedStars();
const solver = await highsSolver();
const { server } = testServer([], { demo: false });

describe('the registry over HTTP', () => {
  /** A picture is sent, never named. */
  const withPictures = ['frames.measure', 'frames.diagnose'];
  test.each([...calculations.keys()].filter((n) => existsSync(join(ROOT, 'examples', n)) && !withPictures.includes(n)))(
    '%s gives the same as the library',
    async (name) => {
      const folder = join(ROOT, 'examples', name);
      const file = readdirSync(folder).find((f) => !JSON.parse(readFileSync(join(folder, f), 'utf8')).error)!;
      const { input } = JSON.parse(readFileSync(join(folder, file), 'utf8')) as { input: object };
      const got = await request(server.app).post(`/api/calculations/${name}`).send(input);
      expect(got.status).toBe(200);
      expect(got.body).toEqual(JSON.parse(JSON.stringify(calculations.get(name)!.run(input, { stars, solver }))));
      expect(got.body.verdict.text.length).toBeGreaterThan(3);
      expect(Array.isArray(got.body.working)).toBe(true);
    },
  );
  test('a picture is sent as it is and measured; a path is never followed, and strangers send none', async () => {
    const picture = readFileSync(join(ROOT, 'examples/frames/trailed.fits'));
    const person = await begin(server.app, 'measurer', 'a long one for pictures');
    const member = (name: string) =>
      person.post(`/api/calculations/${name}`, picture).set('content-type', 'application/fits');
    const measured = await member('frames.measure');
    expect(measured.status).toBe(200);
    expect(measured.body.elongationAngleDeg).toBeCloseTo(35, -1);
    const judged = await member('frames.diagnose');
    expect((judged.body.findings as { code: string }[]).map((f) => f.code)).toEqual(['trailing']);
    const path = await request(server.app)
      .post('/api/calculations/frames.measure')
      .send({ file: 'examples/frames/trailed.fits' });
    expect([path.status, path.text]).toEqual([400, expect.stringContaining('no path is taken here')]);
    const stranger = request(server.app)
      .post('/api/calculations/frames.measure')
      .set('content-type', 'application/fits');
    expect((await stranger.send(picture)).status).toBe(401);
    expect((await member('focus.zone')).status).toBe(400);
  });
  test('bad input is 400 with every complaint and its place', async () => {
    const got = await request(server.app)
      .post('/api/calculations/balance.assess')
      .send({ masses: [{ name: 'a', massKg: -1 }], latitudeDeg: 99 });
    expect(got.status).toBe(400);
    expect(got.body.error.code).toBe('invalid_input');
    const paths = (got.body.error.issues as { path: string }[]).map((i) => i.path);
    expect(paths).toEqual(expect.arrayContaining(['masses.0.massKg', 'masses.0.xMm', 'latitudeDeg']));
  });
  test('an unknown name, text that is not JSON and a body too large are told apart', async () => {
    expect((await request(server.app).post('/api/calculations/balance.guess').send({})).status).toBe(404);
    const broken = await request(server.app)
      .post('/api/calculations/sky.night')
      .set('content-type', 'application/json')
      .send('{"site":');
    expect([broken.status, broken.body.code]).toEqual([400, 'invalid_input']);
    const large = await request(server.app)
      .post('/api/calculations/sky.night')
      .send({ filler: 'x'.repeat(5_000_000) });
    expect(large.status).toBe(413);
  });
  test('calculations are rationed by address, by all servers together', async () => {
    const config = { ...server.config, calculationLimit: 3, trustProxy: true };
    const servers = [1, 2].map(() => makeApp(config, server.store, server));
    const ask = async (i: number, from: string) =>
      (
        await request(servers[i % 2]!)
          .post('/api/calculations/focus.zone')
          .set('x-forwarded-for', from)
          .send({ focalRatio: 7 })
      ).status;
    const statuses = [];
    for (let i = 0; i < 5; i++) statuses.push(await ask(i, '203.0.113.40'));
    expect(statuses).toEqual([200, 200, 200, 429, 429]);
    expect(await ask(0, '203.0.113.41')).toBe(200);
    // at one moment too
    const crowd = await Promise.all(Array.from({ length: 12 }, (_, i) => ask(i, '203.0.113.42')));
    expect(crowd.filter((s) => s === 200)).toHaveLength(3);
    // no address stands in the database
    const kept = await server.db.query<{ who: string }>('SELECT who FROM hits', { type: QueryTypes.SELECT });
    expect(kept.every(({ who }) => /^[0-9a-f]{64}$/.test(who))).toBe(true);
  });
  test('one person has a few questions in the line, in the whole installation', async () => {
    const release: (() => void)[] = [];
    const calculate = () =>
      new Promise<{ status: 200; json: string }>((done) => release.push(() => done({ status: 200, json: '{}' })));
    const slow = { ...server, workers: { ...server.workers, calculate } };
    const servers = [1, 2].map(() => makeApp({ ...server.config, trustProxy: true }, server.store, slow));
    const ask = async (i: number, from: string) =>
      (
        await request(servers[i % 2]!)
          .post('/api/calculations/focus.zone')
          .set('x-forwarded-for', from)
          .send({ focalRatio: 7 })
      ).status;
    const asked = Array.from({ length: 14 }, (_, i) => ask(i, '203.0.113.50'));
    let refused = 0;
    for (const a of asked) void a.then((s) => (refused += Number(s === 429)));
    while (refused + release.length < 14) await new Promise((r) => setTimeout(r, 10));
    // another has their own
    const other = ask(0, '203.0.113.51');
    while (refused + release.length < 15) await new Promise((r) => setTimeout(r, 10));
    release.splice(0).forEach((go) => go());
    expect(await other).toBe(200);
    const statuses = await Promise.all(asked);
    expect([200, 429].map((s) => statuses.filter((t) => t === s).length)).toEqual([9, 5]);
    // one that the line refuses at once keeps no place
    const full = () => {
      throw new Problem('busy');
    };
    const busy = makeApp({ ...server.config, trustProxy: true }, server.store, {
      ...server,
      workers: { ...server.workers, calculate: full as never },
    });
    for (let i = 0; i < 12; i++) {
      const got = await request(busy)
        .post('/api/calculations/focus.zone')
        .set('x-forwarded-for', '203.0.113.52')
        .send({ focalRatio: 7 });
      expect(got.body.code).toBe('busy');
    }
    // and the places are free again
    const again = ask(1, '203.0.113.50');
    while (release.length === 0) await new Promise((r) => setTimeout(r, 10));
    release.splice(0).forEach((go) => go());
    expect(await again).toBe(200);
  }, 60_000);
  test('the OpenAPI document holds every route and every calculation, and the page is there', async () => {
    const { body } = await request(server.app).get('/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    for (const r of Object.values(api)) expect(body.paths[r.path.replace(/:(\w+)/g, '{$1}')]?.[r.method]).toBeDefined();
    for (const name of calculations.keys())
      expect(body.paths[`/api/calculations/${name}`].post.requestBody).toBeDefined();
    expect((await request(server.app).get('/api/docs')).text).toContain('openapi.json');
  });
});

test('the documentation lists exactly the problems there are', () => {
  const page = readFileSync(join(ROOT, 'docs/problems.md'), 'utf8');
  const listed = [...page.matchAll(/^\| `(\w+)` *\| (\d+) *\|/gm)].map((m) => [m[1], Number(m[2])]);
  expect(listed).toEqual(Object.entries(PROBLEMS).map(([code, [status]]) => [code, status]));
});

test('pages carry a strict policy and a nonce of their own', async () => {
  const [a, b] = [await request(server.app).get('/night'), await request(server.app).get('/night')];
  const nonce = (r: request.Response) => /nonce-([^']+)'/.exec(r.headers['content-security-policy']!)![1];
  expect(nonce(a)).not.toBe(nonce(b));
  expect(a.headers['content-security-policy']).not.toContain("script-src 'unsafe");
  expect(a.headers['content-security-policy']).toContain(
    "require-trusted-types-for 'script';trusted-types vue default",
  );
  expect((await request(server.app).get('/api/nothing')).body.code).toBe('not_found');
});
