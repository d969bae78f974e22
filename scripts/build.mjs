// Compiles the packages and bundles the interface.
import { run } from './lib/environment.mjs';

if (!run('node', ['node_modules/typescript/bin/tsc', '-b'])) process.exit(1);
if (!run('node', ['../node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn'], { cwd: 'web' })) process.exit(1);
