import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';

export default tseslint.config(
  {
    ignores: [
      'node_modules',
      '.data',
      '.build',
      'apps/web/dist',
      'apps/server/src/db/migrations',
      '**/*.cjs',
      '**/*.mjs',
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-restricted-globals': ['error', 'event'],
      eqeqeq: ['error', 'smart'],
      'no-console': 'error',
    },
  },
  {
    // The core is pure: the clock and randomness come in as arguments.
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'packages/core/src/testing/**'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness comes in as an argument.' },
        { object: 'Date', property: 'now', message: 'The clock comes in as an argument.' },
      ],
      'no-restricted-imports': ['error', { patterns: ['node:*', 'react*', 'pg', 'drizzle*'] }],
    },
  },
  { files: ['apps/web/**/*.{ts,tsx}'], ...reactHooks.configs.flat['recommended-latest'] },
);
