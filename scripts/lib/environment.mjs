// What the scripts share: where things are, packages and builds.
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  chmodSync,
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '../..');
export const KEEN = join(ROOT, '.keen');
process.chdir(ROOT);
mkdirSync(KEEN, { recursive: true });

const started = Date.now();
/** One line of progress with the seconds since the start. */
export const say = (text) => console.log(`[${((Date.now() - started) / 1000).toFixed(1).padStart(6)} s] ${text}`);
export const fail = (text) => {
  console.error(`\n${text}\n`);
  process.exit(1);
};

const has = (command) => spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0;

/**
 * Debian's Chromium for the walks and pictures: the build without a window's buttons and menus, whose own pages took
 * a third of the walks' time; else the full one.
 */
const BROWSERS = ['chromium-headless-shell', 'chromium'];
export const browserPath = () => `/usr/bin/${BROWSERS.find(has) ?? BROWSERS[0]}`;
export const BROWSER_PACKAGE = [BROWSERS[0], BROWSERS[0], BROWSERS[1]];

/**
 * Installs Debian packages whose command is missing, beside what else there is to do; without the rights to, says at once the
 * one command that does it.
 * @param wanted [command, package, another command that serves as well when the package cannot be had]
 * @returns what is waited for where they are needed
 */
export function needPackages(wanted) {
  const lacking = wanted.filter(([command]) => !has(command));
  const missing = lacking.map(([, name]) => name);
  if (missing.length === 0) return Promise.resolve();
  const willDo = lacking.every(([, , other]) => other && has(other));
  const sudo =
    process.getuid() === 0 ? [] : has('sudo') && spawnSync('sudo', ['-n', 'true']).status === 0 ? ['sudo'] : null;
  if (willDo && (!has('apt-get') || sudo === null)) return Promise.resolve();
  if (!has('apt-get') || sudo === null)
    fail(
      `Missing: ${missing.join(', ')}. Run this once, then again what you ran:\n  sudo apt-get update && sudo apt-get install -y --no-install-recommends ${missing.join(' ')}`,
    );
  say(`installing ${missing.join(', ')} (Debian packages) …`);
  const policy = '/usr/sbin/policy-rc.d';
  const ours = sudo.length === 0 && !existsSync(policy);
  if (ours) {
    writeFileSync(policy, '#!/bin/sh\nexit 101\n');
    chmodSync(policy, 0o755);
  }
  const apt = [...sudo, 'apt-get', '-o', 'DPkg::Lock::Timeout=300'].join(' ');
  const install = `${apt} update; ${apt} install -y --no-install-recommends ${missing.join(' ')}`;
  const log = join(KEEN, 'apt.log');
  const to = openSync(log, 'w');
  // by itself to its end, whatever becomes of what is done beside it: a package half installed is worse than a command given up
  const child = spawn('sh', ['-c', `${install}; s=$?; ${ours ? `rm -f ${policy};` : ''} exit $s`], {
    stdio: ['ignore', to, to],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    detached: true,
  });
  closeSync(to);
  return new Promise((done) => {
    child.on('exit', (status) => {
      if (status !== 0 && !willDo)
        fail(
          `apt-get could not install ${missing.join(', ')}:\n${readFileSync(log, 'utf8').trim().split('\n').slice(-15).join('\n')}`,
        );
      say(
        status === 0
          ? `${missing.join(', ')}: there`
          : `${missing.join(', ')} could not be had; what is there serves as well`,
      );
      done();
    });
  });
}

const stampOf = (files) => {
  const h = createHash('sha256');
  for (const f of files) h.update(f).update(readFileSync(f));
  return h.digest('hex');
};
const stampHolds = (name, stamp) => {
  const file = join(KEEN, `${name}.stamp`);
  return existsSync(file) && readFileSync(file, 'utf8') === stamp;
};
const setStamp = (name, stamp) => writeFileSync(join(KEEN, `${name}.stamp`), stamp);

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { stdio: 'inherit', ...options });
  return done.status === 0;
}

/** `npm ci` when the lock file changed since the last one. */
export function needModules() {
  const stamp = stampOf(['package-lock.json']);
  if (existsSync('node_modules') && stampHolds('modules', stamp)) return;
  say('installing the packages of the lock file (a minute or two) …');
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { encoding: 'utf8' });
  if (done.status !== 0) fail(`npm ci failed:\n${(done.stderr || done.stdout).slice(-3000)}`);
  setStamp('modules', stamp);
}

function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((e) =>
    e.name === 'node_modules' || e.name === 'dist'
      ? []
      : e.isDirectory()
        ? filesBelow(join(folder, e.name))
        : [join(folder, e.name)],
  );
}

/** Builds packages and interface when a source changed. */
export function needBuild() {
  const folders = ['core', 'contract', 'demo', 'server', 'web', 'cli'];
  const stamp = stampOf(
    [
      ...folders.flatMap(filesBelow),
      'package-lock.json',
      'tsconfig.base.json',
      'data/deep-sky.json',
      'scripts/build.mjs',
    ]
      .filter((f) => !f.endsWith('.test.ts'))
      .sort(),
  );
  if (existsSync('web/dist/index.html') && existsSync('server/dist/main.js') && stampHolds('build', stamp)) return;
  say('building …');
  if (!run('node', ['scripts/build.mjs'])) fail('The build failed; the messages above say where.');
  setStamp('build', stamp);
}

/** The secret that signs session cookies, made once. */
export function cookieSecret() {
  const file = join(KEEN, 'secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

export const sizeOf = (file) => statSync(file).size;
