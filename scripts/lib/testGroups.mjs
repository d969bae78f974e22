// Files of tests in groups, each group in one context: what they stand on is loaded, and made fast by the engine, once a group
// and not once a file. `npm test` runs them so; by themselves (`npm run jest -- …`) each file has a context of its own.
import { mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { KEEN, ROOT } from './environment.mjs';

const GROUPS = join(KEEN, 'test-groups');
/** By project of Jest: where its files are, and in how many groups. More than workers, so that none waits long for the last. */
const PROJECTS = {
  craft: {
    packages: ['core', 'contract', 'demo', 'cli', 'web'],
    is: (f) => !f.endsWith('.screen.test.ts'),
    groups: 8,
  },
  screens: {
    packages: ['web'],
    is: (f) => f.endsWith('.screen.test.ts'),
    groups: 6,
    // what is done after each test is done after each of every file
    first: ['web/src/test/mountScreen.ts'],
  },
  server: { packages: ['server'], is: () => true, groups: 6 },
};
/** Files that take longer than their size tells, with about as many bytes more as they do: only for groups of one length. */
const LONG = {
  'backup.test.ts': 60_000,
  'measure.test.ts': 40_000,
  'attacks.test.ts': 30_000,
  'examples.test.ts': 30_000,
  'supervision.test.ts': 25_000,
  'keen.test.ts': 20_000,
  'people.test.ts': 20_000,
  'drills.test.ts': 20_000,
  'claims.screen.test.ts': 20_000,
  'everyScreen.screen.test.ts': 20_000,
  'doors.test.ts': 15_000,
};
/** Files that stay alone: what they watch is the turns that others leave them in one process. */
const ALONE = new Set(['othersWait.test.ts']);
const weight = (f) => statSync(join(ROOT, f)).size + (LONG[basename(f)] ?? 0);
const filesOf = ({ packages, is }) =>
  packages
    .flatMap((p) => readdirSync(join(ROOT, p, 'src'), { recursive: true }).map((f) => `${p}/src/${f}`))
    .filter((f) => f.endsWith('.test.ts') && is(f));

/** One file after the other, each in a block of its own: its hooks are for its tests alone. */
const together = (files, first = []) => `import { describe } from '@jest/globals';

const symbol = Object.getOwnPropertySymbols(globalThis).find((s) => s.description === 'JEST_STATE_SYMBOL');
const state = (globalThis as never)[symbol as never] as { currentDescribeBlock: unknown };
const load = async (name: string, file: () => Promise<unknown>) => {
  const outside = state.currentDescribeBlock;
  let inside: unknown;
  describe(name, () => void (inside = state.currentDescribeBlock));
  state.currentDescribeBlock = inside;
  await file();
  state.currentDescribeBlock = outside;
};
${first.map((f) => `await import('../../${f}');`).join('\n')}
${files.map((f) => `await load('${f}', () => import('../../${f}'));`).join('\n')}
`;

/** Writes the groups, about as long as each other; those that put another module in a module's place stay alone. */
export function writeGroups() {
  rmSync(GROUPS, { recursive: true, force: true });
  mkdirSync(GROUPS, { recursive: true });
  for (const [project, of] of Object.entries(PROJECTS)) {
    const files = filesOf(of).map((f) => ({ f, size: weight(f) }));
    const alone = ({ f }) => ALONE.has(basename(f)) || /unstable_mockModule/.test(readFileSync(join(ROOT, f), 'utf8'));
    const groups = Array.from({ length: of.groups }, () => ({ size: 0, files: [] }));
    for (const { f, size } of files.filter((x) => !alone(x)).sort((a, b) => b.size - a.size)) {
      const least = groups.reduce((a, b) => (b.size < a.size ? b : a));
      least.files.push(f);
      least.size += size;
    }
    const all = [...groups.map((g) => g.files), ...files.filter(alone).map(({ f }) => [f])];
    all.forEach((g, i) => writeFileSync(join(GROUPS, `${project}-${i + 1}.test.ts`), together(g, of.first)));
  }
}
