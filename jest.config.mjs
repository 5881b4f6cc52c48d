/** @type {import('jest').Config} */
const config = {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/test', '<rootDir>/bench', '<rootDir>/packages'],
  testMatch: ['**/*.test.ts'],
  setupFilesAfterEnv: ['<rootDir>/test/quick-expect.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '<rootDir>/scripts/jest-transform.mjs',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } }, module: { type: 'es6' } },
    ],
  },
  // what was compiled stays, wherever the tests keep their folders
  cacheDirectory: '<rootDir>/dist/jest',
  // no speed is tested here: a shared machine can be several times as slow for minutes
  testTimeout: 240_000 * Math.max(1, Number(process.env.PAPER_COMPASS_TIMES ?? 1)),
  // modules of past suites stay in a process; a heap that is nearly full makes the next ten times as slow
  workerIdleMemoryLimit: '600MB',
  // the browser tests are Playwright's
  testPathIgnorePatterns: ['/node_modules/', '/test/browser/'],
}

export default config
