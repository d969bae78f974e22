import { beforeEach, describe, expect, test } from '@jest/globals';
import { api, MOST_A_PAGE } from '@keen/contract';
import { call, callAll, holdToken } from './client.ts';
import { problemText } from '../common/outcome.ts';

interface Sent {
  path: string;
  method: string;
  token: string | null;
  key: string | null;
  body: unknown;
}
let sent: Sent[] = [];
/** A server of prepared answers, in order; the last one stays. */
function answers(...list: (readonly [status: number, body: unknown] | 'gone')[]) {
  let at = 0;
  globalThis.fetch = (async (
    path: string,
    init: { method: string; headers: Record<string, string>; body?: string },
  ) => {
    sent.push({
      path,
      method: init.method,
      token: init.headers['x-keen-token'] ?? null,
      key: init.headers['idempotency-key'] ?? null,
      body: init.body === undefined ? null : (JSON.parse(init.body) as unknown),
    });
    const next = list[Math.min(at++, list.length - 1)]!;
    if (next === 'gone') throw new TypeError('network');
    return { ok: next[0] < 400, status: next[0], json: async () => next[1] };
  }) as unknown as typeof fetch;
}
beforeEach(() => {
  sent = [];
  holdToken('t1');
});
const id = '00000000-0000-4000-8000-000000000001';

test('a second click is the same request; after something else was done it is another', async () => {
  answers([200, { ok: true }]);
  const board = () =>
    call(api.promise, { body: { jobId: '00000000-0000-4000-8000-000000000002', until: '2027-01-08' } });
  await board();
  await board();
  await call(api.cancelBooking, { params: { id } });
  await board();
  // reading is no doing
  await call(api.sharing);
  await board();
  const keys = sent.filter((s) => s.method === 'POST').map((s) => s.key);
  expect(keys[0]).toMatch(/^[0-9a-f]{32}$/);
  expect(keys[1]).toBe(keys[0]);
  expect(keys[2]).not.toBe(keys[0]);
  expect(keys[3]).toBe(keys[2]);
});

describe('a call', () => {
  test('fills the path, sends the query and carries the token with changes only', async () => {
    answers([200, { ok: true }]);
    await call(api.setupList, { params: { id }, query: { night: '2026-11-24' } });
    await call(api.tickSetup, { params: { id }, body: { night: '2026-11-24', key: 'ground', done: true } });
    expect(sent[0]).toMatchObject({
      path: `/api/rigs/${id}/setup-list?night=2026-11-24`,
      method: 'GET',
      token: null,
      body: null,
    });
    expect(sent[1]).toMatchObject({
      path: `/api/rigs/${id}/setup-ticks`,
      method: 'POST',
      token: 't1',
      body: { night: '2026-11-24', key: 'ground', done: true },
    });
  });
  test('a lost connection is an answer, not an exception, and says that nothing typed is lost', async () => {
    answers('gone');
    const got = await call(api.rigs);
    expect(got.ok).toBe(false);
    if (!got.ok)
      expect([got.problem.code, problemText(got.problem)]).toEqual(['offline', expect.stringContaining('kept here')]);
  });
  test('a token gone stale is fetched anew and the change sent once more', async () => {
    const stale = { type: 'x', title: 'Stale token', status: 403, code: 'bad_token' };
    answers(
      [403, stale],
      [200, { member: null, csrfToken: 't2', mayBegin: true, local: true, mayRestoreDemo: false, demo: null }],
      [200, { ok: true }],
    );
    const got = await call(api.dropGuideLog, { params: { id } });
    expect(got.ok).toBe(true);
    expect(sent.map((s) => [s.method, s.token])).toEqual([
      ['DELETE', 't1'],
      ['GET', null],
      ['DELETE', 't2'],
    ]);
  });
  test('a problem comes through with its code, and its detail goes before its title', async () => {
    answers([
      409,
      { type: 'x', title: 'Stale', status: 409, code: 'stale', detail: 'Odalys saved version 4.', current: {} },
    ]);
    const got = await call(api.projects);
    if (got.ok) throw new Error('should have failed');
    expect([got.problem.code, problemText(got.problem)]).toEqual(['stale', 'Odalys saved version 4.']);
  });
  test('an answer that is no document is told by its status', async () => {
    answers([502, null]);
    const got = await call(api.projects);
    expect(!got.ok && got.problem.status).toBe(502);
  });
});

describe('a long list', () => {
  const page = (from: number, n: number) =>
    [200, Array.from({ length: n }, (_, i) => ({ id: `p${from + i}` }))] as const;
  test('is fetched to its end, and a record that moved to the next page is not given twice', async () => {
    answers(page(0, MOST_A_PAGE), page(MOST_A_PAGE - 1, 8));
    const got = await callAll(api.projects);
    expect(sent.map((s) => s.path)).toEqual([
      `/api/projects?from=0&count=${MOST_A_PAGE}`,
      `/api/projects?from=${MOST_A_PAGE}&count=${MOST_A_PAGE}`,
    ]);
    expect(got.ok && got.value.map((p) => p.id)).toEqual(Array.from({ length: MOST_A_PAGE + 7 }, (_, i) => `p${i}`));
  });
  test('a page that fails is a list that failed, not half of it', async () => {
    answers(page(0, MOST_A_PAGE), 'gone');
    expect(await callAll(api.projects)).toMatchObject({ ok: false, problem: { code: 'offline' } });
  });
});
