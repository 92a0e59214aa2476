const toCommonJs = {
  jsc: {
    parser: { syntax: 'typescript', decorators: true },
    transform: { legacyDecorator: true, decoratorMetadata: true },
    target: 'es2022',
    keepClassNames: true,
  },
  module: { type: 'commonjs' },
};

/** The same for files with components in them. */
const withComponents = ({ jsc, ...rest }) => ({
  ...rest,
  jsc: {
    ...jsc,
    parser: { ...jsc.parser, tsx: true },
    transform: { ...jsc.transform, react: { runtime: 'automatic' } },
  },
});

const base = {
  testEnvironment: 'node',
  // Looked up in the sandbox's global object each of these costs a call: signal code would be ten times as slow.
  sandboxInjectedGlobals: ['Math', 'Number', 'Array', 'Object', 'Float32Array', 'Float64Array', 'Uint8Array'],
  transform: { '^.+\\.m?[jt]s$': ['@swc/jest', toCommonJs] },
  moduleNameMapper: {
    '^@jarro/core$': '<rootDir>/packages/core/src/index.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
};

export default {
  // A test asks whether something is right; how long it takes is measured by `npm run bench`. A machine ten times
  // slower than the developer's must not fail a test by the clock, so the limit only ends what hangs.
  testTimeout: 300_000,
  projects: [
    { ...base, displayName: 'core', testMatch: ['<rootDir>/packages/core/test/**/*.test.ts'] },
    {
      ...base,
      displayName: 'web',
      testMatch: ['<rootDir>/apps/web/test/**/*.test.ts'],
      transformIgnorePatterns: ['/node_modules/(?!uuid/)'],
    },
    {
      ...base,
      displayName: 'screens',
      testEnvironment: '<rootDir>/apps/web/test/support/page-environment.mjs',
      setupFilesAfterEnv: ['@testing-library/jest-dom', '<rootDir>/apps/web/test/support/waits.ts'],
      testMatch: ['<rootDir>/apps/web/test/screens/**/*.test.tsx'],
      transform: { ...base.transform, '^.+\\.tsx$': ['@swc/jest', withComponents(toCommonJs)] },
      transformIgnorePatterns: ['/node_modules/(?!uuid/)'],
    },
    { ...base, displayName: 'scripts', testMatch: ['<rootDir>/scripts/test/**/*.test.ts'] },
    { ...base, displayName: 'cli', testMatch: ['<rootDir>/apps/cli/test/**/*.test.ts'] },
    {
      ...base,
      displayName: 'server',
      testMatch: ['<rootDir>/apps/server/test/**/*.test.ts'],
      // Nest and some of its parts are ES modules only.
      transformIgnorePatterns: [
        '/node_modules/(?!(@nestjs|file-type|strtok3|token-types|uint8array-extras|@tokenizer|@borewit|load-esm|iterare|uid|p-limit|yocto-queue)/)',
      ],
    },
  ],
};
