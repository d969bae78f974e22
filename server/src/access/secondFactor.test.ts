import { beforeAll, describe, expect, test } from '@jest/globals';
import { api, type OwnSession, type SecurityEvent } from '@keen/contract';
import { Secret, TOTP } from 'otpauth';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { begin, fill, type Person, testServer } from '../test/harness.ts';

let now = Date.parse('2026-11-20T20:00:00Z');
const { server } = testServer([], { demo: false, now: () => new Date(now) });
let noor: Person;
beforeAll(async () => {
  noor = await begin(server.app, 'noor', 'quiet meadow lantern');
}, 60_000);

async function attempt(code?: string, password = 'quiet meadow lantern') {
  const agent = request.agent(server.app);
  const { body } = await agent.get(api.session.path);
  const got = await agent
    .post(api.signIn.path)
    .set('x-keen-token', body.csrfToken as string)
    .send({ signIn: 'noor', password, ...(code ? { code } : {}) });
  return got.status === 200 ? 'in' : (got.body.code as string);
}
/** What the device shows at a moment; an implementation of RFC 6238 of its own keeps this honest below. */
const shown = (key: string, at = now) => new TOTP({ secret: Secret.fromBase32(key) }).generate({ timestamp: at });
const rows = (sql: string) => server.db.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT });

describe('a second factor', () => {
  let key = '';
  let recovery: string[] = [];
  test('is set up with the password and a first code; before that nothing is asked', async () => {
    expect((await noor.post(api.prepareSecondFactor.path, { password: 'not it at all' })).body.code).toBe(
      'wrong_password',
    );
    const got = await noor.post(api.prepareSecondFactor.path, { password: 'quiet meadow lantern' });
    key = got.body.key as string;
    expect(got.body.uri).toMatch(/^otpauth:\/\/totp\/Keen%20Meridian:noor\?.*secret=/);
    expect(await attempt()).toBe('in');
    expect((await noor.put(api.confirmSecondFactor.path, { code: '000000' })).body.code).toBe('wrong_code');
    const done = await noor.put(api.confirmSecondFactor.path, { code: shown(key) });
    recovery = done.body.recoveryCodes as string[];
    expect(new Set(recovery).size).toBe(8);
    expect((await noor.put(api.confirmSecondFactor.path, { code: shown(key) })).status).toBe(404);
  });
  test('then the password alone asks for a code, and only a password that is right does so', async () => {
    expect(await attempt()).toBe('code_needed');
    expect(await attempt(undefined, 'wrong one')).toBe('wrong_password');
    expect(await attempt('123 456')).toBe('wrong_code');
  });
  test('a code is taken once, also by two at a time, and half a minute either way', async () => {
    now += 30_000;
    const both = await Promise.all([attempt(shown(key)), attempt(shown(key))]);
    expect(both.sort()).toEqual(['in', 'wrong_code']);
    now += 90_000;
    expect(await attempt(shown(key, now - 30_000))).toBe('in');
    now += 90_000;
    expect(await attempt(shown(key, now - 90_000))).toBe('wrong_code');
    expect(await attempt(shown(key, now + 30_000))).toBe('in');
    // the code before that one was not used, but is older than one that was
    expect(await attempt(shown(key, now))).toBe('wrong_code');
  });
  test('each recovery code opens once, however it is typed', async () => {
    const both = await Promise.all([attempt(recovery[0]), attempt(recovery[0]!.toUpperCase().replace(/-/g, ' '))]);
    expect(both.sort()).toEqual(['in', 'wrong_code']);
  });
  test('the database holds neither key nor codes in the clear, and no answer is kept that holds them', async () => {
    const kept = JSON.stringify([
      await rows('SELECT * FROM members'),
      await rows('SELECT * FROM recovery_codes'),
      await rows('SELECT * FROM answered'),
      await rows('SELECT data FROM Sessions'),
    ]);
    expect(kept).not.toContain(key);
    for (const c of recovery) expect(kept).not.toContain(c);
  });
  test('somebody who lost the device is freed by a steward; the log tells all of it, and never what was typed', async () => {
    const added = await noor.post(api.addMember.path, {
      name: 'Odile',
      signIn: 'odile',
      password: 'amber field gate',
      role: 'steward',
    });
    const odile = await server.as('odile', 'amber field gate');
    const me = (
      (await odile.get(api.members.path)).body as { id: string; signIn: string; secondFactor: boolean }[]
    ).find((m) => m.signIn === 'noor')!;
    expect(me.secondFactor).toBe(true);
    expect((await odile.put(fill(api.changeMember.path, me.id), { withoutSecondFactor: true })).body.secondFactor).toBe(
      false,
    );
    expect(await attempt()).toBe('in');
    const { events } = (await odile.get(api.securityLog.path)).body as { events: SecurityEvent[] };
    const kinds = new Set(events.map((e) => e.kind));
    for (const k of [
      'wrong_password',
      'wrong_code',
      'factor_on',
      'factor_off',
      'recovery_code_used',
      'added',
      'signed_in',
    ])
      expect(kinds).toContain(k);
    expect(events.find((e) => e.kind === 'wrong_code')).toMatchObject({ person: 'noor', address: '127.0.0.1' });
    expect(events.filter((e) => e.kind === 'wrong_code').reduce((n, e) => n + e.count, 0)).toBeGreaterThanOrEqual(6);
    expect(JSON.stringify(events)).not.toContain('wrong one');
    expect(added.status).toBe(200);
  });
  test('codes follow the published vectors', () => {
    // RFC 6238, appendix B, SHA-1, key of 20 ASCII digits, eight digits shown; from memory
    const secret = new Secret({ buffer: new TextEncoder().encode('12345678901234567890').buffer });
    const at = (s: number) => new TOTP({ secret, digits: 8 }).generate({ timestamp: s * 1000 });
    expect([at(59), at(1111111109), at(20000000000)]).toEqual(['94287082', '07081804', '65353130']);
  });
});

describe('one’s own sessions', () => {
  test('are listed with their device, and ended one by one or all but this', async () => {
    const here = await begin(server.app, 'teun', 'amber field gate');
    const phone = request.agent(server.app);
    const { body } = await phone.get(api.session.path);
    await phone
      .post(api.signIn.path)
      .set('user-agent', 'Mozilla/5.0 (Linux; Android 14) Mobile')
      .set('x-keen-token', body.csrfToken as string)
      .send({ signIn: 'teun', password: 'amber field gate' });
    await server.as('teun', 'amber field gate');
    const list = async () => (await here.get(api.ownSessions.path)).body as OwnSession[];
    // where it was begun, here, on the phone, and once more
    const all = await list();
    expect(all.map((s) => s.here)).toEqual([true, false, false, false]);
    const onPhone = all.find((s) => s.device === 'phone')!;
    const sids = (await rows('SELECT sid FROM Sessions')).map((r) => String(r.sid));
    for (const s of all) expect(sids).not.toContain(s.id);
    // nobody ends another’s; the steward’s change above ended Noor’s own
    noor = await server.as('noor', 'quiet meadow lantern');
    expect((await noor.del(fill(api.endSession.path, onPhone.id))).status).toBe(404);
    expect((await here.del(fill(api.endSession.path, onPhone.id))).status).toBe(200);
    expect((await phone.get(api.rigs.path)).status).toBe(401);
    expect(await list()).toHaveLength(3);
    expect((await here.del(fill(api.endSession.path, all[0]!.id))).status).toBe(404);
    expect((await here.del(fill(api.endSession.path, 'others'))).status).toBe(200);
    expect((await list()).map((s) => s.here)).toEqual([true]);
  });
});
