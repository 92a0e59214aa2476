import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

/** Imports run one way: core <- cli, server, web; no application reaches into another. */
const apart = (...groups) => ({
  'no-restricted-imports': ['error', { patterns: groups.map((group) => ({ group: [group] })) }],
});

/** Folders of the core, lowest first: each line imports only from lines above it. */
const CORE_LAYERS = [
  ['terms', 'units', 'limits', 'signal'],
  ['capture', 'rules', 'vehicle'],
  ['formats', 'measure', 'physics', 'intake'],
  ['evidence', 'sums', 'simulate'],
  ['inference', 'pressure'],
  ['verdict'],
  ['planner'],
  ['casework'],
];
const CORE_APART = ['@jarro/*', 'node:*', '**/apps/**'];
const layered = CORE_LAYERS.flatMap((layer, level) =>
  layer.map((folder) => {
    const above = CORE_LAYERS.slice(level)
      .flat()
      .filter((other) => other !== folder);
    return {
      files: [`packages/core/src/${folder}/**`],
      rules: apart(...CORE_APART, ...above.flatMap((other) => [`../${other}/*`, `../../${other}/*`])),
    };
  }),
);

export default defineConfig(
  { ignores: ['**/dist', '.jarro', 'test-results'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx,cts}'],
    // What only types can tell, an unawaited promise for one, is in .oxlintrc.json: read with the compiler of the builds
    // it takes a tenth of the time.
    extends: [tseslint.configs.recommended],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
  {
    files: ['**/test/**/*.{ts,tsx}'],
    // Assertions on what may be absent read better than guards in tests.
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  // What is required by threads says so in TypeScript's own way.
  { files: ['**/*.cts'], rules: { '@typescript-eslint/no-require-imports': ['error', { allowAsImport: true }] } },
  { files: ['packages/core/src/**'], rules: apart(...CORE_APART) },
  ...layered,
  { files: ['apps/cli/**'], rules: apart('@jarro/server', '@jarro/web') },
  {
    files: ['apps/server/**'],
    rules: {
      ...apart('@jarro/cli', '@jarro/web'),
      // Nest reads constructor types at run time, so imports that look type-only are not.
      '@typescript-eslint/consistent-type-imports': 'off',
    },
  },
  { files: ['apps/web/**'], rules: apart('@jarro/server', '@jarro/cli', 'node:*') },
  { files: ['apps/web/src/**'], extends: [reactHooks.configs.flat['recommended-latest']] },
  { files: ['**/vite.config.ts'], rules: { 'no-restricted-imports': 'off' } },
  {
    files: ['**/*.{js,mjs}'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
      },
    },
  },
);
