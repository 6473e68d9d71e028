// npm run mutants -- FOLDER: small wrong changes in the code of a folder, one at a time, against the tests that stand
// beside it. What survives is what no test sees.
export default {
  testRunner: 'vitest',
  plugins: ['@stryker-mutator/vitest-runner'],
  vitest: { configFile: 'stryker.vitest.config.ts', related: false },
  reporters: ['clear-text', 'progress-append-only'],
  clearTextReporter: { allowColor: false, reportTests: false, reportMutants: process.env.MUTANTS_TOLD === 'yes' },
  coverageAnalysis: 'perTest',
  // Changes in what runs once, as a module is loaded, would each take all tests of the folder.
  ignoreStatic: true,
  concurrency: 2,
  timeoutMS: 5_000,
  tempDirName: '.cache/mutants',
  cleanTempDir: 'always',
  allowEmpty: true,
};
