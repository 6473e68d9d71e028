import { defineConfig } from 'vitest/config';
import vue from '@vitejs/plugin-vue';

export default defineConfig({
  plugins: [vue()],
  test: {
    testTimeout: 60_000,
    pool: 'threads',
    maxWorkers: 2,
    projects: [
      // The core keeps no state that one test could leave to another: its modules are read once, which halves the time.
      { extends: true, test: { name: 'core', include: ['core/src/**/*.test.ts'], isolate: false } },
      {
        extends: true,
        test: { name: 'others', include: ['server/src/**/*.test.ts', 'web/src/**/*.test.ts', 'eslint/*.test.ts'] },
      },
    ],
  },
});
