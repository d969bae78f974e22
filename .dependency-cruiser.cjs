/** Arrows between packages and folders point one way; no circles. */
const crafts = [
  'balance',
  'train',
  'guiding',
  'dither',
  'focus',
  'exposure',
  'sequence',
  'season',
  'booking',
  'absences',
  'frames',
  'calibration',
  'exchange',
  'observatory',
  'run',
  'setup',
  'drills',
  'cables',
];
/** Craft folders another craft may use; all may use calculation, quantities, statistics, phrases, sky, rig, record. */
const allowed = {
  sequence: ['focus', 'dither'],
  season: ['exposure', 'sequence'],
  observatory: ['focus', 'sequence', 'dither'],
  run: ['focus', 'sequence', 'observatory'],
  exchange: [],
  frames: ['exchange'],
  guiding: ['exposure', 'train'],
  drills: ['balance', 'focus', 'frames', 'guiding', 'observatory'],
};
const common = ['calculation', 'quantities', 'statistics', 'phrases', 'sky', 'rig', 'record'];

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(contract|server|web|cli|demo)/' },
    },
    {
      name: 'contract-knows-core',
      severity: 'error',
      from: { path: '^contract/' },
      to: { path: '^(server|web|cli|demo)/' },
    },
    {
      name: 'demo-knows-core',
      severity: 'error',
      from: { path: '^demo/' },
      to: { path: '^(contract|server|web|cli)/' },
    },
    { name: 'server-not-web', severity: 'error', from: { path: '^server/' }, to: { path: '^(web|cli)/' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/' }, to: { path: '^(server|cli)/' } },
    {
      // what two phases of the day share lies in common
      name: 'phases-apart',
      severity: 'error',
      from: { path: '^web/src/phases/([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^web/src/phases/[^/]+/', pathNot: '^web/src/phases/$1/' },
    },
    {
      name: 'web-without-demo',
      severity: 'error',
      from: { path: '^web/', pathNot: '\\.test\\.ts$|^web/src/test/' },
      to: { path: '^demo/' },
    },
    {
      name: 'cli-knows-core',
      severity: 'error',
      from: { path: '^cli/' },
      to: { path: '^(contract|server|web|demo)/' },
    },
    {
      name: 'core-without-node',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$|^core/src/test/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'common-folders-know-no-craft',
      severity: 'error',
      from: { path: `^core/src/(${common.join('|')})/` },
      to: { path: `^core/src/(${crafts.join('|')})/` },
    },
    ...crafts.map((craft) => ({
      name: `${craft}-uses-only-its-own`,
      severity: 'error',
      from: { path: `^core/src/${craft}/`, pathNot: '\\.test\\.ts$' },
      to: {
        path: `^core/src/(${crafts.filter((c) => c !== craft && !(allowed[craft] ?? []).includes(c)).join('|')})/`,
      },
    })),
    {
      name: 'through-the-face',
      comment: 'another folder of core is used through its index',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^core/src/([^/]+)/', pathNot: ['^core/src/$1/', '/index\\.ts$'] },
    },
    {
      name: 'phases-share-through-common',
      comment: 'a phase may use the night folder’s composables; parts shared by all live in common',
      severity: 'error',
      from: { path: '^web/src/common/' },
      to: { path: '^web/src/phases/', pathNot: '^web/src/phases/phases\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      conditionNames: ['@keen/source', 'import', 'require', 'node', 'default'],
      exportsFields: ['exports'],
      extensions: ['.ts', '.vue', '.js', '.mjs', '.cjs', '.json'],
    },
  },
};
