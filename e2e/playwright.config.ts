import { defineConfig } from '@playwright/test';
import { THOROUGH } from '../core/src/test/rounds.ts';
import { browserPath } from '../scripts/lib/environment.mjs';
import { DEMO_PORTS, READY_PORT } from './ports.mjs';

/** Drives the built application with Debian's Chromium against the real server and a private MariaDB. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.e2e.ts',
  // what repeats, through the page, what components and server are held to by themselves
  grepInvert: THOROUGH ? undefined : /@thorough/,
  outputDir: '../test-results',
  // each has a server and a database of its own; the walks of one file stay in their order
  workers: DEMO_PORTS.length,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : [['list']],
  use: {
    testIdAttribute: 'data-test',
    // colours and places are judged as they stand, not on their way
    contextOptions: { reducedMotion: 'reduce' },
    viewport: { width: 1280, height: 800 },
    actionTimeout: 15_000,
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: browserPath(),
      // people see scroll bars, and they take room and light
      ignoreDefaultArgs: ['--hide-scrollbars'],
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: 'node e2e/server.mjs',
    cwd: '..',
    url: `http://127.0.0.1:${READY_PORT}`,
    // on a machine a tenth as fast
    timeout: 240_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 8000 },
  },
});
