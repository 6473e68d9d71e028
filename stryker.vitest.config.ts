import { defineConfig } from 'vitest/config';

// The room of what is mutated: core/src/carve for core/src/carve/kernel.
const room = (process.env.MUTANTS_FOLDER ?? 'core/src/formats').split('/').slice(0, 3).join('/');

// The tests that stand beside what is mutated; those of a whole run would see more, and take longer than anyone waits.
export default defineConfig({
  test: {
    setupFiles: ['stryker.setup.ts'],
    include: [`${room}/**/*.test.ts`],
    testTimeout: 60_000,
    pool: 'threads',
    maxWorkers: 1,
  },
});
