import { describe, expect, test } from '@jest/globals';
import { api, type PartRecord, type PlanRecord, type RigRecord, type RunRecord } from '@keen/contract';
import { toCsv } from '@keen/core/exchange';
import request from 'supertest';
import { fill, signInAs, somethingToPlan, type Person, testServer, rehearsed } from '../test/harness.ts';

const { server, odalys, teun, mirela } = testServer(['odalys', 'teun', 'mirela']);

async function planned(by: Person, night: string, more: object = {}) {
  const { plan } = await somethingToPlan(by, night);
  const got = await by.post(api.addPlan.path, { ...plan(19, 21), ...more });
  return { body: plan(19, 21), got, record: got.body as PlanRecord };
}
const codeOf = (r: Pick<request.Response, 'status' | 'body'>) => [r.status, (r.body as { code?: string }).code];

describe('whose plan it is', () => {
  test('another member neither rehearses nor accepts nor cancels it; its owner and a steward do', async () => {
    const { record } = await planned(teun!, '2027-01-11');
    const rehearse = (p: Person) => rehearsed(p, record.id, 3);
    expect(codeOf(await rehearse(mirela!))).toEqual([403, 'not_allowed']);
    const run = (await rehearse(teun!)).body as RunRecord;
    expect(run.planId).toBe(record.id);
    expect(codeOf(await mirela.post(fill(api.acceptRun.path, run.id)))).toEqual([403, 'not_allowed']);
    expect(codeOf(await mirela.del(fill(api.cancelPlan.path, record.id)))).toEqual([403, 'not_allowed']);
    expect((await odalys.post(fill(api.acceptRun.path, run.id))).status).toBe(200);
  });
  test('only a steward locks and opens', async () => {
    const member = await planned(teun!, '2027-01-12', { locked: true });
    expect(codeOf(member.got)).toEqual([403, 'not_allowed']);
    const { body, record } = await planned(odalys!, '2027-01-12', { locked: true });
    expect(record.locked).toBe(true);
    const { record: own, body: mine } = await planned(teun!, '2027-01-13');
    expect(
      codeOf(await teun.put(fill(api.changePlan.path, own.id), { ...mine, locked: true, version: own.version })),
    ).toEqual([403, 'not_allowed']);
    expect(
      (await odalys.put(fill(api.changePlan.path, record.id), { ...body, locked: false, version: record.version }))
        .status,
    ).toBe(200);
  });
  test('a rehearsal of an older version of the plan is not accepted', async () => {
    const { record, body } = await planned(teun!, '2027-01-14');
    const run = (await rehearsed(teun, record.id, 4)).body as RunRecord;
    const changed = await teun.put(fill(api.changePlan.path, record.id), { ...body, version: record.version });
    expect(changed.status).toBe(200);
    expect(codeOf(await teun.post(fill(api.acceptRun.path, run.id)))).toEqual([409, 'stale']);
    const again = (await rehearsed(teun, record.id, 4)).body as RunRecord;
    expect((await teun.post(fill(api.acceptRun.path, again.id))).status).toBe(200);
    const rival = await odalys.post(fill(api.acceptRun.path, run.id));
    expect(codeOf(rival)).toEqual([409, 'already_done']);
  });
});

describe('parts', () => {
  const part = { name: 'a test ring', kind: 'rings', massKg: 0.2, count: 1, ownedByClub: true };
  const add = async (by: Person, more: object = {}) =>
    (await by.post(api.addPart.path, { ...part, ...more })).body as PartRecord;
  test('the club’s do not become somebody’s own; one’s own may be given to the club', async () => {
    const club = await add(odalys!);
    for (const by of [teun!, odalys!])
      expect(
        codeOf(await by.put(fill(api.changePart.path, club.id), { ...part, ownedByClub: false, version: 1 })),
      ).toEqual([403, 'not_allowed']);
    const own = await add(teun!, { name: 'my ring', ownedByClub: false });
    const given = await teun.put(fill(api.changePart.path, own.id), { ...part, name: 'my ring', version: 1 });
    expect((given.body as PartRecord).ownerId).toBeNull();
  });
  test('what was put away enters no rig, not even when both are done at once', async () => {
    const rig = ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
    const withPart = (r: RigRecord, p: PartRecord) => ({
      name: r.name,
      siteId: r.siteId,
      version: r.version,
      setup: {
        ...r.setup,
        placed: [
          ...r.setup.placed,
          { name: p.name, kind: p.kind, partId: p.id, massKg: 0.2, xMm: 1, yMm: 2, zMm: 3, lengthMm: 10, widthMm: 10 },
        ],
      },
    });
    const gone = await add(odalys!, { name: 'put away' });
    await odalys.del(fill(api.archivePart.path, gone.id));
    expect(codeOf(await odalys.post(fill(api.reviseRig.path, rig.id), withPart(rig, gone)))).toEqual([409, 'in_use']);
    for (let n = 0; n < 6; n++) {
      const p = await add(odalys!, { name: `racing ${n}` });
      const now = ((await odalys.get(api.rigs.path)).body as RigRecord[]).find((r) => r.id === rig.id)!;
      const [saved, archived] = await Promise.all([
        odalys.post(fill(api.reviseRig.path, rig.id), withPart(now, p)),
        odalys.del(fill(api.archivePart.path, p.id)),
      ]);
      // exactly one of the two
      expect([saved.status, archived.status].filter((s) => s === 200)).toHaveLength(1);
    }
  });
});

describe('the same request sent again', () => {
  test('creates once: a double click, a second try after a lost answer, and not for another person or another thing', async () => {
    const { body } = await session('teun');
    const agent = body.agent;
    const send = (key: string | undefined, path: string, sent: object) => {
      const r = agent.post(path).set('x-keen-token', body.token);
      return (key ? r.set('Idempotency-Key', key) : r).send(sent);
    };
    const part = { name: 'clicked twice', kind: 'rings', massKg: 0.1, count: 1, ownedByClub: true };
    const there = async () =>
      ((await teun.get(api.parts.path)).body as PartRecord[]).filter((p) => p.name === part.name);
    const both = await Promise.all([
      send('click-0001', api.addPart.path, part),
      send('click-0001', api.addPart.path, part),
    ]);
    expect(both.map((r) => (r.body as PartRecord).id)).toEqual([both[0].body.id, both[0].body.id]);
    const late = await send('click-0001', api.addPart.path, part);
    expect(late.body).toEqual(both[0].body);
    expect(await there()).toHaveLength(1);
    expect(codeOf(await send('click-0001', api.addSite.path, {}))[0]).not.toBe(200);
    expect(codeOf(await send('no', api.addPart.path, part))).toEqual([400, 'invalid_input']);
    await send('click-0002', api.addPart.path, part);
    await send(undefined, api.addPart.path, part);
    expect(await there()).toHaveLength(3);
  });
  test('that was refused may be sent again, mended', async () => {
    const { body } = await session('teun');
    const send = (sent: object) =>
      body.agent
        .post(api.addPart.path)
        .set('x-keen-token', body.token)
        .set('Idempotency-Key', 'mended-0001')
        .send(sent);
    expect((await send({ name: '' })).status).toBe(400);
    expect((await send({ name: 'mended', kind: 'rings', massKg: 0.1, count: 1, ownedByClub: true })).status).toBe(200);
  });
  test('another body under the same key is refused, and says so', async () => {
    const { body } = await session('odalys');
    const send = (path: string, sent: object) =>
      body.agent.post(path).set('x-keen-token', body.token).set('Idempotency-Key', 'reused-0001').send(sent);
    const part = { name: 'first of the key', kind: 'rings', massKg: 0.1, count: 1, ownedByClub: true };
    expect((await send(api.addPart.path, part)).status).toBe(200);
    expect(codeOf(await send(api.addPart.path, { ...part, name: 'second of the key' }))).toEqual([422, 'key_reused']);
    const site = {
      name: 'elsewhere',
      kind: 'backyard',
      latitudeDeg: 47,
      longitudeDeg: 8,
      elevationM: 400,
      timeZone: 'Europe/Zurich',
      skyMagArcsec2: 20,
      horizon: [],
      horizonNote: '',
    };
    expect(codeOf(await send(api.addSite.path, site))).toEqual([422, 'key_reused']);
    expect((await send(api.addPart.path, part)).status).toBe(200);
  });
  test('the key is written with the work or not at all, whatever becomes of the answer', async () => {
    const { body } = await session('teun');
    const send = (key: string, sent: object) =>
      body.agent.post(api.addPart.path).set('x-keen-token', body.token).set('Idempotency-Key', key).send(sent);
    const part = (name: string) => ({ name, kind: 'rings', massKg: 0.1, count: 1, ownedByClub: true });
    const named = async (name: string) =>
      ((await teun.get(api.parts.path)).body as PartRecord[]).filter((p) => p.name === name).length;
    // the answer cannot be kept: the whole is undone, and may be sent again
    await server.db.query(
      "CREATE TRIGGER t_kept BEFORE UPDATE ON answered FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'full'",
    );
    const failed = await send('with-work-1', part('kept with its work'));
    await server.db.query('DROP TRIGGER t_kept');
    expect([failed.status, await named('kept with its work')]).toEqual([500, 0]);
    expect((await send('with-work-1', part('kept with its work'))).status).toBe(200);
    expect((await send('with-work-1', part('kept with its work'))).status).toBe(200);
    expect(await named('kept with its work')).toBe(1);
    const many = await Promise.all(Array.from({ length: 20 }, () => send('with-work-2', part('twenty at once'))));
    expect([new Set(many.map((r) => (r.body as PartRecord).id)).size, await named('twenty at once')]).toEqual([1, 1]);
  });
  test('focus runs without a time are not stored twice', async () => {
    const rig = ((await teun.get(api.rigs.path)).body as RigRecord[])[0]!;
    const trainStateId = rig.systems[0]!.trainStateId;
    const run = (position: number) => ({
      filter: 'L',
      position,
      hfd: 2.1,
      error: null,
      temperatureC: 4,
      time: null,
      points: [],
      usable: true,
      reason: '',
    });
    const send = (runs: object[]) => teun.post(api.addFocusRuns.path, { trainStateId, source: 'typed', runs });
    expect((await send([run(77_001), run(77_002)])).body).toEqual({ added: 2, known: 0 });
    expect((await send([run(77_001), run(77_003)])).body).toEqual({ added: 1, known: 1 });
    const both = await Promise.all([send([run(77_009)]), send([run(77_009)])]);
    expect(both.map((r) => (r.body as { added: number }).added).sort()).toEqual([0, 1]);
  });
});

/** A browser of a member whose requests are made by hand. */
async function session(signIn: string) {
  await signInAs(server.app, signIn, 'larkmoor-nights');
  const agent = request.agent(server.app);
  const before = await agent.get(api.session.path);
  const got = await agent
    .post(api.signIn.path)
    .set('x-keen-token', before.body.csrfToken as string)
    .send({ signIn, password: 'larkmoor-nights' });
  return { body: { agent, token: got.body.csrfToken as string } };
}

describe('at the edge of HTTP', () => {
  test('what cannot be read has the status it should, and no error is kept by anybody', async () => {
    const post = (headers: Record<string, string>, text = '{}') =>
      request(server.app).post('/api/calculations/focus.zone').set(headers).send(text);
    const charset = await post({ 'content-type': 'application/json; charset=koi8-r' });
    const squeezed = await post({ 'content-type': 'application/json', 'content-encoding': 'x-zoo' });
    expect([codeOf(charset), codeOf(squeezed)]).toEqual([
      [415, 'unsupported'],
      [415, 'unsupported'],
    ]);
    const range = await request(server.app).get('/data/stars/index.json').set('range', 'bytes=99999999-');
    expect(codeOf(range)).toEqual([416, 'bad_range']);
    const changed = await request(server.app).get('/data/stars/index.json').set('if-match', '"another"');
    expect(codeOf(changed)).toEqual([412, 'precondition']);
    expect(codeOf(await request(server.app).get('/api/rigs/%E0%A4%A/revisions'))).toEqual([400, 'invalid_input']);
    for (const r of [charset, range, await request(server.app).get('/api/rigs')])
      expect(r.headers['cache-control']).toBe('no-store');
    expect((await request(server.app).get('/healthz')).headers['permissions-policy']).toContain('camera=()');
  });
  test('cells that a spreadsheet would run are text', () => {
    for (const cell of ['=1+1', '+1', '-1', '@x', '＝1', '＋1', '－1', '＠x', '\t=1', '\n=1'])
      expect(toCsv([{ cell }])).toMatch(/\n"?'/);
    expect(toCsv([{ cell: 'M 13' }])).toBe('cell\nM 13\n');
  });
  test('“constructor” and “__proto__” are ordinary names', async () => {
    for (const name of ['constructor', '__proto__', 'toString']) {
      const runs = [0, 1, 2, 3].flatMap((i) => [
        { filter: 'L', position: 100 + i, temperatureC: i },
        { filter: name, position: 130 + i, temperatureC: i },
      ]);
      const got = await request(server.app)
        .post('/api/calculations/focus.offsets')
        .set('content-type', 'application/json')
        .send(JSON.stringify({ runs, reference: 'L' }));
      expect([name, got.status]).toEqual([name, 200]);
      expect(got.text).toContain(`"${name}":{"steps":30`);
      const plan = {
        start: '2026-11-24T18:00:00Z',
        end: '2026-11-24T19:00:00Z',
        filters: [{ name, exposureS: 600, quota: 3 }],
        order: 'block',
        focus: { policy: 'offsets' },
      };
      const timeline = await request(server.app).post('/api/calculations/sequence.timeline').send(plan);
      expect(timeline.text).toContain(`"frames":{"${name}":3}`);
    }
  });
});
