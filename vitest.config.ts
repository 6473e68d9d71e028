import { defineConfig } from 'vitest/config';
import vue from '@vitejs/plugin-vue';

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['core/src/**/*.test.ts', 'server/src/**/*.test.ts', 'web/src/**/*.test.ts', 'eslint/*.test.ts'],
    testTimeout: 60_000,
    pool: 'threads',
    maxWorkers: 2,
  },
});
