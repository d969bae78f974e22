// Three nodes of a Galera cluster on loopback, from Debian's packages, in a folder of their own; each can be killed, cut off and
// started again by itself.
import { spawn, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ME, runsAs, setUp, socketOf, tail } from './database.mjs';

const PROVIDER = '/usr/lib/galera/libgalera_smm.so';
const START_MS = 90_000;
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

/** Addresses of a cluster: each node has one of loopback’s own, so that all can use the usual ports. */
const addressesOf = (count) => {
  // another run on this machine has others
  const [a, b] = [1 + (process.pid % 250), 1 + (Math.floor(process.pid / 250) % 250)];
  return Array.from({ length: count }, (_, i) => `127.${a}.${b}.${i + 11}`);
};

/**
 * Starts a cluster.
 * @returns its nodes, the address under which an application reaches them (from a node on, the others after it), and its end
 * @throws what the log of the node that would not start ends with
 */
export async function galera({ folder, name = 'keen', count = 3, port = 3306 }) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const user = runsAs(folder);
  const addresses = addressesOf(count);
  const own = (path) => user && spawnSync('chown', ['-R', `${user}:`, path]);
  const folderOf = (i) => join(folder, `node${i + 1}`);
  const children = addresses.map(() => null);

  const sqlOn = (i, text) =>
    spawnSync('mariadb', ['--no-defaults', `--socket=${socketOf(folderOf(i))}`, `-u${ME}`, '-N', '-B'], {
      input: text,
      encoding: 'utf8',
      timeout: 5000,
    });
  /** One of the node's own words about itself: wsrep_ready, wsrep_cluster_size … */
  const status = (i, key) => sqlOn(i, `SHOW GLOBAL STATUS LIKE '${key}'`).stdout?.split('\t')[1]?.trim() ?? '';
  const ready = (i) => status(i, 'wsrep_ready') === 'ON' && status(i, 'wsrep_local_state_comment') === 'Synced';
  const running = (i) => children[i] !== null && children[i].exitCode === null && children[i].signalCode === null;

  /**
   * Where a node’s own files stand, as Debian’s service asks before it starts one: it is then given what it missed, and not
   * everything anew, which would hold up the node that gives it.
   */
  function recovered(i) {
    const log = join(folderOf(i), 'recover.log');
    rmSync(log, { force: true });
    const found = spawnSync(
      'mariadbd',
      [
        '--no-defaults',
        ...(user ? [`--user=${user}`] : []),
        `--datadir=${join(folderOf(i), 'data')}`,
        `--log-error=${log}`,
        `--wsrep-provider=${PROVIDER}`,
        '--wsrep-on=ON',
        '--wsrep-recover',
        '--skip-networking',
      ],
      { encoding: 'utf8' },
    );
    const text = (found.stderr ?? '') + (existsSync(log) ? readFileSync(log, 'utf8') : '');
    const at = /Recovered position:\s*([0-9a-f-]{36}:-?\d+)/.exec(text)?.[1];
    return at ? [`--wsrep-start-position=${at}`] : [];
  }

  /** Starts a node; the first of a cluster that does not exist yet begins it. */
  async function start(i, more = [], isReady = () => ready(i)) {
    const [here, at] = [folderOf(i), addresses[i]];
    const log = join(here, 'error.log');
    const position = more.length ? [] : recovered(i);
    children[i] = spawn(
      'mariadbd',
      [
        '--no-defaults',
        ...position,
        ...(user ? [`--user=${user}`] : []),
        `--datadir=${join(here, 'data')}`,
        `--socket=${socketOf(here)}`,
        `--port=${port}`,
        `--bind-address=${at}`,
        `--pid-file=${join(here, 'm.pid')}`,
        `--log-error=${log}`,
        '--local-infile=0',
        '--skip-name-resolve',
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        '--default-time-zone=+00:00',
        '--max-allowed-packet=64M',
        '--binlog-format=ROW',
        '--default-storage-engine=InnoDB',
        '--innodb-autoinc-lock-mode=2',
        // an acknowledged write stands on every node: what one loses with its machine the others have
        '--innodb-flush-log-at-trx-commit=2',
        '--wsrep-on=ON',
        `--wsrep-provider=${PROVIDER}`,
        '--wsrep-cluster-name=keen',
        `--wsrep-cluster-address=gcomm://${addresses.join(',')}`,
        `--wsrep-node-address=${at}:4567`,
        `--wsrep-node-name=node${i + 1}`,
        '--wsrep-sst-method=rsync',
        `--wsrep-sst-receive-address=${at}:4444`,
        `--wsrep-provider-options=gmcast.listen_addr=tcp://${at}:4567;ist.recv_addr=${at}:4568;gcache.size=64M;evs.keepalive_period=PT0.5S;evs.suspect_timeout=PT2S;evs.inactive_check_period=PT0.5S;evs.inactive_timeout=PT6S`,
        ...more,
      ],
      { stdio: 'ignore' },
    );
    for (const end = Date.now() + START_MS; !isReady();) {
      if (!running(i)) throw new Error(`node ${i + 1} ended at once. Its log ends:\n${tail(log)}`);
      if (Date.now() > end) throw new Error(`node ${i + 1} does not join. Its log ends:\n${tail(log)}`);
      await wait(100);
    }
  }
  async function end(i, signal) {
    if (!running(i)) return;
    const child = children[i];
    const ended = new Promise((done) => child.once('exit', done));
    child.kill(signal);
    await ended;
  }

  // the accounts are made before there is a cluster, and every node begins with the same files: none has to be copied
  const first = folderOf(0);
  mkdirSync(first, { recursive: true });
  own(first);
  setUp(first, join(first, 'data'), user);
  const password = readFileSync(join(first, 'password'), 'utf8');
  own(first);
  await start(0, ['--wsrep-new-cluster']);
  const made = sqlOn(
    0,
    `CREATE DATABASE \`${name}\`; CREATE USER 'keen'@'127.%' IDENTIFIED BY '${password}';
     GRANT ALL ON \`${name}\`.* TO 'keen'@'127.%'; GRANT ALL ON \`${name}\\_%\`.* TO 'keen'@'127.%';`,
  );
  if (made.status !== 0) throw new Error(`The first node refused its set-up:\n${made.stderr}`);
  await end(0, 'SIGTERM');
  for (let i = 1; i < count; i++) {
    mkdirSync(folderOf(i), { recursive: true });
    cpSync(join(first, 'data'), join(folderOf(i), 'data'), { recursive: true });
    rmSync(join(folderOf(i), 'data', 'gvwstate.dat'), { force: true });
    own(folderOf(i));
  }
  await start(0, ['--wsrep-new-cluster']);
  await Promise.all(addresses.slice(1).map((_, i) => start(i + 1)));

  const node = (i) => ({
    address: addresses[i],
    start: () => start(i),
    /** As if its machine had lost power. */
    kill: () => end(i, 'SIGKILL'),
    stop: () => end(i, 'SIGTERM'),
    /** Cuts it off from the others, not from its clients; it serves nobody until it has them back. */
    cutOff: () => sqlOn(i, "SET GLOBAL wsrep_provider_options='gmcast.isolate=1'"),
    /** Has them back when this is done. */
    join: async () => {
      sqlOn(i, "SET GLOBAL wsrep_provider_options='gmcast.isolate=0'");
      for (const until = Date.now() + START_MS; !ready(i); await wait(100))
        if (Date.now() > until) throw new Error(`node ${i + 1} does not come back`);
    },
    isReady: () => running(i) && ready(i),
    size: () => Number(status(i, 'wsrep_cluster_size')),
    sql: (text) => sqlOn(i, text),
  });
  return {
    nodes: addresses.map((_, i) => node(i)),
    /** For an application that is at home with node `i`. */
    urlFrom: (i) => {
      const hosts = [...addresses.slice(i), ...addresses.slice(0, i)].map((a) => `${a}:${port}`);
      return `mariadb://keen:${password}@${hosts.join(',')}/${name}`;
    },
    stop: async () => {
      for (const i of addresses.keys()) await end(i, 'SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
