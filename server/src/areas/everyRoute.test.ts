import { expect, test } from '@jest/globals';
import { api, Problem } from '@keen/contract';
import { seeded } from '@keen/core/statistics';
import { fill, type Person, testServer } from '../test/harness.ts';

/** What must hold for every route there is, whatever it does: rows of the contract, not a list kept by hand. */
const { odalys: steward } = testServer(['odalys']);

const NOBODY = '00000000-0000-4000-8000-000000000000';
const routes = Object.entries(api).filter(([, r]) => r.role !== null);
const send = (p: Person, method: string, path: string, body: object) => {
  if (method === 'get') return p.get(path);
  if (method === 'delete') return p.del(path);
  return method === 'put' ? p.put(path, body) : p.post(path, body);
};

/** A value of the wrong kind as often as not, nested a little. */
function nonsense(r: ReturnType<typeof seeded>, depth = 0): unknown {
  const kinds = depth < 3 ? 9 : 7;
  switch (Math.floor(r.next() * kinds)) {
    case 0:
      return null;
    case 1:
      return -1e9 * r.next();
    case 2:
      return Math.floor(1e6 * r.next());
    case 3:
      return '';
    case 4:
      return 'ö\u0000\u202e'.repeat(40);
    case 5:
      return '2027-02-30';
    case 6:
      return true;
    case 7:
      return Array.from({ length: Math.floor(4 * r.next()) }, () => nonsense(r, depth + 1));
    default:
      return Object.fromEntries(
        ['name', 'id', '__proto__', 'constructor', 'version'].map((k) => [k, nonsense(r, depth + 1)]),
      );
  }
}
/** The fields a route asks for, each filled with nonsense. */
function spoiltBody(body: unknown, r: ReturnType<typeof seeded>): object {
  const shape = (body as { shape?: Record<string, unknown> }).shape ?? {};
  return Object.fromEntries(Object.keys(shape).map((k) => [k, nonsense(r)]));
}

const shapeOf = (route: (typeof routes)[number][1]) => (route.body as { shape?: Record<string, unknown> }).shape ?? {};
const withBody = routes.filter(([, r]) => r.method === 'post' || r.method === 'put');
const withFields = withBody.filter(([, r]) => Object.keys(shapeOf(r)).length > 0);
const ofRecord = routes.filter(([, r]) => r.path.includes(':id'));
const readOrDrop = ofRecord.filter(([, r]) => r.method === 'get' || r.method === 'delete');

test.each(withBody)('%s: nonsense is refused in words, and never breaks the server', async (_name, route) => {
  const path = fill(route.path, NOBODY);
  const r = seeded(route.path.length);
  for (let n = 0; n < 12; n++) {
    const got = await send(steward, route.method, path, spoiltBody(route.body, r));
    expect([400, 401, 404]).toContain(got.status);
    const problem = Problem.parse(got.body);
    expect(problem.code).toMatch(/^(invalid_input|not_found|wrong_password)$/);
    for (const i of problem.issues ?? []) expect(i.message.length).toBeGreaterThan(3);
  }
});
test.each(withFields)('%s: a field nobody knows is named', async (_name, route) => {
  const path = fill(route.path, NOBODY);
  // where a night belongs to the address, its absence would be said first
  const { night } = (route.query as { shape?: { night?: unknown } }).shape ?? {};
  const got = await send(steward, route.method, night ? `${path}?night=2027-01-01` : path, { surprise: 1 });
  expect([got.status, got.body.code]).toEqual([400, 'invalid_input']);
  expect(JSON.stringify(got.body.issues)).toContain('surprise');
});
test.each(ofRecord)('%s: an id that is none is refused', async (_name, route) => {
  const odd = await send(steward, route.method, fill(route.path, 'not-an-id'), {});
  expect(odd.status).toBe(400);
});
test.each(readOrDrop)('%s: a record that does not exist is said to be missing', async (_name, route) => {
  const path = fill(route.path, NOBODY);
  const missing = await send(steward, route.method, `${path}?night=2027-01-01`, {});
  // a route without that query says so first
  const got = missing.status === 400 ? await send(steward, route.method, path, {}) : missing;
  expect([got.status, got.body.code]).toEqual([404, 'not_found']);
});

test('a body that is no JSON, one too large, and a path that is not there each have their answer', async () => {
  const broken = await steward.post(api.projects.path).set('content-type', 'application/json').send('{"name": ');
  expect([broken.status, broken.body.code]).toEqual([400, 'invalid_input']);
  const large = await steward.post(api.projects.path, { name: 'x'.repeat(12_000_000) });
  expect(large.status).toBe(413);
  expect((await steward.get('/api/no-such-thing')).body.code).toBe('not_found');
});
