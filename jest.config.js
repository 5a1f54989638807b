/** Unit tests read the sources of every package (`source` condition), so no build is needed before them. */
export default {
  testMatch: ['<rootDir>/packages/*/src/**/*.test.ts?(x)'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
  setupFiles: ['<rootDir>/scripts/jest-setup.mjs'],
  // half of the time goes into sound, and both cores of a small machine can do that
  maxWorkers: 2,
  testTimeout: 120_000,
  testEnvironmentOptions: { customExportConditions: ['source', 'node'] },
  // a style sheet is not read: only that there is one
  moduleNameMapper: { '\\.css$': '<rootDir>/scripts/jest-styles.mjs' },
  transform: {
    '\\.tsx?$': [
      '<rootDir>/scripts/jest-transform.cjs',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', decorators: true, tsx: true },
          transform: { legacyDecorator: true, useDefineForClassFields: false, react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
};
