import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import { calculations } from '@keen/core';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { PROBLEMS } from '../../problems.ts';
import { shippedStars } from '../../../../core/src/test/shippedStars.ts';
import { begin, testServer } from '../../test/harness.ts';

const ROOT = join(import.meta.dirname, '../../../..');
const stars = shippedStars();
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
      expect(got.body).toEqual(JSON.parse(JSON.stringify(calculations.get(name)!.run(input, { stars }))));
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
  test('calculations are rationed by address', async () => {
    const strict = makeApp({ ...server.config, calculationLimit: 2 }, server.store, server);
    const statuses = [];
    for (let i = 0; i < 3; i++)
      statuses.push((await request(strict).post('/api/calculations/focus.zone').send({ focalRatio: 7 })).status);
    expect(statuses).toEqual([200, 200, 429]);
  });
  test('the OpenAPI document holds every route and every calculation, and the page is there', async () => {
    const { body } = await request(server.app).get('/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    for (const r of Object.values(api)) expect(body.paths[r.path.replace(':id', '{id}')]?.[r.method]).toBeDefined();
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
