import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { api, type ClubEvent, type MemberInfo, type RigRecord } from '@keen/contract';
import { QueryTypes } from 'sequelize';
import request from 'supertest';
import { DEMO_PASSWORD } from '../access/index.ts';
import { makeApp } from '../app.ts';
import { connect } from '../database/index.ts';
import { makeStore } from '../store.ts';
import { begin, fill, signInAs, testServer } from '../test/harness.ts';

const { server, odalys } = testServer(['odalys']);
/** Two servers on one database. */
const bases: string[] = [];
const endings: (() => unknown)[] = [];
beforeAll(async () => {
  const second = connect(server.config.databaseUrl, 6);
  for (const app of [
    server.app,
    makeApp(server.config, makeStore(second, server.store.now), { workers: server.workers }),
  ]) {
    const listener = http.createServer(app).listen(0, '127.0.0.1');
    await new Promise((done) => listener.once('listening', done));
    bases.push(`http://127.0.0.1:${(listener.address() as AddressInfo).port}`);
    endings.push(() => {
      listener.closeAllConnections();
      return new Promise((done) => listener.close(done));
    });
  }
  endings.push(() => second.close());
}, 60_000);
afterAll(async () => {
  for (const end of endings) await end();
});

/** A browser’s cookie of somebody who is signed in. */
async function cookieOf(signIn: string, password = DEMO_PASSWORD): Promise<string> {
  const agent = request.agent(bases[0]!);
  const { body } = await agent.get(api.session.path);
  const got = await agent
    .post(api.signIn.path)
    .set('x-keen-token', body.csrfToken as string)
    .send({ signIn, password });
  return (got.headers['set-cookie'] as unknown as string[]).map((c) => c.split(';')[0]).join('; ');
}

interface Said {
  event: string;
  id: string;
  data: string;
}
/** Listens until it is cut: by whoever reads, or by the server. */
async function* listen(
  base: string,
  cookie: string,
  after?: number | string,
  cut = new AbortController(),
): AsyncGenerator<Said> {
  const headers: Record<string, string> = { cookie };
  if (after !== undefined) headers['last-event-id'] = String(after);
  const res = await fetch(base + api.eventStream.path, { headers, signal: cut.signal });
  if (!res.ok) throw new Error(`${res.status} ${await res.text()}`);
  let text = '';
  try {
    for await (const piece of res.body!) {
      text += Buffer.from(piece as Uint8Array).toString();
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        const field = (name: string) =>
          text
            .slice(0, end)
            .split('\n')
            .find((l) => l.startsWith(`${name}:`))
            ?.slice(name.length + 1)
            .trim() ?? '';
        const said = { event: field('event'), id: field('id'), data: field('data') };
        text = text.slice(end + 2);
        if (said.event) yield said;
      }
    }
  } finally {
    cut.abort();
  }
}
const newest = async () => ((await odalys.get(api.events.path)).body as { last: number }).last;
const rig = async () => ((await odalys.get(api.rigs.path)).body as RigRecord[])[0]!;
const happened = (said: Said) => JSON.parse(said.data) as ClubEvent;

describe('a page that listens', () => {
  test('cut at every event, and coming again at one server or the other, misses nothing and hears nothing twice', async () => {
    const [cookie, { id: rigId }, from] = [await cookieOf('teun'), await rig(), await newest()];
    const writers = [
      await signInAs(bases[0] as never, 'mirela', DEMO_PASSWORD),
      await signInAs(bases[1] as never, 'sefu', DEMO_PASSWORD),
    ];
    const COUNT = 40;
    const writing = Promise.all(
      Array.from({ length: COUNT }, (_, i) =>
        writers[i % 2]!.post(api.addLog.path, { rigId, problem: `entry ${i}` }).then((r) => expect(r.status).toBe(200)),
      ),
    );
    const heard: ClubEvent[] = [];
    let last: number | string = from;
    for (let turn = 0; heard.length < COUNT; turn++)
      for await (const said of listen(bases[turn % 2]!, cookie, last)) {
        last = said.id;
        if (said.event !== 'happened') continue;
        heard.push(happened(said));
        break;
      }
    await writing;
    expect(heard.map((e) => e.kind === 'changed' && e.what)).toEqual(Array(COUNT).fill('logbook'));
    const seqs = heard.map((e) => e.seq);
    expect(new Set(seqs).size).toBe(COUNT);
    expect([...seqs].sort((a, b) => a - b)).toEqual(seqs);
    // as whoever asks from time to time is told
    const asked = (await odalys.get(`${api.events.path}?after=${from}`)).body as { events: ClubEvent[]; last: number };
    expect(asked.events.map((e) => e.seq)).toEqual(seqs);
    expect([asked.last, await newest()]).toEqual([seqs.at(-1), seqs.at(-1)]);
  }, 120_000);
  test('left open hears all of it as it comes, whichever server it happens at', async () => {
    const [cookie, { id: rigId }] = [await cookieOf('teun'), await rig()];
    const writers = [
      await signInAs(bases[0] as never, 'mirela', DEMO_PASSWORD),
      await signInAs(bases[1] as never, 'sefu', DEMO_PASSWORD),
    ];
    const heard: ClubEvent[] = [];
    let begun = false;
    let writing: Promise<unknown> = Promise.resolve();
    for await (const said of listen(bases[1]!, cookie)) {
      if (!begun) {
        begun = true;
        expect(said.event).toBe('beat');
        writing = Promise.all(
          Array.from({ length: 30 }, (_, i) => writers[i % 2]!.post(api.addLog.path, { rigId, problem: `more ${i}` })),
        );
      }
      if (said.event === 'happened') heard.push(happened(said));
      if (heard.length === 30) break;
    }
    await writing;
    expect(new Set(heard.map((e) => e.kind === 'changed' && e.by)).size).toBe(2);
    expect(heard.map((e) => e.seq)).toEqual([...new Set(heard.map((e) => e.seq))].sort((a, b) => a - b));
  }, 60_000);
  test('is told nothing of another club, and of jobs only its own', async () => {
    await begin(server.app, 'stranger', 'seven quiet herons');
    const strangers = await cookieOf('stranger', 'seven quiet herons');
    const [{ id: rigId }, teuns] = [await rig(), await cookieOf('teun')];
    const heard: string[] = [];
    const cut = new AbortController();
    const listening = (async () => {
      for await (const said of listen(bases[0]!, strangers, undefined, cut)) heard.push(said.event);
    })().catch(() => undefined);
    while (heard.length === 0) await new Promise((r) => setTimeout(r, 20));
    const mirela = await signInAs(bases[1] as never, 'mirela', DEMO_PASSWORD);
    const store = server.store;
    const [who] = await store.read<{ id: string; clubId: string }>(
      "SELECT id, club_id AS clubId FROM members WHERE sign_in = 'mirela'",
      [],
    );
    await server.db.query(
      `INSERT INTO events (id, seq, club_id, member_id, kind, data, at) VALUES (UUID(), NULL, '${who!.clubId}', '${who!.id}', 'job', '{}', UTC_TIMESTAMP(3))`,
    );
    await mirela.post(api.addLog.path, { rigId, problem: 'after the job' });
    // a member of the same club hears the one and not the other
    for await (const said of listen(bases[0]!, teuns, (await newest()) - 2))
      if (said.event === 'happened') {
        expect(happened(said)).toMatchObject({ kind: 'changed', what: 'logbook' });
        break;
      }
    await new Promise((r) => setTimeout(r, 900));
    cut.abort();
    await listening;
    expect(new Set(heard)).toEqual(new Set(['beat']));
  }, 60_000);
  test('that was away longer than is kept, or comes from another database, reads everything anew', async () => {
    const cookie = await cookieOf('teun');
    const first = async (after: number | string) => {
      for await (const said of listen(bases[0]!, cookie, after)) return [said.event, Number(said.id)];
      return [];
    };
    const last = await newest();
    expect(await first(last + 1000)).toEqual(['forgotten', last]);
    await server.db.query(`DELETE FROM events WHERE seq <= ${last - 5}`);
    expect(await first(last - 8)).toEqual(['forgotten', last]);
    expect(await first(last - 5)).toEqual(['beat', last - 5]);
    expect((await odalys.get(`${api.events.path}?after=${last - 8}`)).body).toEqual({
      events: [],
      last,
      forgotten: true,
    });
    // what is no number is none that was told
    expect(await first('yesterday')).toEqual(['beat', last]);
  }, 60_000);
  test('is ended when its member leaves the club; whoever is not signed in hears nothing', async () => {
    const cookie = await cookieOf('sefu');
    const sefu = ((await odalys.get(api.members.path)).body as MemberInfo[]).find((m) => m.name.startsWith('Sefu'))!;
    const ended = (async () => {
      const heard: string[] = [];
      for await (const said of listen(bases[0]!, cookie)) heard.push(said.event);
      return heard;
    })();
    await new Promise((r) => setTimeout(r, 300));
    expect((await odalys.put(fill(api.changeMember.path, sefu.id), { ended: true })).status).toBe(200);
    // the change itself may still be told; then the line is ended from the other side
    expect((await ended)[0]).toBe('beat');
    await expect(listen(bases[0]!, cookie).next()).rejects.toThrow('401');
    // and what it used did not come back by the page that listened
    const rows = await server.db.query<{ n: number }>(
      `SELECT COUNT(*) AS n FROM Sessions WHERE data LIKE '%${sefu.id}%'`,
      { type: QueryTypes.SELECT },
    );
    expect(Number(rows[0]!.n)).toBe(0);
  }, 60_000);
});
