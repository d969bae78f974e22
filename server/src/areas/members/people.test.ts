import { expect, test } from '@jest/globals';
import { api, type MemberInfo } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { fill, signInAs, startServer, testServer } from '../../test/harness.ts';

const { server } = testServer([], { demo: false });

async function begun(signIn: string) {
  const agent = request.agent(server.app);
  const { body } = await agent.get(api.session.path);
  await agent
    .post(api.begin.path)
    .set('x-keen-token', body.csrfToken as string)
    .send({ kind: 'club', place: `${signIn}s club`, name: signIn, signIn, password: 'first password' });
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
    expect(
      (await teun.put(api.changePassword.path, { current: 'larkmoor-nights', next: 'mine alone now' })).status,
    ).toBe(403);
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
    await agent
      .post(api.begin.path)
      .set('x-keen-token', body.csrfToken as string)
      .send({ kind: 'alone', name: 'noor', signIn: 'noor', password: 'first password' });
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
  const rows = async () =>
    Number(
      (await server.db.query<{ n: number }>('SELECT COUNT(*) AS n FROM Sessions', { type: QueryTypes.SELECT }))[0]!.n,
    );
  const before = await rows();
  const agent = request.agent(server.app);
  const first = (await agent.get(api.session.path)).body.csrfToken as string;
  expect((await agent.get(api.session.path)).body.csrfToken).toBe(first);
  expect(
    (await agent.post(api.signIn.path).set('x-keen-token', first).send({ signIn: 'nobody', password: 'x' })).status,
  ).toBe(401);
  expect(await rows()).toBe(before);
  // another visitor’s token is no use
  const other = (await request(server.app).get(api.session.path)).body.csrfToken as string;
  expect(
    (await agent.post(api.signIn.path).set('x-keen-token', other).send({ signIn: 'nobody', password: 'x' })).body.code,
  ).toBe('bad_token');
  const secure = makeApp({ ...server.config, secureCookies: true }, server.store, server);
  expect((await request(secure).get(api.session.path)).headers['set-cookie']![0]).toMatch(
    /^__Host-keen\.visitor=.*Path=\/.*Secure/,
  );
});

test('failed sign-ins count over all processes, by address and by account, and not against who signs in', async () => {
  const strict = { ...server.config, signInLimit: 3 };
  const processes = [1, 2].map(() => makeApp({ ...strict, trustProxy: true }, server.store, server));
  const attempt = async (app: (typeof processes)[number], address: string, signIn: string, password: string) => {
    const agent = request.agent(app);
    const { body } = await agent.get(api.session.path);
    return (
      await agent
        .post(api.signIn.path)
        .set('x-forwarded-for', address)
        .set('x-keen-token', body.csrfToken as string)
        .send({ signIn, password })
    ).status;
  };
  const settle = () => new Promise((r) => setTimeout(r, 60));
  const statuses: number[] = [];
  for (let i = 0; i < 5; i++) {
    statuses.push(await attempt(processes[i % 2]!, '203.0.113.7', `guess${i}`, 'wrong'));
    await settle();
  }
  expect(statuses).toEqual([401, 401, 401, 429, 429]);
  expect(await attempt(processes[0]!, '203.0.113.8', 'noor', 'second password')).toBe(200);
  // many addresses, one account: after fifteen each waits, and its owner still comes in
  const timed = async (i: number, password: string) => {
    const began = performance.now();
    const status = await attempt(processes[i % 2]!, `198.51.100.${i}`, 'odile', password);
    await settle();
    return { status, ms: performance.now() - began };
  };
  const many: { status: number; ms: number }[] = [];
  for (let i = 0; i < 16; i++) many.push(await timed(i, 'wrong'));
  expect(many.map((m) => m.status)).toEqual(Array.from({ length: 16 }, () => 401));
  // none but the last is made to wait; on a busy machine one of them takes long by itself
  expect(many.slice(0, 15).sort((a, b) => a.ms - b.ms)[7]!.ms).toBeLessThan(1000);
  expect(many.at(-1)!.ms).toBeGreaterThanOrEqual(1000);
  const owner = await timed(16, 'first password');
  expect([owner.status, owner.ms >= 1000]).toEqual([200, true]);
  // neighbours of one network of version 6 are one address
  const six: number[] = [];
  for (let i = 0; i < 4; i++) {
    six.push(await attempt(processes[i % 2]!, `2001:db8:7:9:${i}::1`, `other${i}`, 'wrong'));
    await settle();
  }
  expect(six).toEqual([401, 401, 401, 429]);
  expect(await attempt(processes[0]!, '2001:db8:7:a::1', 'other', 'wrong')).toBe(401);
});

test('of three hundred guesses at one moment no more than the limit are judged, whatever they guess at', async () => {
  const strict = makeApp({ ...server.config, signInLimit: 5 }, server.store, server);
  await server.db.query('DELETE FROM sign_in_tries');
  const agent = request.agent(strict);
  const token = (await agent.get(api.session.path)).body.csrfToken as string;
  const guesses = await Promise.all(
    Array.from({ length: 60 }, (_, i) =>
      agent
        .post(api.signIn.path)
        .set('x-keen-token', token)
        .send({ signIn: 'noor', password: `guess ${i}` }),
    ),
  );
  const judged = guesses.filter((r) => r.status === 401).length;
  expect(judged).toBeLessThanOrEqual(5);
  expect(guesses.every((r) => r.status === 401 || r.status === 429)).toBe(true);
  await server.db.query('DELETE FROM sign_in_tries');
  const noor = await signInAs(strict, 'noor', 'second password');
  const own = await Promise.all(
    Array.from({ length: 60 }, (_, i) =>
      noor.put(api.changePassword.path, { current: `guess ${i}`, next: 'a new one entirely' }),
    ),
  );
  expect(own.filter((r) => r.body.code === 'wrong_password').length).toBeLessThanOrEqual(5);
  await server.db.query('DELETE FROM sign_in_tries');
});

test('a name is read letter by letter: another spelling is another name, and its failures count', async () => {
  const strict = makeApp({ ...server.config, signInLimit: 3 }, server.store, server);
  const agent = request.agent(strict);
  const token = (await agent.get(api.session.path)).body.csrfToken as string;
  const attempt = async (signIn: string, password = 'second password') =>
    (await agent.post(api.signIn.path).set('x-keen-token', token).send({ signIn, password })).status;
  for (const signIn of ['nóor', 'noor\u0000', 'no\u0000or', 'ｎｏｏｒ', 'noor\u00ad', 'noor\u200b', '\ud800noor']) {
    await server.db.query('DELETE FROM sign_in_tries');
    expect([signIn, await attempt(signIn)]).toEqual([signIn, 400]);
  }
  await server.db.query('DELETE FROM sign_in_tries');
  const statuses: number[] = [];
  for (let i = 0; i < 5; i++) {
    statuses.push(await attempt('nóor', `wrong ${i}`));
    await new Promise((r) => setTimeout(r, 60));
  }
  expect(statuses).toEqual([400, 400, 400, 429, 429]);
  await server.db.query('DELETE FROM sign_in_tries');
  expect(await attempt('NOOR ')).toBe(200);
});

test('a log that cannot be written changes no answer', async () => {
  await server.db.query('DELETE FROM sign_in_tries');
  await server.db.query('RENAME TABLE security_events TO security_events_away');
  try {
    await expect(signInAs(server.app, 'noor', 'wrong')).rejects.toThrow('401');
    expect(await signInAs(server.app, 'noor', 'second password')).toBeDefined();
  } finally {
    await server.db.query('RENAME TABLE security_events_away TO security_events');
  }
});

test('a session that was judged before a reset and begins after it is over', async () => {
  const steward = await begun('reset.er');
  const made = (await steward.post(api.addMember.path, person('raced', 'member'))).body as MemberInfo;
  const living: number[] = [];
  for (let i = 0; i < 6; i++) {
    const password = i === 0 ? 'given by a steward' : `number ${i - 1} of the passwords`;
    const trying = signInAs(server.app, 'raced', password).catch(() => null);
    await new Promise((r) => setTimeout(r, i * 12));
    const reset = await steward.put(fill(api.changeMember.path, made.id), { password: `number ${i} of the passwords` });
    expect(reset.status).toBe(200);
    const got = await trying;
    if (got) living.push((await got.get(api.rigs.path)).status);
  }
  expect(living.every((s) => s === 401)).toBe(true);
});

test('what hands out rights asks for the password again, and a reset is for others', async () => {
  let now = Date.parse('2026-11-01T12:00:00Z');
  const clocked = await startServer({ demo: false, now: () => new Date(now) });
  try {
    const agent = request.agent(clocked.app);
    const { body } = await agent.get(api.session.path);
    const first = await agent
      .post(api.begin.path)
      .set('x-keen-token', body.csrfToken as string)
      .send({ kind: 'club', place: 'One', name: 'noor', signIn: 'noor', password: 'first password' });
    const token = first.body.csrfToken as string;
    const put = (path: string, sent: object) => agent.put(path).set('x-keen-token', token).send(sent);
    const add = (signIn: string) =>
      agent.post(api.addMember.path).set('x-keen-token', token).send(person(signIn, 'steward'));
    const made = (await add('helper')).body as MemberInfo;
    expect(made.role).toBe('steward');
    now += 11 * 60_000;
    const dangerous = [
      await add('another'),
      await put(fill(api.changeMember.path, made.id), { password: 'thief owns this now' }),
      await agent.post(api.invite.path).set('x-keen-token', token).send({ name: '', role: 'steward' }),
    ];
    expect(dangerous.map((r) => r.body.code)).toEqual(['proof_needed', 'proof_needed', 'proof_needed']);
    expect((await put(api.prove.path, { password: 'not it' })).body.code).toBe('wrong_password');
    expect((await put(api.prove.path, { password: 'first password' })).status).toBe(200);
    expect((await add('another')).status).toBe(200);
    const me = (first.body as { member: MemberInfo }).member;
    for (const sent of [{ password: 'thief owns this now' }, { withoutSecondFactor: true }])
      expect((await put(fill(api.changeMember.path, me.id), sent)).body.code).toBe('not_allowed');
  } finally {
    await clocked.stop();
  }
});

test('a steward who is made guest has no invitation that still opens', async () => {
  const steward = await begun('keeper.one');
  const second = (await steward.post(api.addMember.path, person('keeper.two', 'steward'))).body as MemberInfo;
  const two = await signInAs(server.app, 'keeper.two', 'given by a steward');
  const { token } = (await two.post(api.invite.path, { name: '', role: 'steward' })).body as { token: string };
  expect((await steward.put(fill(api.changeMember.path, second.id), { role: 'guest' })).status).toBe(200);
  const agent = request.agent(server.app);
  const csrf = (await agent.get(api.session.path)).body.csrfToken as string;
  expect((await agent.post(api.lookAtInvitation.path).set('x-keen-token', csrf).send({ token })).status).toBe(404);
});

test('a loopback server answers to its own names only, and the demo’s passwords open nothing behind a proxy', async () => {
  const asked = (app: typeof server.app, host: string) => request(app).get(api.session.path).set('host', host);
  expect((await asked(server.app, 'evil.example')).body.code).toBe('unknown_name');
  expect((await asked(server.app, 'localhost:4310')).status).toBe(200);
  const named = makeApp({ ...server.config, names: ['obs.example'] }, server.store, server);
  expect([(await asked(named, 'obs.example')).status, (await asked(named, 'evil.example')).status]).toEqual([200, 421]);
  const demo = await startServer();
  try {
    const proxied = (demoAsked: boolean) => makeApp({ ...demo.config, trustProxy: true, demoAsked }, demo.store, demo);
    await expect(signInAs(proxied(false), 'odalys', 'larkmoor-nights')).rejects.toThrow('401');
    expect((await request(proxied(false)).get(api.session.path)).body.demo).toBeNull();
    expect(await signInAs(proxied(true), 'odalys', 'larkmoor-nights')).toBeDefined();
  } finally {
    await demo.stop();
  }
});

test('who leaves without their name leaves it nowhere: what they did stays, and nobody signs in as them', async () => {
  const steward = await begun('wibke');
  const added = (await steward.post(api.addMember.path, { ...person('lasse', 'member'), name: 'Lasse Unwin' }))
    .body as MemberInfo;
  const lasse = await signInAs(server.app, 'lasse', 'given by a steward');
  const part = { name: 'a ring', kind: 'adapter', massKg: 0.1, count: 1, note: '', ownedByClub: true };
  await lasse.post(api.addPart.path, part);
  // one whose name only holds it keeps it
  await steward.post(api.addPart.path, { ...part, name: 'ring of Lasse Unwinson' });
  expect(JSON.stringify((await steward.get(api.changes.path)).body)).toContain('Lasse Unwin ');
  const change = (body: object) => steward.put(fill(api.changeMember.path, added.id), body);
  // only together with the end of the membership
  expect((await change({ withoutName: true })).body).toMatchObject({ name: 'Lasse Unwin' });
  expect((await change({ ended: true, withoutName: true })).status).toBe(200);
  const changes = (await steward.get(api.changes.path)).body as { by: string; text: string; subject: string }[];
  expect(JSON.stringify(changes)).not.toMatch(/Lasse(?! Unwinson)/);
  expect(JSON.stringify(changes)).toContain('ring of Lasse Unwinson');
  expect(changes.some((c) => c.by === 'A former member' && c.subject.includes('a ring'))).toBe(true);
  expect(((await steward.get(api.members.path)).body as MemberInfo[]).map((m) => m.name)).toEqual(['wibke']);
  await expect(signInAs(server.app, 'lasse', 'given by a steward')).rejects.toThrow(/sign-in failed/);
});
