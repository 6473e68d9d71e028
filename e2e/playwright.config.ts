import { existsSync } from 'node:fs';
import { defineConfig } from '@playwright/test';

const PORT = 4655;
const executablePath =
  process.env.CHROMIUM_PATH ?? ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((p) => existsSync(p));

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  reporter: [['list']],
  timeout: 150_000,
  expect: { timeout: 30_000 },
  workers: 2,
  fullyParallel: true,
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    // Views are judged as they stand, not on their way.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath,
      // Software rendering; and none of the browser's own calls to the outside.
      args: [
        '--enable-unsafe-swiftshader',
        '--disable-quic',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ],
    },
  },
  webServer: {
    command: 'node ../server/dist/main.js',
    url: `http://localhost:${PORT}/`,
    env: { PORT: String(PORT) },
    reuseExistingServer: false,
  },
});
