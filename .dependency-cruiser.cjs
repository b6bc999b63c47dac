const core = (rooms) => `^packages/core/src/(${rooms})/`;
const room = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: core(from), pathNot: '\\.test\\.ts$' },
  to: { path: core(to) },
});

const server = (path) => `^apps/server/src/${path}`;
const notTests = '(\\.test\\.ts$|/testing/)';
/** Rooms of the server, each of which may use those before it. What is in none of them puts the rooms together. */
const ROOMS = ['db', 'feed', 'runs', 'http', 'book', 'connectors', 'features'];
/** Features, each of which may use those before it, through their index. */
const FEATURES = [
  'people',
  'duplicates',
  'contacts',
  'segments',
  'opportunities',
  'activity',
  'setup',
  'accounts',
  'intake',
  'syncs',
  'erasing',
  'batch',
  'ledger',
  'worklist',
];
/** What stands beside the rooms and may be used by all of them. */
const BESIDE = '(config|log|secrets)\\.ts$';

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    room(
      'model-stands-alone',
      'model',
      'fields|activity|formats|writing|matching|quality|mapping|merging|segments|syncing|testing',
    ),
    room(
      'fields-know-model-only',
      'fields',
      'activity|formats|writing|matching|quality|mapping|merging|segments|syncing|testing',
    ),
    ...['activity', 'formats', 'writing', 'matching', 'quality'].map((a, _, all) =>
      room(
        `${a}-does-not-import-its-neighbours`,
        a,
        [...all.filter((b) => b !== a), 'mapping', 'merging', 'segments', 'syncing', 'testing'].join('|'),
      ),
    ),
    ...['mapping', 'merging', 'segments'].map((a, _, all) =>
      room(`${a}-does-not-import-its-neighbours`, a, [...all.filter((b) => b !== a), 'syncing', 'testing'].join('|')),
    ),
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^packages/core/', pathNot: '(\\.test\\.ts$|/testing/)' },
      to: { path: '^(packages/wire|apps|demo|e2e|bench|scripts)/|^node:', dependencyTypesNot: ['npm'] },
    },
    {
      name: 'wire-knows-core-only',
      severity: 'error',
      from: { path: '^packages/wire/' },
      to: { path: '^(apps|demo|e2e|bench)/' },
    },
    {
      name: 'web-never-imports-server',
      severity: 'error',
      from: { path: '^apps/web/' },
      to: { path: '^(apps/server|apps/stand-ins|apps/loom|demo|e2e|bench)/' },
    },
    {
      name: 'server-never-imports-web',
      severity: 'error',
      from: { path: '^apps/server/' },
      to: { path: '^(apps/web|apps/loom|e2e|bench)/' },
    },
    ...ROOMS.map((one, i) => ({
      name: `server-${one}-uses-lower-rooms-only`,
      severity: 'error',
      from: { path: server(`${one}/`), pathNot: notTests },
      to: { path: server(''), pathNot: [...ROOMS.slice(0, i + 1).map((lower) => server(`${lower}/`)), server(BESIDE)] },
    })),
    {
      name: 'a-feature-is-used-through-its-index',
      severity: 'error',
      from: { path: server('features/([^/]+)/'), pathNot: notTests },
      to: { path: server('features/([^/]+)/'), pathNot: [server('features/$1/'), '/index\\.ts$'] },
    },
    ...FEATURES.map((one, i) => ({
      name: `feature-${one}-uses-features-before-it-only`,
      severity: 'error',
      from: { path: server(`features/${one}/`), pathNot: notTests },
      to: {
        path: server('features/'),
        pathNot: FEATURES.slice(0, i + 1).map((before) => server(`features/${before}/`)),
      },
    })),
    {
      name: 'others-use-the-face-of-the-server',
      severity: 'error',
      from: { path: '^(apps/loom|demo|bench|scripts)/' },
      to: { path: server(''), pathNot: server('(face|testing/face)\\.ts$') },
    },
    {
      name: 'stand-ins-know-core-and-demo-only',
      severity: 'error',
      from: { path: '^apps/stand-ins/' },
      to: { path: '^(packages/wire|apps/(web|server|loom)|e2e|bench|scripts)/' },
    },
    {
      name: 'nothing-that-ships-imports-testing',
      severity: 'error',
      from: { pathNot: '(\\.test\\.tsx?$|/testing/|^e2e/|^bench/|^apps/stand-ins/)' },
      to: { path: '/testing/|^apps/stand-ins/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default'] },
  },
};
