#!/usr/bin/env node
// The keen command as one built file: it loads in a third of the time the sources take. Built when a source is newer.
import { existsSync, readdirSync, renameSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '../..');
const built = join(root, 'cli/dist/keen.mjs');

/** Whether anything below a folder (or a file itself) changed after a moment [ms]. */
function changedAfter(path, ms) {
  if (!existsSync(path)) return false;
  const s = statSync(path);
  if (s.mtimeMs > ms) return true;
  return (
    s.isDirectory() &&
    readdirSync(path).some((name) => !name.endsWith('.test.ts') && changedAfter(join(path, name), ms))
  );
}
const since = existsSync(built) ? statSync(built).mtimeMs : 0;
const sources = ['core/src', 'cli/src', 'package-lock.json', 'cli/bin/keen.mjs'].map((p) => join(root, p));
if (sources.some((p) => changedAfter(p, since))) {
  if (!existsSync(join(root, 'node_modules')))
    throw new Error('The packages are not installed yet: run `npm ci` (or `npm start`) once.');
  process.stderr.write('building …\n');
  const { build } = await import('vite');
  // each to a name of its own, then in place at once: two that build at the same time do not meet
  const mine = `keen-${process.pid}.mjs`;
  await build({
    root,
    configFile: false,
    logLevel: 'error',
    resolve: { conditions: ['@keen/source'] },
    ssr: { noExternal: true, external: ['highs'], resolve: { conditions: ['@keen/source'] } },
    build: {
      ssr: 'cli/src/keen.ts',
      outDir: 'cli/dist',
      emptyOutDir: false,
      copyPublicDir: false,
      minify: false,
      rollupOptions: { output: { format: 'es', entryFileNames: mine } },
    },
  });
  renameSync(join(root, 'cli/dist', mine), built);
}
await import(built);
