const core = (rooms) => `^packages/core/src/(${rooms})/`;
const room = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: core(from), pathNot: '\\.test\\.ts$' },
  to: { path: core(to) },
});
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    room(
      'model-stands-alone',
      'model',
      'fields|formats|writing|matching|quality|mapping|merging|segments|syncing|testing',
    ),
    room(
      'fields-know-model-only',
      'fields',
      'formats|writing|matching|quality|mapping|merging|segments|syncing|testing',
    ),
    ...['formats', 'writing', 'matching', 'quality'].map((a, _, all) =>
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
