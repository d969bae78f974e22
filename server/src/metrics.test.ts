import { describe, expect, test } from '@jest/globals';
import { api, type RigRecord } from '@keen/contract';
import request from 'supertest';
import { makeApp } from './app.ts';
import { makeMetrics } from './metrics.ts';
import { fill, testServer } from './test/harness.ts';

const TOKEN = 'a token for tests that is long enough';
const { server } = testServer();
const appWith = (config: object) => {
  const metrics = makeMetrics();
  metrics.watchPool(server.db);
  const { store, workers } = server;
  return makeApp({ ...server.config, ...config }, store, { workers, metrics });
};
const read = (app: ReturnType<typeof appWith>, headers: Record<string, string> = {}) =>
  request(app).get('/metrics').set(headers);

describe('what the server counts of itself', () => {
  test('is counted by route and not by address: no id, no name, nothing typed stands in it', async () => {
    const app = appWith({});
    const signedIn = request.agent(app);
    const { body } = await signedIn.get(api.session.path);
    const sent = { signIn: 'teun', password: 'larkmoor-nights' };
    await signedIn
      .post(api.signIn.path)
      .set('x-keen-token', body.csrfToken as string)
      .send(sent);
    const [rig] = (await signedIn.get(api.rigs.path)).body as RigRecord[];
    await signedIn.get(fill(api.revisions.path, rig!.id));
    await signedIn.get('/api/nowhere/teun');
    await request(app).post('/api/calculations/focus.zone').send({ focalRatio: 7, wavelengthNm: 550 });
    const { text } = await read(app);
    expect(text).toContain(`route="${api.revisions.path}",status="200"`);
    expect(text).toMatch(/keen_http_request_seconds_count\{method="GET",route="other",status="404"\} 1/);
    expect(text).toMatch(/keen_calculation_seconds_count\{name="focus.zone"\} 1/);
    expect(text).toMatch(/keen_database_connections_open \d/);
    expect(text).not.toContain(rig!.id);
    expect(text).not.toContain('teun');
  });
  test('is told at the machine, and elsewhere to whoever has the token', async () => {
    const passedOn = { 'x-forwarded-for': '203.0.113.9' };
    const [closed, open] = [appWith({}), appWith({ metricsToken: TOKEN })];
    expect((await read(closed)).status).toBe(200);
    expect((await read(closed, passedOn)).status).toBe(404);
    // an empty token opens nothing
    expect((await read(closed, { ...passedOn, authorization: 'Bearer ' })).status).toBe(404);
    expect((await read(open, passedOn)).status).toBe(404);
    expect((await read(open, { ...passedOn, authorization: `Bearer ${TOKEN}x` })).status).toBe(404);
    expect((await read(open, { ...passedOn, authorization: `Bearer ${TOKEN}` })).status).toBe(200);
  });
});
