// The packages below an interface or a server, each a few files instead of hundreds, for tests that only use them: every
// test file loads them anew, and the workers of every test server too.
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { rolldown } from 'rolldown';
import { KEEN, ROOT } from './environment.mjs';
import { OWN_GLOBALS, ownGlobals } from '../jest-ts.mjs';
import { TOOLKIT } from './toolkit.mjs';

export const BUNDLE = join(KEEN, 'test-bundle');
const areas = readdirSync(join(ROOT, 'core/src'), { withFileTypes: true })
  .filter((e) => e.isDirectory() && e.name !== 'test')
  .map((e) => e.name);

/** Looks for a file beside itself. */
const STAYS = ['highs'];
/** Packages of the core come in with it; those of the server stay where they are. */
const inside = Object.keys(JSON.parse(readFileSync(join(ROOT, 'core/package.json'), 'utf8')).dependencies).filter(
  (p) => !STAYS.includes(p),
);

/** What is bundled, by its name in the bundle. */
const ENTRIES = {
  core: 'core/src/index.ts',
  ...Object.fromEntries(areas.map((name) => [`core-${name}`, `core/src/${name}/index.ts`])),
  contract: 'contract/src/index.ts',
  demo: 'demo/src/index.ts',
  // one of it for all, or what the one checked the other would not know
  zod: 'node_modules/zod/index.js',
  worker: 'server/src/areas/calculations/worker.ts',
  template: 'server/src/test/template.ts',
};

/** Writes the bundle anew; half a second. Two projects of tests ask for it, and it is made once for both. */
export const bundlePackages = () => (globalThis.keenBundle ??= bundle());
async function bundle() {
  rmSync(BUNDLE, { recursive: true, force: true });
  const build = await rolldown({
    input: Object.fromEntries(Object.entries(ENTRIES).map(([name, file]) => [name, join(ROOT, file)])),
    platform: 'node',
    external: (id) => !/^([./]|@keen\/)/.test(id) && !inside.some((p) => id === p || id.startsWith(`${p}/`)),
    resolve: { conditionNames: ['@keen/source', 'node', 'import'] },
    logLevel: 'warn',
  });
  await build.write({
    dir: BUNDLE,
    format: 'esm',
    // as jest-ts.mjs does for a file by itself
    banner: OWN_GLOBALS,
    entryFileNames: '[name].mjs',
    chunkFileNames: 'part-[hash].mjs',
  });
  await build.close();
}

/** The icons that some screen shows; the package's face has eight hundred. */
function iconsOfScreens() {
  const names = new Set();
  for (const file of readdirSync(join(ROOT, 'web/src'), { recursive: true }).filter((f) => /\.(vue|ts)$/.test(f)))
    for (const [, list] of readFileSync(join(ROOT, 'web/src', file), 'utf8').matchAll(
      /import \{([^}]+)\} from '@ant-design\/icons-vue'/g,
    ))
      for (const name of list.split(',')) if (name.trim()) names.add(name.trim());
  return [...names].map((n) => `export { default as ${n} } from '@ant-design/icons-vue/es/icons/${n}.js';`).join('\n');
}
/** Without what no test of a screen looks at. */
const asTested = {
  name: 'as-tested',
  resolveId: (id) => (id === 'icons' ? '\0icons' : null),
  load: (id) => {
    if (id === '\0icons') return { code: iconsOfScreens(), moduleType: 'js' };
    // the toolkit writes its rules of style as it renders: a quarter of the time of the tests
    if (/cssinjs\/hooks\/useStyleRegister\/index\.js$/.test(id))
      return `export default () => (node) => node;
        export const extractStyle = () => '', parseStyle = () => ['', {}], normalizeStyle = (s) => s, _cf = undefined;`;
    return null;
  },
  // but those that some library calls its own
  renderChunk: (code) =>
    ownGlobals((name) => !new RegExp(`(?:var|let|const|class|function|,) ${name}\\b`).test(code)) + code,
  // what a component sends is seen through the door for developers' tools
  transform: (code, id) => (id.includes('@vue/runtime-core') ? code.replaceAll('__VUE_PROD_DEVTOOLS__', 'true') : null),
};

/** Writes anew what the screens are made with: as it is in use, and not as it is while one writes it, which takes twice as long. */
export async function bundleToolkit() {
  const build = await rolldown({
    // the toolkit itself takes icons from their package's face
    input: { ...TOOLKIT, icons: 'icons' },
    cwd: join(ROOT, 'web'),
    platform: 'browser',
    external: (id) => /^(dayjs|chart\.js)(\/|$)|^(js-beautify|vue-component-type-helpers|node:.*|stream)$/.test(id),
    plugins: [asTested],
    transform: {
      define: {
        'process.env.NODE_ENV': '"production"',
        __VUE_OPTIONS_API__: 'true',
        __VUE_PROD_DEVTOOLS__: 'false',
        __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
      },
    },
    resolve: { mainFields: ['module', 'main'] },
    logLevel: 'warn',
  });
  await build.write({
    dir: join(BUNDLE, 'screens'),
    format: 'esm',
    entryFileNames: '[name].mjs',
    chunkFileNames: 'part-[hash].mjs',
  });
  await build.close();
}
