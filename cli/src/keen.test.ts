import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { calculations } from '@keen/core';

const ROOT = join(import.meta.dirname, '../..');
const run = (command: string, args: string[], input: string) =>
  spawnSync(command, args, { cwd: ROOT, input, encoding: 'utf8', env: { ...process.env, NODE_OPTIONS: '' } });
const BUILT = 'cli/bin/keen.mjs';
const keen = (args: string[], input = '') => run(process.execPath, [BUILT, ...args], input);
/** As it stands in the sources. */
const unbuilt = (args: string[], input: string) =>
  run(process.execPath, ['--import', 'tsx', '--conditions=@keen/source', 'cli/src/keen.ts', ...args], input);

test('the command of the README, built when a source is newer, answers as the sources do, the star catalogue included', () => {
  const source = join(ROOT, 'cli/src/keen.ts');
  const asked = '{"focalRatio":7,"stepUm":2.4}';
  const later = new Date(Date.now() + 1000);
  utimesSync(source, later, later);
  const first = run('./keen', ['focus.zone'], asked);
  expect([first.status, first.stderr]).toEqual([0, expect.stringContaining('building')]);
  expect(JSON.parse(first.stdout).classicSteps).toBeGreaterThan(10);
  const now = new Date();
  utimesSync(source, now, now);
  utimesSync(join(ROOT, 'cli/dist/keen.mjs'), new Date(Date.now() + 1000), new Date(Date.now() + 1000));
  const folder = join(ROOT, 'examples/guide.stars');
  const sky = readdirSync(folder)
    .map((f) => readFileSync(join(folder, f), 'utf8'))
    .find((t) => !t.includes('"stars"'))!;
  const input = JSON.stringify((JSON.parse(sky) as { input: object }).input);
  const [built, plain] = [run('./keen', ['guide.stars'], input), unbuilt(['guide.stars'], input)];
  expect(built.stderr).toBe('');
  expect(JSON.parse(built.stdout)).toEqual(JSON.parse(plain.stdout));
  expect(run('npm', ['run', '--silent', 'keen', '--', 'focus.zone'], asked).stdout).toBe(first.stdout);
}, 60_000);
test('one JSON object on standard output', () => {
  const { input } = JSON.parse(readFileSync(join(ROOT, 'examples/focus.zone/classic-only.json'), 'utf8')) as {
    input: object;
  };
  const got = keen(['focus.zone'], JSON.stringify(input));
  expect(got.status).toBe(0);
  expect(JSON.parse(got.stdout)).toEqual(JSON.parse(JSON.stringify(calculations.get('focus.zone')!.run(input))));
});
test('a picture is read from a path seen from the caller’s folder, and a file that is not there is said to be so', () => {
  const there = keen(['frames.measure'], '{"file":"examples/frames/guide-8bit.fits"}');
  expect([there.status, (JSON.parse(there.stdout) as { widthPx: number }).widthPx]).toEqual([0, 640]);
  const called = spawnSync(process.execPath, [BUILT, 'frames.measure'], {
    cwd: ROOT,
    input: '{"file":"frames/guide-8bit.fits"}',
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '', INIT_CWD: join(ROOT, 'examples') },
  });
  expect(called.status).toBe(0);
  const missing = keen(['frames.measure'], '{"file":"examples/frames/none.fits"}');
  expect([missing.status, missing.stderr]).toEqual([2, expect.stringContaining('cannot be read')]);
});
test('bad input: exit 2, the complaints on standard error, nothing on standard output', () => {
  const got = keen(['focus.zone'], '{"focalRatio":-1}');
  expect([got.status, got.stdout]).toEqual([2, '']);
  const { error } = JSON.parse(got.stderr.split('\n').find((l) => l.startsWith('{'))!) as {
    error: { code: string; issues: object[] };
  };
  expect(error).toMatchObject({ code: 'invalid_input', issues: [{ path: 'focalRatio' }] });
  expect(keen(['focus.zone'], 'not json').status).toBe(2);
  expect(keen(['no.such'], '{}').status).toBe(2);
});
test('alone it lists the names; --schema prints the JSON Schema of the input', () => {
  const listed = keen([])
    .stdout.trim()
    .split('\n')
    .map((l) => l.split(' ')[0]);
  expect(listed).toEqual([...calculations.keys()]);
  const schema = JSON.parse(keen(['balance.assess', '--schema']).stdout) as {
    properties: { latitudeDeg: { unit: string } };
  };
  expect(schema.properties.latitudeDeg.unit).toBe('deg');
});
