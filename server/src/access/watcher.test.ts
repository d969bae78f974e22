import { expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import { fill, testServer } from '../test/harness.ts';

const { server, odalys } = testServer(['odalys']);

test('who only watches reads runs and what they rest on, and nothing else; changes nothing but their own account', async () => {
  const person = { name: 'Wim', signIn: 'wim', password: 'only here to watch', role: 'watcher' };
  expect((await odalys.post(api.addMember.path, person)).body).toMatchObject({ role: 'watcher' });
  const wim = await server.as('wim', person.password);
  for (const name of ['rigs', 'sites', 'projects', 'plans', 'runs', 'stops', 'jobs'] as const)
    expect([name, (await wim.get(api[name].path)).status]).toEqual([name, 200]);
  expect((await wim.get(api.runs.path)).body.length).toBeGreaterThan(0);
  const NOBODY = '00000000-0000-4000-8000-000000000000';
  const closed = Object.entries(api).filter(([, r]) => r.role !== null && r.role !== 'watcher');
  expect(closed.length).toBeGreaterThan(80);
  for (const [name, r] of closed) {
    const path = fill(r.path, NOBODY);
    const send = { get: wim.get, post: wim.post, del: wim.del, delete: wim.del, put: (p: string) => wim.put(p, {}) };
    expect([name, (await send[r.method](path)).status]).toEqual([name, 403]);
  }
  expect((await wim.get(api.ownSessions.path)).status).toBe(200);
}, 60_000);
