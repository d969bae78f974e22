// A club at its busiest: mixed requests at a steady rate, one of ten of them a write, against a server of its own on a database of
// its own, beside the records of years.
//   node bench/load.mjs [seconds] [requests a second, several with commas] [projects]
// Requests leave on time whether or not earlier ones came back, so that waiting is counted.
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { privateDatabase } from '../scripts/lib/database.mjs';
import { ROOT } from '../scripts/lib/environment.mjs';

const [seconds, rates, projects] = [
  Number(process.argv[2] ?? 20),
  (process.argv[3] ?? '100,300').split(',').map(Number),
  Number(process.argv[4] ?? 600),
];
/** What the p95 of an answer should stay below at a rate [ms], and the server’s memory [MB]. */
const FIGURES = { 100: 50, 300: 150 };
const MEMORY_MB = 350;
const WRITES = 0.1;
const NIGHTS = 60;
const FRAMES = 300;
const PORT = 4471;
const PEOPLE = ['odalys', 'teun', 'mirela', 'sefu'];

const folder = mkdtempSync(join(tmpdir(), 'keen-load-'));
const database = await privateDatabase({ folder, firstPort: 33401, name: 'keen_load', schemas: ['keen\\_load'] });
/** With a folder in KEEN_PROFILE the server’s processor time is written down there, function by function. */
const profile = process.env.KEEN_PROFILE ? ['--cpu-prof', `--cpu-prof-dir=${process.env.KEEN_PROFILE}`] : [];
const server = spawn(process.execPath, [...profile, 'server/dist/main.js'], {
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
  const ended = new Promise((done) => server.once('exit', done));
  server.kill('SIGTERM');
  await ended;
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void end().then(() => process.exit(1)));
const agent = new Agent({ keepAlive: true, maxSockets: 300 });
/** One request, timed until its last byte [ms]. */
function send(path, { cookie = '', token = '', body } = {}) {
  const begun = performance.now();
  const text = body === undefined ? null : JSON.stringify(body);
  return new Promise((done) => {
    const headers = {
      'accept-encoding': 'gzip',
      ...(cookie ? { cookie } : {}),
      ...(text
        ? {
            'x-keen-token': token,
            'content-type': 'application/json',
            'idempotency-key': randomUUID(),
            'content-length': Buffer.byteLength(text),
          }
        : {}),
    };
    const r = request({ host: '127.0.0.1', port: PORT, path, method: text ? 'POST' : 'GET', headers, agent }, (res) => {
      let bytes = 0;
      res.on('data', (d) => (bytes += d.length));
      res.on('end', () => done({ status: res.statusCode, took: performance.now() - begun, bytes }));
    });
    r.on('error', () => done({ status: 0, took: performance.now() - begun, bytes: 0 }));
    r.end(text ?? undefined);
  });
}
/** Processor time of a process so far [s], and the most memory it had [MB]. */
const cpuOf = (pid) => {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
};
const memoryOf = (pid) => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;
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
    if ((await send('/healthz')).status === 200) break;
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
  const WRITTEN = [
    (n) => ['/api/log', { rigId: rigs[n % rigs.length].id, problem: `load ${n}` }],
    (n) => ['/api/log', { rigId: rigs[n % rigs.length].id, problem: `load ${n}`, cause: 'dew' }],
    (n) => [`/api/rigs/${rig.id}/setup-ticks`, { night: '2026-11-24', key: ticks[n % ticks.length], done: n % 4 < 2 }],
  ];
  const list = (await json('GET', `/api/rigs/${rig.id}/setup-list?night=2026-11-24`, first)).body;
  const ticks = list.items.map((i) => i.key);
  // the first answers of a fresh process are its compiler's
  for (let i = 0; i < 2000; i++) await send(READS[i % READS.length], people[i % people.length]);
  const at = (of, q) =>
    [...of].map((a) => a.took).sort((a, b) => a - b)[Math.min(of.length - 1, Math.floor(q * of.length))] ?? 0;
  // what making the demo took is not the load’s
  try {
    writeFileSync(`/proc/${server.pid}/clear_refs`, '5');
  } catch {
    console.log('  (the most memory counts from the start: it could not be counted anew)');
  }
  let ok = true;
  for (const rate of rates) {
    const answers = [];
    const waiting = [];
    const [serverCpu, databaseCpu] = [cpuOf(server.pid), cpuOf(database.pid)];
    const begun = performance.now();
    for (let i = 0; i < seconds * rate; i++) {
      const due = begun + (i * 1000) / rate;
      const pause = due - performance.now();
      if (pause > 1) await new Promise((r) => setTimeout(r, pause));
      const writes = Math.floor(i * WRITES) !== Math.floor((i + 1) * WRITES);
      const [path, body] = writes ? WRITTEN[i % WRITTEN.length](i) : [READS[(i * 7) % READS.length]];
      const late = performance.now() - due;
      const person = people[i % people.length];
      waiting.push(
        send(path, { ...person, body }).then((a) => answers.push({ ...a, took: a.took + late, path, writes })),
      );
    }
    await Promise.all(waiting);
    const elapsed = (performance.now() - begun) / 1000;
    const failed = answers.filter((a) => a.status !== 200);
    for (const f of failed.slice(0, 3)) console.log(`  ${f.path} answered ${f.status}`);
    const kind = (a) => `${a.writes ? 'write ' : ''}${a.path.replace(/[0-9a-f-]{36}/g, ':id').split('?')[0]}`;
    const kinds = Map.groupBy
      ? Map.groupBy(answers, kind)
      : answers.reduce((m, a) => m.set(kind(a), [...(m.get(kind(a)) ?? []), a]), new Map());
    const all = answers.reduce((s, a) => s + a.took, 0);
    const spent = [...kinds].map(([k, of]) => ({ k, of, share: of.reduce((s, a) => s + a.took, 0) / all }));
    for (const { k, of, share } of spent.sort((a, b) => b.share - a.share).slice(0, 7))
      console.log(
        `  ${k.padEnd(36)} ${(100 * share).toFixed(0).padStart(3)} % of the waiting, p50 ${at(of, 0.5).toFixed(1).padStart(6)} ms, p95 ${at(of, 0.95).toFixed(1).padStart(6)} ms, ${(of[0].bytes / 1000).toFixed(0)} kB`,
      );
    const busy = (of, before) => `${((100 * (of - before)) / elapsed).toFixed(0)} %`;
    console.log(
      `  of two cores: the server ${busy(cpuOf(server.pid), serverCpu)} of one, the database ${busy(cpuOf(database.pid), databaseCpu)}; the rest is this script`,
    );
    const [p95, figure] = [at(answers, 0.95), FIGURES[rate] ?? null];
    const written = answers.filter((a) => a.writes);
    console.log(
      `${rate} requests a second for ${seconds} s, ${written.length} of them writes, beside ${projects} projects and ${NIGHTS * FRAMES} frames: ${(answers.length / elapsed).toFixed(0)}/s answered, ${failed.length} failed; p50 ${at(answers, 0.5).toFixed(1)} ms, p95 ${p95.toFixed(1)} ms${figure ? ` of ${figure}` : ''}, p99 ${at(answers, 0.99).toFixed(1)} ms; writes p95 ${at(written, 0.95).toFixed(1)} ms\n`,
    );
    if ((figure && p95 > figure) || failed.length) ok = false;
  }
  const memory = memoryOf(server.pid);
  console.log(
    `the server had ${memory.toFixed(0)} MB at most, of ${MEMORY_MB}${ok && memory <= MEMORY_MB ? '' : '   <- over its figure'}`,
  );
} finally {
  agent.destroy();
  await end();
}

/** SQL that copies a project with its goals so many times, and nights of frames, each for two of them. */
function fill(count) {
  const id = (n, kind) => `CONCAT(LPAD(HEX(${n}), 8, '0'), '-0000-4000-8000-00000000000${kind}')`;
  const copy = (table, of, where, more) => `
    CREATE TEMPORARY TABLE fresh AS SELECT s.seq AS nth, x.* FROM seq_1_to_${of} s, (SELECT * FROM ${table} WHERE ${where}) x;
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
    ${copy('runs', NIGHTS, 'id = @r', `id = ${id('nth', 2)}, kind = 'recorded', plan_id = NULL, accepted_plan = NULL, result = NULL, night = '2024-01-01' + INTERVAL nth DAY`)}
    ${copy('frames', NIGHTS * FRAMES, 'id = @f', `id = UUID(), seq = (nth - 1) MOD ${FRAMES}, run_id = ${id(`1 + (nth - 1) DIV ${FRAMES}`, 2)}, project_id = ${id(`1 + (((nth - 1) DIV ${FRAMES}) * 2 + ((nth - 1) DIV ${FRAMES / 2}) MOD 2) MOD ${many}`, 1)}, counted_hash = NULL, file_hash = NULL`)}
    ANALYZE TABLE projects, project_goals, runs, frames;`;
}
