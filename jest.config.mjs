import { SWC } from './scripts/jest-ts.mjs';
import { TOOLKIT } from './scripts/lib/toolkit.mjs';

const shared = {
  testEnvironment: '<rootDir>/scripts/jest-node.mjs',
  testEnvironmentOptions: { customExportConditions: ['@keen/source', 'node', 'node-addons'] },
  extensionsToTreatAsEsm: ['.ts'],
  transform: { '^.+\\.ts$': ['@swc/jest', SWC] },
};

// what a screen or a server stands on is tested by itself: here it comes in a few files instead of hundreds
const bundle = '<rootDir>/.keen/test-bundle';
const bundled = {
  '^@keen/(core|contract|demo)$': `${bundle}/$1.mjs`,
  '^zod$': `${bundle}/zod.mjs`,
  '^@keen/core/(.*)$': `${bundle}/core-$1.mjs`,
};

const toolkit = Object.fromEntries(
  Object.entries(TOOLKIT).map(([name, module]) => [`^${module}$`, `${bundle}/screens/${name}.mjs`]),
);

/** `npm test` runs files in groups (scripts/lib/testGroups.mjs). */
const files = (project, each) => [
  process.env.KEEN_GROUPED === '1' ? `<rootDir>/.keen/test-groups/${project}-*.test.ts` : `<rootDir>/${each}`,
];
const doubles = '<rootDir>/web/src/test/doubles';

export default {
  // two busy cores are slow; a test that hangs is still found
  testTimeout: 60_000,
  maxWorkers: 2,
  projects: [
    {
      ...shared,
      displayName: 'craft',
      testMatch: files('craft', '{core,contract,demo,cli,web}/src/**/*.test.ts'),
      testPathIgnorePatterns: ['\\.screen\\.test\\.ts$'],
    },
    {
      ...shared,
      displayName: 'screens',
      testEnvironment: 'jsdom',
      testEnvironmentOptions: { customExportConditions: ['@keen/source', 'node', 'node-addons'] },
      extensionsToTreatAsEsm: ['.ts', '.vue'],
      transform: { '^.+\\.ts$': '<rootDir>/scripts/jest-ts.mjs', '^.+\\.vue$': '<rootDir>/scripts/jest-vue.mjs' },
      setupFiles: ['<rootDir>/web/src/test/plainStyles.mjs'],
      moduleNameMapper: {
        ...bundled,
        ...toolkit,
        // one double for every screen: of workers, of pictures measured in them, of charts and of what is offered as a file
        '^(?:\\.\\.?/)+workers/index\\.ts$': `${doubles}/worker.ts`,
        '^(?:\\.\\.?/)+workers/looking\\.ts$': `${doubles}/looking.ts`,
        '^(?:\\.\\.?/)+(?:common/)?download\\.ts$': `${doubles}/download.ts`,
        '^comlink$': `${doubles}/comlink.ts`,
        '^vue-chartjs$': `${doubles}/charts.ts`,
      },
      globalSetup: '<rootDir>/scripts/jest-screens.mjs',
      testMatch: files('screens', 'web/src/**/*.screen.test.ts'),
    },
    {
      ...shared,
      displayName: 'server',
      testMatch: files('server', 'server/src/**/*.test.ts'),
      moduleNameMapper: bundled,
      globalSetup: '<rootDir>/server/src/test/globalSetup.mjs',
      globalTeardown: '<rootDir>/server/src/test/globalTeardown.mjs',
    },
  ],
};
