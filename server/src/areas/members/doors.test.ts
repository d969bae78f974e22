import { describe, expect, test } from '@jest/globals';
import { api, type RigRecord, type SessionInfo } from '@keen/contract';
import type { Express } from 'express';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { demoService } from './demo.ts';
import { fill, startServer, testServer } from '../../test/harness.ts';

const { server } = testServer();

/** A browser: cookie and token carried along. */
async function browser(app: Express) {
  const agent = request.agent(app);
  let token = ((await agent.get(api.session.path)).body as SessionInfo).csrfToken;
  const take = (got: request.Response) => {
    token = (got.body as SessionInfo).csrfToken ?? token;
    return got;
  };
  return {
    session: async () => (await agent.get(api.session.path)).body as SessionInfo,
    get: (path: string) => agent.get(path),
    post: async (path: string, body: object = {}) => take(await agent.post(path).set('x-keen-token', token).send(body)),
    put: (path: string, body: object) => agent.put(path).set('x-keen-token', token).send(body),
    del: async (path: string) => take(await agent.delete(path).set('x-keen-token', token)),
  };
}
const person = (signIn: string, more: object = {}) => ({
  kind: 'alone',
  name: 'Noor',
  signIn,
  password: 'long enough',
  ...more,
});
const counts = async () => {
  const tables = ['clubs', 'members', 'rigs', 'projects', 'runs', 'frames', 'focus_runs', 'guide_logs', 'changes'];
  const rows = await Promise.all(
    tables.map((t) => server.db.query<{ n: number }>(`SELECT COUNT(*) AS n FROM ${t}`, { type: QueryTypes.SELECT })),
  );
  return Object.fromEntries(tables.map((t, i) => [t, Number(rows[i]![0]!.n)]));
};

describe('at the machine itself', () => {
  test('the demo is one click away, without a password, as any of its people', async () => {
    const b = await browser(server.app);
    const before = await b.session();
    expect([before.local, before.mayBegin, before.demo!.length]).toEqual([true, true, 5]);
    const got = await b.post(api.enterDemo.path, { signIn: 'mirela' });
    expect(got.body.member).toMatchObject({ name: 'Mirela Costin', role: 'member', demo: true, owner: false });
    expect((await b.post(api.enterDemo.path, { signIn: 'nobody' })).status).toBe(404);
  });
  test('one begins alone beside the demo, sees nothing of it, and owns the installation; a second does not', async () => {
    const b = await browser(server.app);
    const got = await b.post(api.begin.path, person('noor'));
    expect(got.body.member).toMatchObject({
      clubKind: 'alone',
      role: 'steward',
      owner: true,
      demo: false,
      club: 'Noor’s equipment',
    });
    expect((await b.get(api.rigs.path)).body).toEqual([]);
    const club = await (
      await browser(server.app)
    ).post(api.begin.path, person('first', { kind: 'club', place: 'Hill club' }));
    expect(club.body.member).toMatchObject({ clubKind: 'club', owner: false, club: 'Hill club' });
    const taken = await (await browser(server.app)).post(api.begin.path, person('noor'));
    expect([taken.status, taken.body.issues[0].path]).toEqual([409, 'signIn']);
    const nameless = await (await browser(server.app)).post(api.begin.path, person('other', { kind: 'club' }));
    expect(nameless.body.issues[0].path).toBe('place');
  });
  test('the demo is taken away whole by its steward or the owner, and brought back; nobody else’s records are touched', async () => {
    const full = await counts();
    const member = await browser(server.app);
    await member.post(api.enterDemo.path, { signIn: 'teun' });
    expect((await member.del(api.removeDemo.path)).status).toBe(403);
    const steward = await browser(server.app);
    await steward.post(api.enterDemo.path, { signIn: 'odalys' });
    // what points at rigs, members and projects goes with them
    const [rigId, night] = [(await steward.get(api.rigs.path)).body[0].id as string, '2027-02-10'];
    const there = [
      await steward.post(api.addBooking.path, { rigId, night, start: `${night}T20:00:00Z`, end: `${night}T22:00:00Z` }),
      await steward.put(api.keepAbsences.path, { absences: [{ from: night, until: night, title: '' }] }),
      await steward.get(api.ownFeed.path),
      await steward.post(api.addUpkeep.path, { rigId, what: 'grease', everyDays: 90, everyNights: null }),
      await steward.post(fill(api.takeOver.path, rigId), { inOrder: true }),
    ];
    expect(there.map((r) => r.status)).toEqual([200, 200, 200, 200, 200]);
    const gone = await steward.del(api.removeDemo.path);
    expect([gone.status, gone.body.member, gone.body.demo]).toEqual([200, null, null]);
    expect(await counts()).toMatchObject({
      clubs: 2,
      members: 2,
      rigs: 0,
      projects: 0,
      runs: 0,
      frames: 0,
      focus_runs: 0,
      guide_logs: 0,
    });
    expect((await member.session()).member).toBeNull();
    expect(await demoService(server.store).removed()).toBe(true);

    expect((await steward.post(api.restoreDemo.path)).status).toBe(403);
    const owner = await browser(server.app);
    await owner.post(api.signIn.path, { signIn: 'noor', password: 'long enough' });
    expect((await owner.session()).mayRestoreDemo).toBe(true);
    const both = await Promise.all([owner.post(api.restoreDemo.path), owner.post(api.restoreDemo.path)]);
    expect(both.map((r) => r.status)).toEqual([200, 200]);
    expect(await counts()).toMatchObject({ clubs: full.clubs!, rigs: full.rigs!, members: full.members! });
  }, 60_000);
});

describe('beyond the machine', () => {
  test('nobody enters without a password, and nobody begins who is not the first', async () => {
    const open = makeApp({ ...server.config, host: '0.0.0.0' }, server.store);
    const b = await browser(open);
    expect(await b.session()).toMatchObject({ local: false, mayBegin: false, mayRestoreDemo: false });
    expect((await b.post(api.enterDemo.path, { signIn: 'odalys' })).status).toBe(403);
    expect((await b.post(api.begin.path, person('late'))).body.code).toBe('already_done');
    expect((await b.del(api.removeDemo.path)).status).toBe(403);
  });
  test('a proxy in front, or a page under another name, is not the machine itself', async () => {
    for (const header of [{ 'x-forwarded-for': '203.0.113.9' }, { host: 'evil.example' }]) {
      const got = await request(server.app).get(api.session.path).set(header);
      expect([got.status === 421, (got.body as SessionInfo).local]).toEqual(
        'host' in header ? [true, undefined] : [false, false],
      );
    }
  });
  test('of several first persons at once one is the first, and gets an empty place to begin', async () => {
    const empty = await startServer({ demo: false, config: { host: '0.0.0.0' } });
    try {
      const people = await Promise.all(['a1', 'b2', 'c3'].map(() => browser(empty.app)));
      expect((await people[0]!.session()).mayBegin).toBe(true);
      const got = await Promise.all(people.map((p, i) => p.post(api.begin.path, person(`first${i}`))));
      expect(got.map((g) => g.status).sort()).toEqual([200, 409, 409]);
      const won = people[got.findIndex((g) => g.status === 200)]!;
      expect((await won.get(api.rigs.path)).body as RigRecord[]).toEqual([]);
    } finally {
      await empty.stop();
    }
  });
});

test('a database that ever held something is not filled with the demo by a start, even when all its records are gone', async () => {
  const empty = await startServer({ demo: false });
  try {
    const demo = demoService(empty.store);
    expect(await demo.neverHeldAnything()).toBe(true);
    await (await browser(empty.app)).post(api.begin.path, person('noor'));
    expect(await demo.neverHeldAnything()).toBe(false);
    for (const table of ['members', 'clubs']) await empty.db.query(`DELETE FROM ${table}`);
    expect(await empty.store.clubs.count()).toBe(0);
    expect(await demo.neverHeldAnything()).toBe(false);
  } finally {
    await empty.stop();
  }
});
