/** Unit tests read the sources of every package (`source` condition), so no build is needed before them. */
export default {
  testMatch: ['<rootDir>/packages/*/src/**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  testEnvironment: 'node',
  setupFiles: ['<rootDir>/scripts/jest-setup.mjs'],
  // half of the time goes into sound, and both cores of a small machine can do that
  maxWorkers: 2,
  testTimeout: 120_000,
  testEnvironmentOptions: { customExportConditions: ['source', 'node'] },
  transform: {
    '\\.ts$': [
      '<rootDir>/scripts/jest-transform.cjs',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', decorators: true },
          transform: { legacyDecorator: true, useDefineForClassFields: false },
        },
        module: { type: 'es6' },
      },
    ],
  },
};
