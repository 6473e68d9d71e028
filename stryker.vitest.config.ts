import { defineConfig } from 'vitest/config';

const folder = process.env.MUTANTS_FOLDER ?? 'core/src/formats';

// The tests that stand beside what is mutated; those of a whole run would see more, and take longer than anyone waits.
export default defineConfig({
  test: { include: [`${folder}/**/*.test.ts`], testTimeout: 60_000, pool: 'threads', maxWorkers: 1 },
});
