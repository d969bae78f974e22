// Writes the packages as JavaScript and bundles the interface, both at once. Types are checked by `npm run types`.
import { spawn } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { dirname, join, relative } from 'node:path';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { transformFile } from '@swc/core';
import { ROOT } from './lib/environment.mjs';

const PACKAGES = ['core', 'contract', 'demo', 'server', 'cli'];

/** One file without its types, beside a map back to it. */
async function write(source, target) {
  const { code, map } = await transformFile(source, {
    swcrc: false,
    sourceMaps: true,
    sourceFileName: relative(dirname(target), source),
    module: { type: 'es6' },
    jsc: { target: 'es2022', parser: { syntax: 'typescript' }, rewriteRelativeImportExtensions: true },
  });
  mkdirSync(dirname(target), { recursive: true });
  const name = target.split('/').at(-1);
  writeFileSync(target, `${code}\n//# sourceMappingURL=${name}.map\n`);
  writeFileSync(`${target}.map`, map);
}
const sourcesOf = (p) =>
  readdirSync(join(ROOT, p, 'src'), { recursive: true }).filter((f) => /(?<!\.test|\.d)\.ts$/.test(f));

const bundle = new Promise((done) =>
  spawn(process.execPath, ['../node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn'], {
    cwd: join(ROOT, 'web'),
    stdio: 'inherit',
  }).on('exit', (code) => done(code === 0)),
);
for (const p of PACKAGES) {
  const [src, dist] = [join(ROOT, p, 'src'), join(ROOT, p, 'dist')];
  mkdirSync(dist, { recursive: true });
  const files = sourcesOf(p).map((f) => f.replace(/\.ts$/, '.js'));
  await Promise.all(files.map((f) => write(join(src, f.replace(/\.js$/, '.ts')), join(dist, f))));
  // what an earlier version left; declarations belong to the type check
  const written = new Set(files.flatMap((f) => [f, `${f}.map`]));
  for (const f of readdirSync(dist, { recursive: true }))
    if (/\.js(\.map)?$/.test(f) && !written.has(f)) rmSync(join(dist, f));
}
if (!(await bundle)) process.exit(1);

// what every browser asks for is packed once, not at each request
const pack = promisify(gzip);
const assets = join(ROOT, 'web/dist/assets');
const packed = [
  ...readdirSync(assets)
    .filter((f) => /\.(js|css)$/.test(f))
    .map((f) => join(assets, f)),
  join(ROOT, 'data/deep-sky.json'),
];
await Promise.all(packed.map(async (f) => writeFile(`${f}.gz`, await pack(await readFile(f), { level: 9 }))));
