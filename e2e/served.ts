import { chromium, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import path from 'node:path';
import config from './playwright.config.ts';

export const ROOT = path.join(import.meta.dirname, '..');

/**
 * Serves the built application and opens a browser on it, for scripts that are no tests; all is ended when `use` is
 * through.
 */
export async function served(
  port: number,
  use: (newPage: (colorScheme: 'light' | 'dark') => Promise<Page>) => Promise<void>,
  args: readonly string[] = [],
): Promise<void> {
  const server = spawn('node', ['server/dist/main.js'], {
    cwd: ROOT,
    env: { ...process.env, PORT: `${port}` },
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  });
  await new Promise((resolve) => server.stdout.once('data', resolve));
  const launch = config.use?.launchOptions;
  const browser = await chromium.launch({ ...launch, args: [...(launch?.args ?? []), ...args] });
  try {
    await use((colorScheme) =>
      browser.newPage({ baseURL: `http://localhost:${port}`, viewport: { width: 1280, height: 800 }, colorScheme }),
    );
  } finally {
    await browser.close();
    process.kill(-server.pid!);
  }
}
