import { beforeAll, expect, test } from '@jest/globals';
import { api, type Invitation, type MemberInfo, type SecurityEvent } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { makeApp } from '../../app.ts';
import { begin, fill, type Person, testServer } from '../../test/harness.ts';

let now = Date.parse('2026-11-20T20:00:00Z');
const { server } = testServer([], { demo: false, now: () => new Date(now) });
let noor: Person;
let elsewhere: Person;
beforeAll(async () => {
  noor = await begin(server.app, 'noor', 'quiet meadow lantern');
  elsewhere = await begin(server.app, 'elsewhere', 'quiet meadow lantern');
}, 60_000);

const invite = async (p: Person, name = 'Teun', role = 'member') =>
  (await p.post(api.invite.path, { name, role })).body as { invitation: Invitation; token: string };
/** A browser that has never been here. */
async function stranger(path: string, body: object, app = server.app) {
  const agent = request.agent(app);
  const token = (await agent.get(api.session.path)).body.csrfToken as string;
  return agent.post(path).set('x-keen-token', token).send(body);
}
const join = (token: string, signIn: string, more: object = {}) =>
  stranger(api.join.path, { token, name: 'Teun', signIn, password: 'amber field gate', ...more });

test('a link leads in once, into the club and role it was made for', async () => {
  const { token, invitation } = await invite(noor, 'Teun', 'guest');
  expect((await stranger(api.lookAtInvitation.path, { token })).body).toMatchObject({
    club: 'club of noor',
    name: 'Teun',
    role: 'guest',
    by: 'noor',
  });
  expect((await join(token, 'noor')).body.issues[0].path).toBe('signIn');
  const joined = await join(token, 'teun');
  expect(joined.body.member).toMatchObject({ name: 'Teun', role: 'guest', club: 'club of noor' });
  expect((await join(token, 'teun2')).body.code).toBe('bad_invitation');
  expect((await stranger(api.lookAtInvitation.path, { token })).status).toBe(404);
  expect(((await noor.get(api.invitations.path)).body as Invitation[]).map((i) => i.id)).not.toContain(invitation.id);
});
test('two who use it at once: one is in', async () => {
  const { token } = await invite(noor);
  const both = await Promise.all([join(token, 'first.one'), join(token, 'second.one')]);
  expect(both.map((r) => r.status).sort()).toEqual([200, 404]);
});
test('it ends after a week, when withdrawn, and with the membership of who made it', async () => {
  const [late, withdrawn] = [await invite(noor), await invite(noor)];
  expect((await elsewhere.del(fill(api.withdrawInvitation.path, withdrawn.invitation.id))).status).toBe(404);
  expect((await noor.del(fill(api.withdrawInvitation.path, withdrawn.invitation.id))).status).toBe(200);
  expect((await join(withdrawn.token, 'too.late')).status).toBe(404);
  await noor.post(api.addMember.path, {
    name: 'Odile',
    signIn: 'odile',
    password: 'amber field gate',
    role: 'steward',
  });
  const odile = await server.as('odile', 'amber field gate');
  const fromOdile = await invite(odile);
  const id = ((await noor.get(api.members.path)).body as MemberInfo[]).find((m) => m.signIn === 'odile')!.id;
  await noor.put(fill(api.changeMember.path, id), { ended: true });
  expect((await join(fromOdile.token, 'too.late')).status).toBe(404);
  now += 7 * 86_400_000 + 1;
  expect((await join(late.token, 'too.late')).status).toBe(404);
  // whoever goes on after a week gives the password again
  for (const p of [noor, elsewhere])
    expect((await p.put(api.prove.path, { password: 'quiet meadow lantern' })).status).toBe(200);
});
test('members invite nobody; another club sees none of it; only the hash is kept', async () => {
  const { token } = await invite(noor);
  await noor.post(api.addMember.path, { name: 'Ines', signIn: 'ines', password: 'amber field gate', role: 'member' });
  const ines = await server.as('ines', 'amber field gate');
  expect((await ines.post(api.invite.path, { name: '', role: 'guest' })).status).toBe(403);
  expect((await elsewhere.get(api.invitations.path)).body).toEqual([]);
  const kept = await server.db.query('SELECT * FROM invitations, answered', { type: QueryTypes.SELECT });
  expect(JSON.stringify(kept)).not.toContain(token);
  const seen = ((await noor.get(api.securityLog.path)).body as { events: SecurityEvent[] }).events;
  expect(seen.map((e) => e.kind)).toEqual(
    expect.arrayContaining(['invited', 'joined', 'invitation_withdrawn', 'ended', 'refused']),
  );
  expect(seen.find((e) => e.kind === 'refused')!.person).toBe('Ines');
  const other = ((await elsewhere.get(api.securityLog.path)).body as { events: SecurityEvent[] }).events;
  expect(new Set(other.map((e) => e.kind))).toEqual(new Set(['signed_in']));
  expect((await ines.get(api.securityLog.path)).status).toBe(403);
});
test('links are not guessed: tries count as failed sign-ins do', async () => {
  const strict = makeApp({ ...server.config, signInLimit: 3 }, server.store, server);
  await server.db.query('DELETE FROM sign_in_tries');
  const statuses: number[] = [];
  for (let i = 0; i < 5; i++) {
    statuses.push((await stranger(api.lookAtInvitation.path, { token: 'x'.repeat(32) }, strict)).status);
    await new Promise((r) => setTimeout(r, 60));
  }
  expect(statuses).toEqual([404, 404, 404, 429, 429]);
  // what nobody's name was tried for is read by whoever set the installation up, and nobody else
  const events = async (p: Person) =>
    ((await p.get(api.securityLog.path)).body as { events: SecurityEvent[] }).events.map((e) => e.kind);
  expect(await events(noor)).toEqual(expect.arrayContaining(['bad_invitation', 'too_many']));
  expect(await events(elsewhere)).not.toContain('bad_invitation');
});

test('of many invitations at one moment no more wait than may', async () => {
  const send = () => elsewhere.post(api.invite.path, { name: 'somebody', role: 'guest' });
  const crowd = async (n: number) => (await Promise.all(Array.from({ length: n }, send))).map((r) => r.status);
  for (let k = 0; k < 3; k++) await crowd(30);
  const last = await crowd(30);
  expect(new Set(last)).toEqual(new Set([200, 429]));
  const waiting = (await elsewhere.get(api.invitations.path)).body as unknown[];
  expect(waiting).toHaveLength(100);
}, 120_000);

const COMMON = [
  'password12',
  '1234567890',
  'Qwertyuiop',
  'sunshine2026!',
  'aaaaaaaaaaaa',
  'abcabcabcabc',
  'elsewhere2026',
  '2026-11-20!',
];
test.each(COMMON)('a password guessers try first is refused everywhere, with its field: %s', async (password) => {
  const person = { name: 'elsewhere', signIn: 'someone', password, role: 'guest' };
  const added = await noor.post(api.addMember.path, person);
  expect([added.status, added.body.issues?.[0].path]).toEqual([400, 'password']);
  const { token } = await invite(noor);
  expect((await join(token, 'someone', { name: 'elsewhere', password })).body.issues[0].path).toBe('password');
  const own = await elsewhere.put(api.changePassword.path, { current: 'quiet meadow lantern', next: password });
  expect([own.status, own.body.issues?.[0].path]).toEqual([400, 'next']);
});
test.each(['quiet meadow lantern', 'larkspur on the roof', '7 owls & 3 foxes', 'correct-sofa-umbrella9'])(
  'an unlikely one is taken: %s',
  async (password) => {
    const signIn = `p${password.replace(/\W/g, '')}`;
    expect((await noor.post(api.addMember.path, { name: 'Anna', signIn, password, role: 'guest' })).status).toBe(200);
  },
);
