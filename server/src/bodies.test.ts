import { expect, test } from '@jest/globals';
import { api } from '@keen/contract';
import request from 'supertest';
import { demandShape } from './bodies.ts';
import { signInAs, testServer } from './test/harness.ts';

const { server } = testServer();

/** What a body may be, by a plain reading of it. */
test.each<[string, number, boolean]>([
  ['{"a":1}', 10, true],
  ['['.repeat(60) + ']'.repeat(60), 10, true],
  ['['.repeat(61) + ']'.repeat(61), 10, false],
  ['{"a":"[[[[{{{{"}', 10, true],
  ['{"a":"\\"[[["}', 10, true],
  [`[${'1,'.repeat(11)}1]`, 10, false],
  [`["${','.repeat(500)}"]`, 10, true],
  ['{"a":"\\ud83d\\ude00"}', 10, true],
  ['{"a":"\\ud800"}', 10, false],
  ['{"a":"\\udc00\\ud800"}', 10, false],
  ['{"a":"\\\\ud800"}', 10, true],
  ['{"a":"x\\ud800y"}', 10, false],
])('%s', (text, keys, good) => {
  const look = () => demandShape(Buffer.from(text), keys);
  if (good) expect(look).not.toThrow();
  else expect(look).toThrow();
});

test('a stranger’s body is small and known to be before it is read; a member’s is not', async () => {
  const agent = request.agent(server.app);
  const token = (await agent.get(api.session.path)).body.csrfToken as string;
  const large = { signIn: 'teun', password: 'x'.repeat(150_000) };
  expect((await agent.post(api.signIn.path).set('x-keen-token', token).send(large)).body.code).toBe('too_large');
  const teun = await signInAs(server.app, 'teun', 'larkmoor-nights');
  const got = await teun.post(api.addPart.path, { name: 'x', kind: 'rings', massKg: 1, note: 'y'.repeat(150_000) });
  expect([got.status, got.body.code]).toEqual([400, 'invalid_input']);
});
test.each(['gzip', 'br', 'deflate'])('a body that cannot be unpacked as %s is said to be that', async (how) => {
  const teun = await server.as('teun');
  const got = await teun.post(api.addPart.path).type('json').set('content-encoding', how).send('this is none');
  expect([got.status, got.body.detail]).toEqual([400, 'the body cannot be unpacked']);
});
test('nothing a body can be breaks the server', async () => {
  const teun = await server.as('teun');
  const send = (text: string) => teun.post(api.addPart.path).type('json').send(text);
  for (const text of [
    '['.repeat(5000) + ']'.repeat(5000),
    '{"name":"\\ud800","kind":"rings","massKg":1}',
    '{"name":',
    'null',
    '"x"',
  ])
    expect([text.slice(0, 20), (await send(text)).status]).toEqual([text.slice(0, 20), 400]);
  for (const path of ['/assets/..%2f', '/assets/..%2f..%2fpackage.json', '/data/..%2f', '/assets/%00', '/assets/x.js'])
    expect([path, (await request(server.app).get(path)).status < 500]).toEqual([path, true]);
});
