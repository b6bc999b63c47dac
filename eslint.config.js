import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';

const SWALLOWED = {
  selector:
    "CallExpression[callee.property.name='catch'] > ArrowFunctionExpression[body.type=/^(Identifier|Literal|ArrayExpression|ObjectExpression)$/]",
  message: 'No error is swallowed: it is handled, logged, or told to whoever awaits it (awaitedLater).',
};

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
      'max-len': ['error', { code: 160, ignoreUrls: true }],
    },
  },
  {
    // A promise that nobody waits for and nobody listens to ends the process when it fails.
    files: ['apps/**/*.{ts,tsx}', 'demo/**/*.ts', 'bench/**/*.ts', 'scripts/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: { '@typescript-eslint/no-floating-promises': 'error' },
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
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    ignores: ['apps/web/src/app/keys.ts', '**/*.test.*'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "Property[key.name='queryKey'] > ArrayExpression",
          message: 'Keys of queries are made in app/keys.ts, so that what a change touches follows from them.',
        },
      ],
    },
  },
  {
    files: ['apps/server/**/*.ts', 'packages/**/*.ts', 'apps/loom/**/*.ts', 'scripts/**/*.ts'],
    ignores: ['**/*.test.ts', '**/testing/**'],
    rules: { 'no-restricted-syntax': ['error', SWALLOWED] },
  },
  {
    files: ['apps/server/src/{book,connectors,features}/**/*.ts'],
    ignores: ['**/statements/*', '**/*.test.ts', '**/testing/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        SWALLOWED,
        {
          selector: "CallExpression[callee.property.name='query'], CallExpression[callee.name='selectRecords']",
          message: 'Hand-written SQL stands in the statements folder of its room.',
        },
      ],
    },
  },
);
