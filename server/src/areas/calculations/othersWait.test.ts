import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { beforeAll, expect, test } from '@jest/globals';
import { api, type RigRecord } from '@keen/contract';
import { writeFits16 } from '@keen/core/exchange';
import { makeApp } from '../../app.ts';
import { fill, signInAs, type Person, type TestServer, testServer } from '../../test/harness.ts';
import type { RunTask } from './pool.ts';

/** What was done in the workers, of an application beside the harness’s own. */
const done: string[] = [];
const { server } = testServer();
let app: TestServer['app'];
let teun: Person;
beforeAll(async () => {
  const counted = ((task, input, memberId) => {
    done.push(task);
    return server.workers.runTask(task, input, memberId);
  }) as RunTask;
  app = makeApp(server.config, server.store, { ...server, workers: { ...server.workers, runTask: counted } });
  teun = await signInAs(app, 'teun', 'larkmoor-nights');
}, 60_000);

test.each([
  ['digits', '7'.repeat(80_000)],
  ['digits and points', '7.7'.repeat(27_000)],
  ['spaces', `1${' '.repeat(80_000)}x`],
  ['commas', '1,'.repeat(40_000)],
  ['signs', '-'.repeat(80_000)],
])('a guide log with a cell of 80,000 %s is read in a worker and refused', async (_what, cell) => {
  done.length = 0;
  const rig = ((await teun.get(api.rigs.path)).body as RigRecord[]).find((r) => r.name === '120 mm triplet')!;
  const rows = Array.from({ length: 40 }, (_, i) => `${i},0.1,0.2\n`).join('');
  const csv = `time_s,ra_arcsec,dec_arcsec\n${rows}41,${cell},0.1\n`;
  const log = { system: rig.systems[0]!.key, night: '2026-11-01', name: 'digits', note: '', csv };
  const got = await teun.post(fill(api.keepGuideLog.path, rig.id), log);
  expect([got.status, got.body.code]).toEqual([400, 'invalid_input']);
  expect(got.text.length).toBeLessThan(2_000);
  expect(done).toEqual(['guideLog']);
});

test('who sends a picture slowly keeps their own place and nobody else’s', async () => {
  const listening = http.createServer(app).listen(0, '127.0.0.1');
  await new Promise((ready) => listening.once('listening', ready));
  const { port } = listening.address() as AddressInfo;
  const path = '/api/calculations/frames.measure';
  const counts = Uint16Array.from({ length: 160 * 120 }, (_, i) => 1000 + ((i * 7919) % 60));
  const picture = Buffer.from(writeFits16(counts, 160, 120, []));
  /** A member of their own browser: cookies and token as the interface sends them. */
  const browser = async (name: string) => {
    const cookies = new Map<string, string>();
    let token = '';
    const send = async (method: string, to: string, body?: object) => {
      const got = await fetch(`http://127.0.0.1:${port}${to}`, {
        method,
        headers: {
          'content-type': 'application/json',
          'x-keen-token': token,
          cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '),
        },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
      for (const c of got.headers.getSetCookie()) {
        const [pair] = c.split(';');
        const at = pair!.indexOf('=');
        cookies.set(pair!.slice(0, at), pair!.slice(at + 1));
      }
      const said = (await got.json()) as { csrfToken: string };
      token = said.csrfToken;
    };
    await send('GET', api.session.path);
    await send('POST', api.signIn.path, { signIn: name, password: 'larkmoor-nights' });
    const headers = {
      'content-type': 'application/fits',
      'x-keen-token': token,
      cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '),
    };
    const measure = async () => {
      const got = await fetch(`http://127.0.0.1:${port}${path}`, { method: 'POST', headers, body: picture });
      return { status: got.status, code: ((await got.json()) as { code?: string }).code };
    };
    return { headers, measure };
  };
  const [slow, other] = [await browser('teun'), await browser('mirela')];
  let dripping: http.ClientRequest;
  const drip = () => {
    dripping = http.request({
      host: '127.0.0.1',
      port,
      path,
      method: 'POST',
      headers: { ...slow.headers, 'content-length': picture.length },
    });
    dripping.on('error', () => undefined);
    // one of those measured below may have come in first: then it is this one that is busy, and it comes again
    dripping.on('response', (got) => {
      got.resume();
      drip();
    });
    dripping.write(picture.subarray(0, 2880));
  };
  drip();
  const ended = async (want: number) => {
    for (;;) {
      const got = await slow.measure();
      if (got.status === want) return got;
      expect([200, 503]).toContain(got.status);
      await new Promise((r) => setTimeout(r, 20));
    }
  };
  expect(await ended(503)).toEqual({ status: 503, code: 'busy' });
  expect((await other.measure()).status).toBe(200);
  // gone, they may begin again
  dripping!.destroy();
  expect((await ended(200)).status).toBe(200);
  await new Promise((shut) => listening.close(shut));
}, 60_000);
