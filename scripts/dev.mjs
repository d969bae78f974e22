// npm run dev: database, server that restarts on change, interface with hot reload.
import { spawn } from 'node:child_process';
import { privateDatabase } from './lib/database.mjs';
import { cookieSecret, needModules, needPackages, ROOT, say } from './lib/environment.mjs';

const packages = needPackages([['mariadbd', 'mariadb-server']]);
needModules();
await packages;
const database = await privateDatabase();
const env = {
  ...process.env,
  KEEN_DATABASE_URL: database.url,
  KEEN_SECRET: cookieSecret(),
  KEEN_PORT: '4310',
  KEEN_LOG: 'info',
  KEEN_CHECK_ANSWERS: '1',
};
const server = spawn(
  process.execPath,
  [
    '--watch-path=server/src',
    '--watch-path=core/src',
    '--watch-path=contract/src',
    '--import',
    'tsx',
    '--conditions=@keen/source',
    'server/src/main.ts',
  ],
  { cwd: ROOT, env, stdio: 'inherit' },
);
const web = spawn(process.execPath, ['../node_modules/vite/bin/vite.js'], {
  cwd: `${ROOT}/web`,
  env,
  stdio: 'inherit',
});
say('interface at http://127.0.0.1:5173, server at http://127.0.0.1:4310');
const stop = async () => {
  server.kill();
  web.kill();
  await database.stop();
  process.exit(0);
};
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stop());
