import { describe, expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import request from 'supertest';
import { makeApp } from '../app.ts';
import { fill, testServer } from '../test/harness.ts';
import { hashPassword, hashQuickly } from './passwords.ts';

const { server } = testServer();

/** Signs in by hand, so that every step can be looked at. */
async function attempt(signIn: string, password: string, token?: string) {
  const agent = request.agent(server.app);
  const session = await agent.get(api.session.path);
  return agent
    .post(api.signIn.path)
    .set('x-keen-token', token ?? (session.body.csrfToken as string))
    .send({ signIn, password });
}

describe('signing in', () => {
  test('a wrong password and an unknown name are told alike', async () => {
    const [wrong, unknown] = [await attempt('odalys', 'not it at all'), await attempt('nobody', 'larkmoor-nights')];
    expect([wrong.status, wrong.body.code]).toEqual([401, 'wrong_password']);
    expect(unknown.body).toEqual(wrong.body);
  });
  test('without the session’s token nothing changes', async () => {
    const got = await attempt('odalys', 'larkmoor-nights', 'made up');
    expect([got.status, got.body.code]).toEqual([403, 'bad_token']);
  });
  test('the cookie is out of scripts’ reach, and its id changes at sign-in', async () => {
    const agent = request.agent(server.app);
    const before = await agent.get(api.session.path);
    const got = await agent
      .post(api.signIn.path)
      .set('x-keen-token', before.body.csrfToken as string)
      .send({ signIn: 'teun', password: 'larkmoor-nights' });
    const [a, b] = [before.headers['set-cookie']![0]!, got.headers['set-cookie']![0]!];
    expect(b).toMatch(/HttpOnly; SameSite=Lax/);
    expect(a.split(';')[0]).not.toBe(b.split(';')[0]);
    expect(got.body.member).toMatchObject({ name: 'Teun Achterberg', role: 'member' });
    expect(JSON.stringify(got.body)).not.toContain('argon2');
  });
  test('a password is kept so that guessing it takes long', async () => {
    hashQuickly(false);
    try {
      expect(await hashPassword('long enough')).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    } finally {
      hashQuickly();
    }
  });
  test('too many failures from one address are turned away', async () => {
    await server.db.query('DELETE FROM sign_in_tries');
    const strict = makeApp({ ...server.config, signInLimit: 3 }, server.store);
    const agent = request.agent(strict);
    const { body } = await agent.get(api.session.path);
    const statuses: number[] = [];
    for (let i = 0; i < 5; i++)
      statuses.push(
        (
          await agent
            .post(api.signIn.path)
            .set('x-keen-token', body.csrfToken as string)
            .send({ signIn: 'teun', password: 'no' })
        ).status,
      );
    expect(statuses).toEqual([401, 401, 401, 429, 429]);
  });
  test('the session lives in the database: another process knows it, and signing out ends it everywhere', async () => {
    const agent = request.agent(server.app);
    const before = await agent.get(api.session.path);
    const signedIn = await agent
      .post(api.signIn.path)
      .set('x-keen-token', before.body.csrfToken as string)
      .send({ signIn: 'mirela', password: 'larkmoor-nights' });
    const cookie = signedIn.headers['set-cookie']![0]!.split(';')[0]!;
    const second = makeApp(server.config, server.store);
    const seen = await request(second).get(api.session.path).set('cookie', cookie);
    expect(seen.body.member.name).toBe('Mirela Costin');
    await agent.delete(api.signOut.path).set('x-keen-token', signedIn.body.csrfToken as string);
    expect((await request(second).get(api.rigs.path).set('cookie', cookie)).status).toBe(401);
  });
});

describe('rights', () => {
  test('nothing but calculations and the session is open to strangers', async () => {
    for (const r of Object.values(api)) {
      if (r.role === null) continue;
      const path = fill(r.path, '00000000-0000-4000-8000-000000000000');
      const agent = request.agent(server.app);
      const { body } = await agent.get(api.session.path);
      const got = await agent[r.method](path).set('x-keen-token', body.csrfToken as string);
      expect([r.path, got.status]).toEqual([r.path, 401]);
    }
  });
  test('a guest looks on and changes nothing; a member does not add members', async () => {
    const [guest, member] = [await server.as('ines'), await server.as('teun')];
    expect((await guest.get(api.projects.path)).status).toBe(200);
    for (const r of Object.values(api)) {
      if (r.role !== 'member' && r.role !== 'steward') continue;
      const path = fill(r.path, '00000000-0000-4000-8000-000000000000');
      const got = await (r.method === 'put'
        ? guest.put(path, {})
        : r.method === 'delete'
          ? guest.del(path)
          : r.method === 'get'
            ? guest.get(path)
            : guest.post(path));
      expect([r.path, got.status, got.body.code]).toEqual([r.path, 403, 'not_allowed']);
    }
    const person = { name: 'New', signIn: 'new.one', password: 'long enough', role: 'member' };
    expect((await member.post(api.addMember.path, person)).status).toBe(403);
    const steward = await server.as('odalys');
    expect((await steward.post(api.addMember.path, person)).status).toBe(200);
    expect((await steward.post(api.addMember.path, person)).body.code).toBe('already_exists');
    expect((await server.as('new.one', 'long enough')).get).toBeDefined();
  });
});
