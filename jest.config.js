const swc = [
  '@swc/jest',
  {
    jsc: {
      parser: { syntax: 'typescript', tsx: true },
      target: 'es2022',
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
];
const base = {
  transform: { '^.+\\.tsx?$': swc },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
  moduleNameMapper: { '^fast-check$': '<rootDir>/scripts/seeded-check.mjs' },
  rootDir: '.',
  modulePathIgnorePatterns: ['<rootDir>/.data', '<rootDir>/.build'],
};
export default {
  projects: [
    {
      ...base,
      displayName: 'unit',
      testMatch: ['<rootDir>/packages/**/*.test.ts', '<rootDir>/apps/web/**/*.test.ts', '<rootDir>/demo/**/*.test.ts'],
    },
    {
      ...base,
      displayName: 'page',
      testEnvironment: '<rootDir>/apps/web/src/testing/page-environment.mjs',
      setupFilesAfterEnv: ['<rootDir>/apps/web/src/testing/patience.ts'],
      testMatch: ['<rootDir>/apps/web/**/*.test.tsx'],
    },
    {
      ...base,
      displayName: 'server',
      testMatch: [
        '<rootDir>/apps/server/**/*.test.ts',
        '<rootDir>/apps/loom/**/*.test.ts',
        '<rootDir>/apps/stand-ins/**/*.test.ts',
        '<rootDir>/scripts/**/*.test.ts',
      ],
    },
    { ...base, displayName: 'browser', testMatch: ['<rootDir>/e2e/**/*.test.ts'] },
  ],
};
