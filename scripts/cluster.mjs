// npm run cluster [-- short | races]: three nodes of a Galera cluster and two servers behind a balancer, all on loopback and in .keen/cluster,
// a bounded storm of requests while things fail, and what became of every acknowledged write. It leaves nothing behind.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { Agent } from 'node:http';
import { join } from 'node:path';
import { freePort } from './lib/database.mjs';
import { cookieSecret, KEEN, needBuild, needModules, needPackages, ROOT, say } from './lib/environment.mjs';
import { galera } from './lib/galera.mjs';
import { ask, listener, planFor, race, signIn, storm } from './lib/storm.mjs';

const SHORT = process.argv.includes('short');
/** Only what several want at the same moment: who has it in the end. */
const RACES = process.argv.includes('races');
const PEOPLE = ['odalys', 'teun', 'mirela', 'sefu'];
/** How long each stage lasts beside what it has to wait for [ms]. */
const STAGE_MS = SHORT ? 2500 : 10_000;
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

if (process.env.KEEN_PREPARED !== '1') {
  const packages = needPackages([
    ['mariadbd', 'mariadb-server'],
    ['rsync', 'rsync'],
    ['haproxy', 'haproxy'],
  ]);
  needModules();
  needBuild();
  await packages;
}

const folder = join(KEEN, 'cluster');
const ended = [];
const cleanUp = async () => {
  for (const end of ended.splice(0).reverse()) await end();
};
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void cleanUp().then(() => process.exit(1)));

/** A server of the application at home with a node; started again when it dies. */
function server(n, port, url) {
  let child = null;
  let wanted = true;
  const answers = async () => {
    for (;;) {
      const got = await ask(`http://127.0.0.1:${port}`, 'GET', '/healthz');
      if (got.status === 200) return;
      await wait(100);
    }
  };
  const start = () => {
    child = spawn(process.execPath, ['server/dist/main.js'], {
      cwd: ROOT,
      stdio: ['ignore', 'ignore', 'pipe'],
      env: {
        ...process.env,
        KEEN_DATABASE_URL: url,
        KEEN_SECRET: cookieSecret(),
        KEEN_PORT: String(port),
        KEEN_LOG: 'silent',
        KEEN_DEMO: '1',
        KEEN_SIGN_IN_LIMIT: '100000',
        KEEN_DRAIN_S: '2',
      },
    });
    // that a transaction on a line that is gone cannot be rolled back is what this is about
    child.stderr.on('data', (d) => {
      const rest = String(d)
        .split('\n')
        .filter((l) => l && !/^(Rolling back|Committing) transaction|^sql: (ROLLBACK|COMMIT)/.test(l));
      if (rest.length) console.error(rest.join('\n'));
    });
    child.on('exit', () => wanted && setTimeout(() => wanted && start(), 1000));
  };
  start();
  ended.push(() => {
    wanted = false;
    child.kill('SIGKILL');
  });
  return {
    n,
    base: `http://127.0.0.1:${port}`,
    answers,
    kill: () => child.kill('SIGKILL'),
    restart: async () => {
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await gone;
      await wait(1100);
      await answers();
    },
  };
}

/** The balancer, with its file as it is shipped but for the addresses. */
async function balancer(ports) {
  const port = await freePort(4480);
  let text = readFileSync('deploy/haproxy.cfg', 'utf8').replace('127.0.0.1:8080', `127.0.0.1:${port}`);
  for (const [usual, real] of [
    ['127.0.0.1:4310', ports[0]],
    ['127.0.0.1:4311', ports[1]],
  ])
    text = text.replace(usual, `127.0.0.1:${real}`);
  mkdirSync(folder, { recursive: true });
  const file = join(folder, 'haproxy.cfg');
  writeFileSync(file, text);
  const child = spawn('haproxy', ['-db', '-f', file], { stdio: ['ignore', 'ignore', 'ignore'] });
  ended.push(() => child.kill('SIGKILL'));
  const base = `http://127.0.0.1:${port}`;
  while ((await ask(base, 'GET', '/healthz')).status !== 200) {
    if (child.exitCode !== null) throw new Error('the balancer did not start');
    await wait(100);
  }
  return base;
}

const rows = [];
let ok = true;
const fault = (text) => {
  ok = false;
  say(`WRONG: ${text}`);
};
let acknowledged = 0;
let lost = 0;
let doubled = 0;
try {
  say('three nodes');
  const cluster = await galera({ folder });
  ended.push(cluster.stop);
  const [one, two, three] = cluster.nodes;
  say('servers, of which one migrates and loads the demo, and the balancer');
  const ports = [await freePort(4490)];
  for (let i = 1; i < 3; i++) ports.push(await freePort(ports.at(-1) + 1));
  // all three at once: the schema and the demo are made once
  const servers = ports.map((port, i) => server(i, port, cluster.urlFrom(i)));
  await Promise.all(servers.map((s) => s.answers()));
  const demos = one.sql('SELECT COUNT(*) FROM keen.clubs').stdout.trim();
  if (demos !== '1') fault(`${demos} demo clubs after three servers started together`);
  const base = await balancer(ports);

  say('one night of one rig, wanted 200 times in the same moment');
  const soon = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
  const { nightIn } = await planFor(servers[0].base, soon);
  for (const [i, of] of (SHORT || RACES ? [3] : [1, 2, 3]).entries()) {
    const plan = nightIn(i + 1);
    const got = await race(
      servers.slice(0, of).map((s) => s.base),
      { people: PEOPLE, body: plan },
    );
    const stand = three
      .sql(
        `SELECT COUNT(*) FROM keen.plans WHERE night = '${plan.night}' AND rig_id = '${plan.rigId}' AND status <> 'cancelled'`,
      )
      .stdout.trim();
    say(
      `  ${of} ${of === 1 ? 'server' : 'servers, each on a node of its own'}: ${got.won} had it, ${got.taken} were told it is taken`,
    );
    if (got.won !== 1 || stand !== '1' || got.other.length)
      fault(`had ${got.won} times, ${stand} plans stand; ${got.other.slice(0, 3).join('; ')}`);
    // the same hours of another night, booked
    const { rigId, night } = nightIn(i + 11);
    const hours = { rigId, night, start: `${night}T20:00:00Z`, end: `${night}T22:00:00Z` };
    const booked = await race(
      servers.slice(0, of).map((s) => s.base),
      { people: PEOPLE, path: '/api/bookings', body: hours },
    );
    const held = three
      .sql(`SELECT COUNT(*) FROM keen.bookings WHERE night = '${night}' AND rig_id = '${rigId}' AND state = 'held'`)
      .stdout.trim();
    say(`  ${' '.repeat(String(of).length)} booked: ${booked.won} had them, ${booked.taken} were told they are taken`);
    if (booked.won !== 1 || held !== '1' || booked.other.length)
      fault(`booked ${booked.won} times, ${held} bookings stand; ${booked.other.slice(0, 3).join('; ')}`);
  }

  const theStorm = async () => {
    say('the storm');
    const s = await storm(base, { people: [...PEOPLE, ...PEOPLE, ...PEOPLE], mostS: SHORT ? 120 : 300 });
    const agent = new Agent({ keepAlive: true });
    const watching = await signIn(base, 'ines', agent);
    const newest = async () => (await ask(base, 'GET', '/api/events', watching)).json().last;
    const from = await newest();
    const pages = [1, 2, 3].map(() => listener(base, watching, from));
    // work that outlives its request, asked for before anything fails
    const worker = await signIn(base, 'teun', agent);
    const plan = (await ask(base, 'GET', '/api/plans', worker))
      .json()
      .find((p) => p.status === 'planned' && p.owner.startsWith('Teun'));
    const jobs = [];
    const askForJobs = async (first) => {
      for (let seed = first; seed < first + 6; seed++) {
        const got = await ask(base, 'POST', `/api/plans/${plan.id}/rehearsals`, {
          ...worker,
          key: `rehearsal-${seed}`,
          body: { seed },
        });
        if (got.status === 200) jobs.push({ id: got.json().id, seed });
      }
    };
    const stage = async (name, work) => {
      const [from, before] = [s.now(), s.failed()];
      say(`  ${name}`);
      await askForJobs(9000 + 10 * rows.length);
      await work();
      await wait(STAGE_MS);
      rows.push({ name, from, to: s.now(), failed: s.failed() - before });
    };
    // a run that is driven meanwhile: the same night as the first of the rehearsals
    const run = // by the server whose node is the first to be killed
      (
        await ask(servers[0].base, 'POST', `/api/plans/${plan.id}/live-runs`, {
          ...worker,
          key: 'run-9000',
          // it lasts as long as what happens to it
          body: { seed: 9000, speed: SHORT ? 600 : 60 },
        })
      ).json();
    await stage('nothing happens', async () => undefined);
    await stage('a node is killed (the first server’s)', () => one.kill());
    await stage('it comes back', () => one.start());
    if (!SHORT) {
      await stage('a server is killed, and started again after a second', async () => {
        servers[1].kill();
        await wait(1500);
        await servers[1].answers();
      });
      await stage('a node is cut off from the others (the second server’s)', async () => {
        two.cutOff();
        await wait(5000);
      });
      await stage('it is joined again', () => two.join());
      await stage('servers are restarted in turn', async () => {
        for (const each of servers) await each.restart();
      });
      await stage('nodes are restarted in turn', async () => {
        for (const node of [three, two, one]) {
          await node.stop();
          await node.start();
        }
      });
    }
    const sent = await s.end();

    for (let i = 0; i < 300 && ![one, two, three].every((n) => n.isReady()); i++) await wait(100);
    const until = await newest();
    for (let i = 0; i < 100 && !pages.every((p) => p.heard.at(-1) === until); i++) await wait(100);
    for (const p of pages) p.end();
    const told = one
      .sql(`SELECT seq FROM keen.events WHERE seq > ${from} AND seq <= ${until} AND member_id IS NULL ORDER BY seq`)
      .stdout.split('\n')
      .filter(Boolean)
      .map(Number);
    for (const [i, p] of pages.entries())
      if (p.heard.join() !== told.join() || p.forgotten.length)
        fault(
          `page ${i + 1} heard ${p.heard.length} of ${told.length} events, ${new Set(p.heard).size} different ones`,
        );
    say(
      `${pages.length} pages that listened, cut ${pages.map((p) => p.cuts()).join(', ')} times: each heard all ${told.length} events once`,
    );
    for (const { id, seed } of jobs) {
      let job = null;
      for (let i = 0; i < 300 && !job?.endedAt; i++) {
        const got = await ask(base, 'GET', `/api/jobs/${id}`, worker);
        if (got.status === 200) job = got.json();
        if (!job?.endedAt) await wait(100);
      }
      const kept = one
        .sql(
          // but for the run that is driven meanwhile, which has the first one’s seed
          `SELECT COUNT(*) FROM keen.runs WHERE seed = ${seed} AND plan_id = '${plan.id}' AND id NOT IN (SELECT run_id FROM keen.live_runs WHERE run_id IS NOT NULL)`,
        )
        .stdout.trim();
      if (job?.state !== 'done' || kept !== '1') fault(`a job is ${job?.state ?? 'not there'}, kept ${kept} times`);
    }
    say(`${jobs.length} rehearsals asked for on the way: all done, each kept once`);
    let driven = run;
    for (let i = 0; i < 1800 && driven?.state === 'running'; i++) {
      await wait(100);
      const got = await ask(base, 'GET', `/api/live-runs/${run.id}`, worker);
      if (got.status === 200) driven = got.json();
    }
    const framesOf = (which) =>
      JSON.stringify(
        JSON.parse(
          one.sql(`SET SESSION wsrep_sync_wait = 1; SELECT result FROM keen.runs WHERE ${which}`).stdout || 'null',
        )?.frames,
      );
    const [events, highest] = one
      .sql(`SELECT COUNT(*), MAX(seq) FROM keen.run_events WHERE run_id = '${run.id}'`)
      .stdout.trim()
      .split('\t');
    const [live, rehearsed] = [
      framesOf(`id = '${driven.runId}'`),
      framesOf(`seed = 9000 AND plan_id = '${plan.id}' AND id <> '${driven.runId}'`),
    ];
    if (driven.state !== 'ended' || events !== highest || !live || live !== rehearsed)
      fault(
        `the run is ${driven.state} ${driven.problem}, ${events} of ${highest} events, ${live === rehearsed ? 'the same' : 'other'} frames than undisturbed`,
      );
    say(
      `a run driven meanwhile, taken over ${driven.takenOver} times: ${events} events, none lost or doubled, the frames of the same night undisturbed`,
    );
    agent.destroy();
    // every node is asked for itself
    const counts = cluster.nodes.map((n) => {
      const got = n.sql(
        "SET SESSION wsrep_sync_wait = 1; SELECT problem, COUNT(*) FROM keen.log_entries WHERE problem LIKE 'storm %' GROUP BY problem",
      );
      if (got.status !== 0) fault(`a node could not be read: ${got.stderr}`);
      return new Map(
        got.stdout
          .split('\n')
          .filter(Boolean)
          .map((line) => line.split('\t')),
      );
    });
    for (const [text, { at }] of sent) {
      if (at !== null) acknowledged++;
      const times = counts.map((c) => Number(c.get(text) ?? 0));
      if (at !== null && Math.min(...times) === 0) lost++;
      if (Math.max(...times) > 1) doubled++;
    }
    if (!SHORT) {
      say('a backup of it, and the same put back');
      const env = { ...process.env, KEEN_DATABASE_URL: cluster.urlFrom(0), KEEN_BACKUPS: join(folder, 'backups') };
      const run = (...of) => spawnSync(process.execPath, of, { env, encoding: 'utf8' });
      const total = (n) =>
        n.sql('SET SESSION wsrep_sync_wait = 1; SELECT COUNT(*) FROM keen.log_entries').stdout.trim();
      const before = total(one);
      const saved = run('scripts/backup.mjs');
      const file = /written: (\S+)/.exec(saved.stdout)?.[1];
      one.sql("DELETE FROM keen.log_entries WHERE problem LIKE 'storm %'");
      const back = file ? run('scripts/restore.mjs', file, '--yes') : saved;
      const after = cluster.nodes.map(total);
      say(`  ${before} entries in the logbook; put back: ${after.join(', ')} on the three nodes`);
      if (back.status !== 0 || after.some((n) => n !== before)) fault(`${back.stdout}\n${back.stderr}`);
    }
    const toldTwice = Number(
      one
        .sql("SELECT COUNT(*) - COUNT(DISTINCT text) FROM keen.changes WHERE text LIKE 'logbook: storm %'")
        .stdout.trim(),
    );
    if (toldTwice !== 0) fault(`${toldTwice} changes are told of twice`);
    const unsure = [...sent.values()].filter((w) => w.at === null).length;
    if (unsure) say(`${unsure} writes were never acknowledged`);

    const head = ['', 'acknowledged', 'reads', 'longest without a write', 'writes p95', 'reads p95', 'answers missed'];
    const figures = rows.map((r) => ({ ...r, ...s.between(r.from, r.to) }));
    const cells = figures.map((r) => [
      r.name,
      r.writes,
      r.reads,
      `${r.silentS.toFixed(1)} s`,
      `${r.writeP95.toFixed(0)} ms`,
      `${r.readP95.toFixed(0)} ms`,
      r.failed,
    ]);
    const all = [head, ...cells].map((r) => r.map(String));
    const widths = head.map((_, i) => Math.max(...all.map((r) => r[i].length)));
    const line = (r) => `| ${r.map((c, i) => c.padEnd(widths[i])).join(' | ')} |`;
    console.log(`\n${line(all[0])}\n|${widths.map((w) => '-'.repeat(w + 2)).join('|')}|`);
    for (const r of all.slice(1)) console.log(line(r));
    const killed = figures[1].silentS;
    console.log(`\nwrites again ${killed.toFixed(1)} s after a node was killed under load (figure 10 s)`);
    if (killed > 10) fault('writes came back too late');
  };
  if (!RACES) await theStorm();
} catch (e) {
  fault(e.stack);
} finally {
  await cleanUp();
}
const left = spawnSync('pgrep', ['-f', folder], { encoding: 'utf8' }).stdout.trim();
if (left) fault(`processes are left: ${left.split('\n').join(', ')}`);
if (!RACES && (acknowledged === 0 || lost || doubled)) ok = false;
if (!RACES) console.log(`acknowledged ${acknowledged}, lost ${lost}, doubled ${doubled}`);
process.exit(ok ? 0 : 1);
