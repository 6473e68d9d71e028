import { chromium } from '@playwright/test';
const [, , width = '1280', height = '800', theme = 'light'] = process.argv;
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const ctx = await browser.newContext({
  viewport: { width: +width, height: +height },
  colorScheme: theme === 'night' ? 'dark' : 'light',
});
const page = await ctx.newPage();
page.on('pageerror', (e) => console.log('pageerror:', e.message));
page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()));
await page.goto('http://localhost:4700/');
await page.waitForURL(/\/bench\/.+\/cut$/);
await page.waitForTimeout(2500);
await page.getByRole('link', { name: 'Dress' }).click();
await page.waitForTimeout(800);
await page.getByRole('radio', { name: 'Faces' }).click();
await page.mouse.click(780, 480);
await page.waitForTimeout(500);
await page.getByRole('button', { name: 'Tie holes' }).click();
await page.waitForTimeout(1200);
await page.getByRole('combobox', { name: 'Ties' }).click();
await page.getByRole('option', { name: 'to the corners' }).click();
await page.waitForTimeout(1200);
await page.getByRole('radio', { name: 'Edges' }).click();
await page.getByRole('combobox', { name: 'How they are picked' }).selectOption('box');
await page.mouse.move(600, 330);
await page.mouse.down();
await page.mouse.move(700, 420, { steps: 4 });
await page.mouse.move(800, 510, { steps: 4 });
await page.waitForTimeout(300);
await page.screenshot({ path: '/tmp/d4.png' });
await page.mouse.up();
await page.waitForTimeout(900);
await page.getByRole('button', { name: 'Keep', exact: true }).click();
await page.waitForTimeout(600);
await page.screenshot({ path: '/tmp/d5.png' });
await browser.close();
