// npm run mutants -- FOLDER: small wrong changes in the code of a folder, one at a time, against the tests that stand beside it. What survives is what no test sees.
const folder = process.env.MUTANTS_FOLDER ?? 'core/src/formats';

export default {
  testRunner: 'vitest',
  plugins: ['@stryker-mutator/vitest-runner'],
  vitest: { configFile: 'stryker.vitest.config.ts', related: false },
  mutate: [
    `${folder}/**/*.ts`,
    `!${folder}/**/*.test.ts`,
    `!${folder}/**/index.ts`,
    `!${folder}/**/*Trials.ts`,
    `!${folder}/**/test*.ts`,
  ],
  reporters: ['clear-text', 'progress-append-only'],
  clearTextReporter: { allowColor: false, reportTests: false, reportMutants: process.env.MUTANTS_TOLD === 'yes' },
  coverageAnalysis: 'perTest',
  concurrency: 2,
  timeoutMS: 20_000,
  tempDirName: '.cache/mutants',
  cleanTempDir: 'always',
  allowEmpty: true,
};
