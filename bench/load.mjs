// A club of a hundred browsers: mixed reads at a steady rate against a server of its own, on a database of its own.
//   node bench/load.mjs [seconds] [reads a second] [projects]
// Requests leave on time whether or not earlier ones came back, so that waiting is counted.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { privateDatabase } from '../scripts/lib/database.mjs';
import { ROOT } from '../scripts/lib/environment.mjs';

const [seconds = 20, rate = 100, projects = 600] = process.argv.slice(2).map(Number);
/** What the p95 of an answer should stay below [ms]. */
const FIGURE = 50;
const PORT = 4471;
const PEOPLE = ['odalys', 'teun', 'mirela', 'ines'];

const folder = mkdtempSync(join(tmpdir(), 'keen-load-'));
const database = await privateDatabase({ folder, firstPort: 33401, name: 'keen_load', schemas: ['keen\\_load'] });
const server = spawn(process.execPath, ['server/dist/main.js'], {
  cwd: ROOT,
  stdio: ['ignore', 'ignore', 'inherit'],
  env: {
    ...process.env,
    KEEN_DATABASE_URL: database.url,
    KEEN_SECRET: 'a secret for the load bench that is long enough',
    KEEN_PORT: String(PORT),
    KEEN_LOG: 'error',
    KEEN_DEMO: '1',
  },
});
async function end() {
  server.kill('SIGTERM');
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void end().then(() => process.exit(1)));
const agent = new Agent({ keepAlive: true, maxSockets: 100 });
/** One read, timed until its last byte [ms]. */
function read(path, { cookie = '' } = {}) {
  const begun = performance.now();
  return new Promise((done) => {
    const headers = { 'accept-encoding': 'gzip', ...(cookie ? { cookie } : {}) };
    const r = request({ host: '127.0.0.1', port: PORT, path, headers, agent }, (res) => {
      let bytes = 0;
      res.on('data', (d) => (bytes += d.length));
      res.on('end', () => done({ status: res.statusCode, took: performance.now() - begun, bytes }));
    });
    r.on('error', () => done({ status: 0, took: performance.now() - begun, bytes: 0 }));
    r.end();
  });
}
/** What people do before: not timed. */
async function json(method, path, { cookie = '', token = '', body } = {}) {
  const headers = { cookie, 'x-keen-token': token, 'content-type': 'application/json' };
  const got = await fetch(`http://127.0.0.1:${PORT}${path}`, {
    method,
    headers,
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  return {
    status: got.status,
    cookies: got.headers.getSetCookie().map((c) => c.split(';')[0]),
    body: await got.json(),
  };
}

try {
  for (let i = 0; ; i++) {
    if ((await read('/healthz')).status === 200) break;
    if (i > 400) throw new Error('the server does not answer');
    await new Promise((r) => setTimeout(r, 100));
  }
  const people = [];
  for (const signIn of PEOPLE) {
    const first = await json('GET', '/api/session');
    const got = await json('POST', '/api/session', {
      cookie: first.cookies.join('; '),
      token: first.body.csrfToken,
      body: { signIn, password: 'larkmoor-nights' },
    });
    if (got.status !== 200) throw new Error(`sign-in: ${got.status}`);
    people.push({ cookie: got.cookies.join('; '), token: got.body.csrfToken });
  }
  const [first] = people;
  const rigs = (await json('GET', '/api/rigs', first)).body;
  const there = (await json('GET', '/api/projects', first)).body.length;
  // projects as a club gathers them over the years, each with a night of frames
  const filled = database.sql(fill(projects - there));
  if (filled.status !== 0) throw new Error(filled.stderr);
  const rig = rigs[0];
  const nights = (await json('GET', `/api/rigs/${rig.id}/nights`, first)).body;
  const READS = [
    '/api/session',
    '/api/session',
    '/api/rigs',
    '/api/rigs',
    '/api/sites',
    '/api/projects',
    '/api/plans',
    '/api/parts',
    '/api/runs',
    `/api/offset-sets?trainStateId=${rig.systems[0].trainStateId}`,
    `/api/focus-runs?trainStateId=${rig.systems[0].trainStateId}`,
    `/api/rigs/${rig.id}/nights`,
    `/api/rigs/${rig.id}/setup-list?night=2026-11-24`,
    `/api/rigs/${rig.id}/dusk-settings`,
    `/api/rigs/${rig.id}/guide-logs`,
    '/api/changes',
    '/api/members',
    ...(nights[0] ? [`/api/nights/${nights[0].id}/frames`] : []),
  ];
  // the first answers of a fresh process are its compiler's
  for (let i = 0; i < 400; i++) await read(READS[i % READS.length], people[i % people.length]);
  const answers = [];
  const begun = performance.now();
  const waiting = [];
  for (let i = 0; i < seconds * rate; i++) {
    const due = begun + (i * 1000) / rate;
    const pause = due - performance.now();
    if (pause > 1) await new Promise((r) => setTimeout(r, pause));
    const path = READS[(i * 7) % READS.length];
    const late = performance.now() - due;
    waiting.push(read(path, people[i % people.length]).then((a) => answers.push({ ...a, took: a.took + late, path })));
  }
  await Promise.all(waiting);
  const elapsed = (performance.now() - begun) / 1000;
  const at = (list, q) =>
    [...list].map((a) => a.took).sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(q * list.length))];
  const failed = answers.filter((a) => a.status !== 200);
  for (const f of failed.slice(0, 3)) console.log(`  ${f.path} answered ${f.status}`);
  const paths = [...new Set(READS)].map((p) => ({ p, of: answers.filter((a) => a.path === p) }));
  for (const { p, of } of paths.sort((a, b) => at(b.of, 0.5) - at(a.of, 0.5)).slice(0, 5))
    console.log(
      `  ${p.replace(/[0-9a-f-]{36}/g, ':id').padEnd(40)} p50 ${at(of, 0.5).toFixed(1).padStart(7)} ms, ${(of[0].bytes / 1000).toFixed(0)} kB`,
    );
  console.log(
    `${rate} mixed reads a second for ${seconds} s, ${projects} projects: ${(answers.length / elapsed).toFixed(0)}/s answered, ${failed.length} failed; p50 ${at(answers, 0.5).toFixed(1)} ms, p95 ${at(answers, 0.95).toFixed(1)} ms of ${FIGURE}, p99 ${at(answers, 0.99).toFixed(1)} ms`,
  );
} finally {
  agent.destroy();
  await end();
}

/** SQL that copies a project with its goals, two recorded nights and twenty frames a night, so many times. */
function fill(count) {
  const id = (n, kind) => `CONCAT(LPAD(HEX(${n}), 8, '0'), '-0000-4000-8000-00000000000${kind}')`;
  const copy = (table, of, where, more, times = `seq_1_to_${Math.max(1, count)}`) => `
    CREATE TEMPORARY TABLE fresh AS SELECT s.seq AS nth, x.* FROM ${times} s, (SELECT * FROM ${table} WHERE ${where}) x;
    UPDATE fresh SET ${more};
    ALTER TABLE fresh DROP COLUMN nth;
    INSERT INTO ${table} SELECT * FROM fresh;
    DROP TEMPORARY TABLE fresh;`;
  const many = Math.max(1, count);
  return `USE keen_load; 
    SET @f = (SELECT f.id FROM frames f JOIN runs r ON r.id = f.run_id WHERE f.kind = 'light' AND f.accepted = 1 AND f.project_id IS NOT NULL AND r.state = 'accepted' LIMIT 1);
    SET @r = (SELECT run_id FROM frames WHERE id = @f); SET @p = (SELECT project_id FROM frames WHERE id = @f);
    ${copy('projects', many, 'id = @p', `id = ${id('nth', 1)}, name = CONCAT(name, ' ', nth)`)}
    ${copy('project_goals', many, 'project_id = @p', `id = UUID(), project_id = ${id('nth', 1)}`)}
    ${copy('runs', many, 'id = @r', `id = ${id('nth', 2)}, kind = 'recorded', plan_id = NULL, accepted_plan = NULL, result = NULL, night = '2020-01-01' + INTERVAL (nth DIV 2) DAY`, `seq_1_to_${2 * many}`)}
    ${copy('frames', many, 'id = @f', `id = UUID(), seq = nth MOD 20, run_id = ${id('1 + nth DIV 20', 2)}, project_id = ${id('1 + (nth DIV 20) DIV 2', 1)}, counted_hash = NULL, file_hash = NULL`, `(SELECT seq - 1 AS seq FROM seq_1_to_${40 * many})`)}
    ANALYZE TABLE projects, project_goals, runs, frames;`;
}
