import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { api, type MemberInfo } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { fill, signInAs, startServer, type TestServer } from '../../test/harness.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startServer({ demo: false });
}, 60_000);
afterAll(() => server.stop());

async function begun(signIn: string) {
  const agent = request.agent(server.app);
  const { body } = await agent.get(api.session.path);
  await agent.post(api.begin.path).set('x-keen-token', body.csrfToken as string).send({ kind: 'club', place: `${signIn}s club`, name: signIn, signIn, password: 'first password' }); // prettier-ignore
  return signInAs(server.app, signIn, 'first password');
}
const person = (signIn: string, role: string) => ({ name: signIn, signIn, password: 'given by a steward', role });

test('one’s own password: the present one is asked, the new one is long enough, and other browsers sign in again', async () => {
  const here = await begun('noor');
  const there = await signInAs(server.app, 'noor', 'first password');
  const change = (current: string, next: string) => here.put(api.changePassword.path, { current, next });
  expect((await change('a wrong one', 'second password')).body.issues[0].path).toBe('current');
  expect((await change('first password', 'short')).body.issues[0].message).toBe('at least 10 characters');
  expect((await there.get(api.rigs.path)).status).toBe(200);
  expect((await change('first password', 'second password')).status).toBe(200);
  expect((await there.get(api.rigs.path)).status).toBe(401);
  expect((await here.get(api.rigs.path)).status).toBe(200);
  await expect(signInAs(server.app, 'noor', 'first password')).rejects.toThrow('401');
  expect(await signInAs(server.app, 'noor', 'second password')).toBeDefined();
});

test('a steward changes roles, gives passwords and ends memberships; each ends the sessions of that person', async () => {
  const steward = await begun('odile');
  const made = (await steward.post(api.addMember.path, person('teun.b', 'member'))).body as MemberInfo;
  const change = (body: object, id = made.id) => steward.put(fill(api.changeMember.path, id), body);
  let teun = await signInAs(server.app, 'teun.b', 'given by a steward');
  expect((await change({ role: 'guest' })).body.role).toBe('guest');
  expect((await teun.get(api.rigs.path)).status).toBe(401);
  teun = await signInAs(server.app, 'teun.b', 'given by a steward');
  expect((await teun.put(fill(api.changeMember.path, made.id), { role: 'steward' })).status).toBe(403);
  expect((await change({ password: 'another password' })).status).toBe(200);
  expect((await teun.get(api.rigs.path)).status).toBe(401);
  teun = await signInAs(server.app, 'teun.b', 'another password');
  expect((await change({ ended: true })).status).toBe(200);
  expect((await teun.get(api.rigs.path)).status).toBe(401);
  await expect(signInAs(server.app, 'teun.b', 'another password')).rejects.toThrow('401');
  expect(((await steward.get(api.members.path)).body as MemberInfo[]).map((m) => m.signIn)).toEqual(['odile']);
});

test('a club keeps a steward, also when two give up at once, and nobody reaches into another club', async () => {
  const [one, other] = [await begun('first.one'), await begun('elsewhere')];
  const me = ((await one.get(api.members.path)).body as MemberInfo[])[0]!;
  const leave = (p: typeof one, id: string) => p.put(fill(api.changeMember.path, id), { role: 'member' });
  expect((await leave(one, me.id)).status).toBe(403);
  const second = (await one.post(api.addMember.path, person('second.one', 'steward'))).body as MemberInfo;
  const two = await signInAs(server.app, 'second.one', 'given by a steward');
  expect((await leave(other, second.id)).status).toBe(404);
  const both = await Promise.all([leave(one, second.id), leave(two, me.id)]);
  expect(both.filter((r) => r.status === 200)).toHaveLength(1);
});

test('the demo’s public passwords stay as they are', async () => {
  const demo = await startServer();
  try {
    const [odalys, teun] = [await demo.as('odalys'), await demo.as('teun')];
    expect((await teun.put(api.changePassword.path, { current: 'larkmoor-nights', next: 'mine alone now' })).status).toBe(403); // prettier-ignore
    const list = (await odalys.get(api.members.path)).body as MemberInfo[];
    const id = list.find((m) => m.signIn === 'teun')!.id;
    expect((await odalys.put(fill(api.changeMember.path, id), { password: 'mine alone now' })).status).toBe(403);
  } finally {
    await demo.stop();
  }
}, 60_000);

test('a session ends when it was not used for a fortnight, and after a month in any case', async () => {
  let now = Date.parse('2026-11-01T12:00:00Z');
  const days = (n: number) => n * 86_400_000;
  const clocked = await startServer({ demo: false, now: () => new Date(now) });
  try {
    const agent = request.agent(clocked.app);
    const { body } = await agent.get(api.session.path);
    await agent.post(api.begin.path).set('x-keen-token', body.csrfToken as string).send({ kind: 'alone', name: 'noor', signIn: 'noor', password: 'first password' }); // prettier-ignore
    const status = async () => (await agent.get(api.rigs.path)).status;
    for (const at of [0, 13, 26]) {
      now = Date.parse('2026-11-01T12:00:00Z') + days(at);
      expect([at, await status()]).toEqual([at, 200]);
    }
    now = Date.parse('2026-11-01T12:00:00Z') + days(31);
    expect(await status()).toBe(401);
    const again = request.agent(clocked.app);
    const token = (await again.get(api.session.path)).body.csrfToken as string;
    await again.post(api.signIn.path).set('x-keen-token', token).send({ signIn: 'noor', password: 'first password' });
    now += days(15);
    expect((await again.get(api.rigs.path)).status).toBe(401);
  } finally {
    await clocked.stop();
  }
});

test('people who never sign in leave no row behind, and the cookies are the host’s own behind HTTPS', async () => {
  const rows = async () => Number((await server.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM Sessions', { type: QueryTypes.SELECT }))[0]!.n); // prettier-ignore
  const before = await rows();
  const agent = request.agent(server.app);
  const first = (await agent.get(api.session.path)).body.csrfToken as string;
  expect((await agent.get(api.session.path)).body.csrfToken).toBe(first);
  expect((await agent.post(api.signIn.path).set('x-keen-token', first).send({ signIn: 'nobody', password: 'x' })).status).toBe(401); // prettier-ignore
  expect(await rows()).toBe(before);
  // another visitor’s token is no use
  const other = (await request(server.app).get(api.session.path)).body.csrfToken as string;
  expect((await agent.post(api.signIn.path).set('x-keen-token', other).send({ signIn: 'nobody', password: 'x' })).body.code).toBe('bad_token'); // prettier-ignore
  const secure = makeApp({ ...server.config, secureCookies: true }, server.db, server.store, server.calculate);
  expect((await request(secure).get(api.session.path)).headers['set-cookie']![0]).toMatch(/^__Host-keen\.visitor=.*Path=\/.*Secure/); // prettier-ignore
});

test('failed sign-ins count over all processes, by address and by account, and not against who signs in', async () => {
  const strict = { ...server.config, signInLimit: 3 };
  const processes = [1, 2].map(() =>
    makeApp({ ...strict, trustProxy: true }, server.db, server.store, server.calculate),
  );
  const attempt = async (app: (typeof processes)[number], address: string, signIn: string, password: string) => {
    const agent = request.agent(app);
    const { body } = await agent.get(api.session.path);
    return (await agent.post(api.signIn.path).set('x-forwarded-for', address).set('x-keen-token', body.csrfToken as string).send({ signIn, password })).status; // prettier-ignore
  };
  const settle = () => new Promise((r) => setTimeout(r, 60));
  const statuses: number[] = [];
  for (let i = 0; i < 5; i++) {
    statuses.push(await attempt(processes[i % 2]!, '203.0.113.7', `guess${i}`, 'wrong'));
    await settle();
  }
  expect(statuses).toEqual([401, 401, 401, 429, 429]);
  expect(await attempt(processes[0]!, '203.0.113.8', 'noor', 'second password')).toBe(200);
  // many addresses, one account: fifteen, then no more
  const many: number[] = [];
  for (let i = 0; i < 17; i++) {
    many.push(await attempt(processes[i % 2]!, `198.51.100.${i}`, 'odile', 'wrong'));
    await settle();
  }
  expect([many.slice(0, 15).every((s) => s === 401), many.slice(15)]).toEqual([true, [429, 429]]);
});
