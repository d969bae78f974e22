// The packages below an interface or a server, each a few files instead of hundreds, for tests that only use them: every
// test file loads them anew, and the workers of every test server too.
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { rolldown } from 'rolldown';
import { KEEN, ROOT } from './environment.mjs';
import { OWN_GLOBALS } from '../jest-ts.mjs';

export const BUNDLE = join(KEEN, 'test-bundle');
const areas = readdirSync(join(ROOT, 'core/src'), { withFileTypes: true })
  .filter((e) => e.isDirectory() && e.name !== 'test')
  .map((e) => e.name);

/** Packages of the core come in with it; those of the server stay where they are. */
const inside = Object.keys(JSON.parse(readFileSync(join(ROOT, 'core/package.json'), 'utf8')).dependencies);

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

/** Writes the bundle anew; half a second. */
export async function bundlePackages() {
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
