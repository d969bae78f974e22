// npm run deploy:try: what lies in deploy/ at work on loopback: Debian's nginx with HTTPS and a certificate made for the hour, before
// two servers on a database of their own. It says what was tried and leaves nothing behind.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import https from 'node:https';
import http from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, privateDatabase } from './lib/database.mjs';
import { needBuild, needModules, needPackages, ROOT, say } from './lib/environment.mjs';

const NAME = 'observatory.example';
const TOKEN = 'a token for the trial that is long enough';
const wait = (ms) => new Promise((done) => setTimeout(done, ms));
if (process.env.KEEN_PREPARED !== '1') {
  const packages = needPackages([
    ['mariadbd', 'mariadb-server'],
    ['nginx', 'nginx'],
    ['openssl', 'openssl'],
  ]);
  needModules();
  needBuild();
  await packages;
}

const folder = mkdtempSync(join(tmpdir(), 'keen-deploy-'));
const ends = [() => rmSync(folder, { recursive: true, force: true })];
const results = [];
const check = (what, ok, more = '') => {
  results.push(ok);
  say(`${ok ? 'ok   ' : 'WRONG'} ${what}${more && !ok ? `: ${more}` : ''}`);
};

/** One request to the proxy, under the name it is known by. */
function ask(port, path, { method = 'GET', headers = {}, body, plain = false, onData = null } = {}) {
  const begun = performance.now();
  return new Promise((done) => {
    const r = (plain ? http : https).request(
      {
        host: '127.0.0.1',
        port,
        path,
        method,
        servername: NAME,
        rejectUnauthorized: false,
        headers: { host: NAME, ...headers, ...(body ? { 'content-length': Buffer.byteLength(body) } : {}) },
      },
      (res) => {
        let text = '';
        res.setEncoding('utf8');
        res.on('data', (d) => {
          text += d;
          onData?.(d, performance.now() - begun, r);
        });
        const end = () => done({ status: res.statusCode, headers: res.headers, text });
        res.on('end', end);
        res.on('close', end);
      },
    );
    r.on('error', (e) => done({ status: 0, headers: {}, text: String(e) }));
    r.end(body);
  });
}

try {
  const database = await privateDatabase({ folder: join(folder, 'mariadb'), firstPort: 33801, name: 'keen_try' });
  ends.push(() => database.stop());
  const ports = [await freePort(4610)];
  ports.push(await freePort(ports[0] + 1));
  // the environment of the unit, but for the addresses
  const unit = readFileSync('deploy/keen-meridian.service', 'utf8');
  const set = Object.fromEntries(
    [...unit.matchAll(/^Environment=(.*)$/gm)].flatMap((m) => m[1].split(' ').map((pair) => pair.split('='))),
  );
  const command = /^ExecStart=\/usr\/bin\/node (.*)$/m.exec(unit)[1].split(' ');
  const start = (port) =>
    spawn(process.execPath, command, {
      cwd: ROOT,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        PATH: process.env.PATH,
        ...set,
        KEEN_PORT: String(port),
        KEEN_DRAIN_S: '2',
        KEEN_DATABASE_URL: database.url,
        KEEN_SECRET: 'a secret for the trial of what is deployed',
        KEEN_NAMES: NAME,
        KEEN_DEMO: '1',
        KEEN_METRICS_TOKEN: TOKEN,
        KEEN_LOG: 'error',
      },
    });
  const servers = ports.map(start);
  ends.push(() => servers.forEach((s) => s.kill('SIGKILL')));
  const healthy = async (port) => {
    for (let i = 0; i < 300; i++) {
      if ((await ask(port, '/healthz', { plain: true })).status === 200) return true;
      await wait(100);
    }
    return false;
  };
  check(
    'two servers come up with the unit’s own command and environment',
    (await Promise.all(ports.map(healthy))).every(Boolean),
  );

  if (spawnSync('systemd-analyze', ['--version']).status === 0) {
    const copy = join(folder, 'keen-meridian.service');
    writeFileSync(
      copy,
      unit
        .replace(/^(User|Group)=.*$/gm, '$1=root')
        .replaceAll('/opt/keen-meridian', ROOT)
        .replace(/^EnvironmentFile=.*$/m, ''),
    );
    const verified = spawnSync('systemd-analyze', ['verify', copy], { encoding: 'utf8' });
    check(
      'systemd has nothing to say against the unit',
      !/keen-meridian\.service.*(?:Unknown|Failed|Invalid|missing)/i.test(verified.stderr),
      verified.stderr,
    );
  }

  const certificate = spawnSync(
    'openssl',
    `req -x509 -newkey rsa:2048 -nodes -days 2 -subj /CN=${NAME} -keyout ${folder}/key.pem -out ${folder}/cert.pem`.split(
      ' ',
    ),
    { encoding: 'utf8' },
  );
  if (certificate.status !== 0) throw new Error(certificate.stderr);
  const [secure, open] = [await freePort(4620), await freePort(4640)];
  // Debian 12 has an nginx that knows HTTP/2 as a word of `listen` only
  const [, major, minor] = /nginx\/(\d+)\.(\d+)/.exec(spawnSync('nginx', ['-v'], { encoding: 'utf8' }).stderr);
  const newer = Number(major) > 1 || Number(minor) >= 25;
  const site = readFileSync('deploy/nginx.conf', 'utf8')
    .replace('server 127.0.0.1:4310', `server 127.0.0.1:${ports[0]}`)
    .replace('# server 127.0.0.1:4311', `server 127.0.0.1:${ports[1]}`)
    .replace('listen 443 ssl;', `listen 127.0.0.1:${secure} ssl;`)
    .replace('listen 80;', `listen 127.0.0.1:${open};`)
    .replace(/\/etc\/ssl\/certs\/[\w.]+/, join(folder, 'cert.pem'))
    .replace(/\/etc\/ssl\/private\/[\w.]+/, join(folder, 'key.pem'));
  const text = newer ? site : site.replace('    http2 on;\n', '').replace(`${secure} ssl;`, `${secure} ssl http2;`);
  mkdirSync(join(folder, 'temp'));
  const paths = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((p) => `${p}_temp_path ${folder}/temp/${p};`);
  const whole = `daemon off; pid ${folder}/nginx.pid; error_log ${folder}/error.log warn; worker_processes 1;
    ${process.getuid() === 0 ? 'user root;' : ''}
    events {} http { access_log off; ${paths.join(' ')} ${text} }`;
  writeFileSync(join(folder, 'nginx.conf'), whole);
  const tested = spawnSync('nginx', ['-t', '-c', join(folder, 'nginx.conf')], { encoding: 'utf8' });
  check('nginx takes the file', tested.status === 0, tested.stderr);
  const nginx = spawn('nginx', ['-c', join(folder, 'nginx.conf')], { stdio: 'ignore' });
  ends.push(() => nginx.kill('SIGTERM'));
  for (let i = 0; i < 100 && (await ask(secure, '/healthz')).status !== 200; i++) await wait(50);

  const moved = await ask(open, '/night', { plain: true });
  check(
    'without HTTPS one is sent to where it is',
    moved.status === 301 && moved.headers.location === `https://${NAME}/night`,
    moved.text,
  );
  const page = await ask(secure, '/');
  check(
    'the page comes, with its policy and HSTS',
    page.status === 200 &&
      Boolean(page.headers['strict-transport-security']) &&
      page.headers['content-security-policy'].includes("default-src 'self'"),
    page.text.slice(0, 200),
  );
  const session = await ask(secure, '/api/session');
  const cookies = (got) => (got.headers['set-cookie'] ?? []).map((c) => c.split(';')[0]).join('; ');
  check(
    'cookies are the host’s own and go over HTTPS only',
    (session.headers['set-cookie'] ?? []).every((c) => c.startsWith('__Host-') && /; Secure/.test(c)),
    String(session.headers['set-cookie']),
  );
  check('nobody is taken for somebody at the machine', JSON.parse(session.text).local === false);
  const token = JSON.parse(session.text).csrfToken;
  const signedIn = await ask(secure, '/api/session', {
    method: 'POST',
    headers: { cookie: cookies(session), 'x-keen-token': token, 'content-type': 'application/json' },
    body: JSON.stringify({ signIn: 'odalys', password: 'larkmoor-nights' }),
  });
  check('one signs in', signedIn.status === 200, signedIn.text.slice(0, 200));
  const cookie = cookies(signedIn);
  const mine = { cookie, 'x-keen-token': JSON.parse(signedIn.text).csrfToken, 'content-type': 'application/json' };
  const rigs = JSON.parse((await ask(secure, '/api/rigs', { headers: { cookie } })).text);
  check('records come', rigs.length > 0);

  let [heardMs, said, writtenMs] = [Infinity, '', 0];
  const listening = ask(secure, '/api/events/stream', {
    headers: { cookie },
    onData: (piece, at, r) => {
      said += piece;
      if (!said.includes('event: happened') && !said.includes('event:happened')) return;
      heardMs = Math.min(heardMs, at);
      r.destroy();
    },
  });
  await wait(600);
  const began = performance.now();
  const written = await ask(secure, '/api/log', {
    method: 'POST',
    headers: mine,
    body: JSON.stringify({ rigId: rigs[0].id, problem: 'through the proxy' }),
  });
  writtenMs = performance.now() - began;
  await Promise.race([listening, wait(10_000)]);
  check(
    `a stream is not held back: heard ${(heardMs - 600).toFixed(0)} ms after it was asked for (answered in ${writtenMs.toFixed(0)})`,
    written.status === 200 && heardMs < 3000,
    said.slice(0, 300),
  );

  const large = Buffer.alloc(20_000_000, 65).toString();
  const picture = await ask(secure, '/api/calculations/frames.measure', {
    method: 'POST',
    headers: { ...mine, 'content-type': 'application/fits' },
    body: large,
  });
  check(
    'a picture of 20 MB goes through and is judged by the server',
    picture.status === 400 && /invalid_input/.test(picture.text),
    `${picture.status} ${picture.text.slice(0, 200)}`,
  );
  const body = await ask(secure, '/api/log', {
    method: 'POST',
    headers: mine,
    body: JSON.stringify({ rigId: rigs[0].id, problem: 'x'.repeat(6_000_000) }),
  });
  check(
    'what is too large is said in the server’s own words',
    body.status === 413 && /too_large/.test(body.text),
    `${body.status} ${body.text.slice(0, 200)}`,
  );
  check('what the server counts is not to be had from outside', (await ask(secure, '/metrics')).status === 404);
  check(
    'nor past the proxy’s rule without the token, and with it at the server',
    (await ask(ports[0], '/metrics', { plain: true, headers: { 'x-forwarded-for': '203.0.113.5' } })).status === 404 &&
      (
        await ask(ports[0], '/metrics', {
          plain: true,
          headers: { 'x-forwarded-for': '203.0.113.5', authorization: `Bearer ${TOKEN}` },
        })
      ).status === 200,
  );

  // both are replaced, one after the other, while somebody goes on asking
  let going = true;
  const answers = new Map();
  const asking = (async () => {
    for (let i = 0; going; i++) {
      const got =
        i % 5
          ? await ask(secure, '/api/plans', { headers: { cookie } })
          : await ask(secure, '/api/log', {
              method: 'POST',
              headers: { ...mine, 'idempotency-key': `upgrade-${i}-of-the-trial` },
              body: JSON.stringify({ rigId: rigs[0].id, problem: `while upgrading ${i}` }),
            });
      answers.set(got.status, (answers.get(got.status) ?? 0) + 1);
      await wait(10);
    }
  })();
  for (const i of [0, 1]) {
    const gone = new Promise((done) => servers[i].once('exit', done));
    servers[i].kill('SIGTERM');
    await gone;
    servers[i] = start(ports[i]);
    await healthy(ports[i]);
    await wait(2500);
  }
  going = false;
  await asking;
  check(
    `two servers replaced in turn, nobody refused: ${[...answers].map(([s, n]) => `${n} × ${s}`).join(', ')}`,
    answers.size === 1 && answers.has(200),
  );
} catch (e) {
  check('the trial itself', false, e.stack);
} finally {
  for (const end of ends.reverse()) await end();
}
const failed = results.filter((ok) => !ok).length;
console.log(`${results.length - failed} tried and right, ${failed} wrong`);
process.exit(failed ? 1 : 0);
