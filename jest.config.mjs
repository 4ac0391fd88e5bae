const swc = { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' }, module: { type: 'es6' } };

export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/core', '<rootDir>/cli', '<rootDir>/server', '<rootDir>/web/src'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '\\.tsx?$|/(?:replicad-opencascadejs|clipper2-ts)/.*\\.js$': ['<rootDir>/scripts/jest-transform.mjs', swc] },
  // The kernel's glue code and polygon clipping are transformed too: they look up globals with each call.
  transformIgnorePatterns: ['/node_modules/(?!replicad-opencascadejs/|clipper2-ts/)'],
  // Two processes for two cores; within each, V8 shares the compiled kernel between the test files.
  globalSetup: '<rootDir>/scripts/jest-once.mjs',
  setupFiles: ['<rootDir>/scripts/jest-properties.mjs'],
  maxWorkers: 2,
  testTimeout: 120_000,
};
