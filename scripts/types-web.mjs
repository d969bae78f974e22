// Types of the page: each component becomes the TypeScript its template and script mean, and all of it is checked by the native
// compiler, which is told of no components itself. What it finds is said at its place in the component.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join, relative } from 'node:path';
import { KEEN, ROOT } from './lib/environment.mjs';

const require = createRequire(import.meta.url);
const ts = require('typescript');
const core = require('@vue/language-core');

const SOURCES = join(ROOT, 'web/src');
const OUT = join(KEEN, 'web-types');
rmSync(OUT, { recursive: true, force: true });

const { options, vueOptions } = core.createParsedCommandLine(ts, ts.sys, join(ROOT, 'web/tsconfig.json'));
const plugin = core.createVueLanguagePlugin(ts, options, vueOptions, (id) => id);
const language = core.createLanguage([plugin], new Map(), () => undefined);

/** What was written for each component, by its path below the root. */
const written = new Map();
for (const name of readdirSync(SOURCES, { recursive: true }).filter((f) => f.endsWith('.vue'))) {
  const file = join(SOURCES, name);
  const source = readFileSync(file, 'utf8');
  const { generated } = language.scripts.set(file, ts.ScriptSnapshot.fromString(source), 'vue');
  for (const code of core.forEachEmbeddedCode(generated.root)) {
    if (!/^script_(?:ts|js)$/.test(code.id)) continue;
    const out = join(OUT, 'src', `${name}.${code.id.slice('script_'.length)}`);
    const text = code.snapshot.getText(0, code.snapshot.getLength());
    mkdirSync(dirname(out), { recursive: true });
    // the helpers are named from where the component stands; that is on lines of their own
    const near = (path) => relative(dirname(out), join(dirname(file), path));
    const moved = text.replace(/(<reference types=")(\.[^"]+)/g, (_, head, path) => head + near(path));
    writeFileSync(out, moved);
    written.set(relative(ROOT, out), { file: relative(ROOT, file), source, text, code });
  }
}
if (!written.size) throw new Error('No component was found below web/src.');
const up = relative(OUT, ROOT);
writeFileSync(
  join(OUT, 'tsconfig.json'),
  JSON.stringify({
    extends: `${up}/web/tsconfig.json`,
    compilerOptions: {
      // a component is found where it stands, though it was written here
      rootDirs: [`${up}/web/src`, './src'],
      typeRoots: [`${up}/node_modules/@types`, `${up}/node_modules`],
    },
    include: [`${up}/web/src`, './src', `${up}/web/vite.config.ts`],
  }),
);

const offsetOf = (text, line, column) =>
  text
    .split('\n')
    .slice(0, line - 1)
    .join('\n').length +
  (line > 1 ? 1 : 0) +
  column -
  1;
const placeOf = (text, offset) => {
  const lines = text.slice(0, offset).split('\n');
  return [lines.length, lines.at(-1).length + 1];
};
/** Where in the component something found in what was written for it stands; null where it is about what was added. */
function inComponent({ text, source, code }, line, column, number) {
  const at = offsetOf(text, line, column);
  for (const m of code.mappings) {
    const report = m.data.verification;
    if (!report || (typeof report === 'object' && report.shouldReport && !report.shouldReport('ts', number))) continue;
    for (const [i, from] of m.generatedOffsets.entries()) {
      const length = (m.generatedLengths ?? m.lengths)[i];
      if (at >= from && at <= from + length)
        return placeOf(source, m.sourceOffsets[i] + Math.min(at - from, m.lengths[i]));
    }
  }
  return null;
}

const compiler = join(ROOT, 'node_modules/typescript-native/bin/tsc');
const done = spawnSync(
  process.execPath,
  // several threads check much of it several times over, and other checks run beside this one
  [compiler, '--noEmit', '--singleThreaded', '--pretty', 'false', '-p', join(OUT, 'tsconfig.json')],
  {
    cwd: ROOT,
    encoding: 'utf8',
    maxBuffer: 1e9,
  },
);
let found = 0;
/** Whether the last finding was shown: further lines belong to it. */
let isShown = false;
for (const line of `${done.stdout}${done.stderr}`.split('\n').filter(Boolean)) {
  const m = /^(\S[^(]*)\((\d+),(\d+)\): error TS(\d+): /.exec(line);
  if (m) {
    const component = written.get(m[1]);
    const place = component ? inComponent(component, Number(m[2]), Number(m[3]), Number(m[4])) : [m[2], m[3]];
    isShown = place !== null;
    if (!isShown) continue;
    found++;
    console.log(`${component?.file ?? m[1]}(${place.join(',')}): ${line.slice(m[0].indexOf('error'))}`);
  } else {
    // of no file: the compiler’s own trouble
    if (!/^\s/.test(line)) {
      isShown = true;
      found++;
    }
    if (isShown) console.log(line);
  }
}
// whatever it did not say: an end that is no finding is not taken for good
if (done.status !== 0 && done.status !== 1 && done.status !== 2) found++;
process.exitCode = found ? 1 : 0;
