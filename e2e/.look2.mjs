import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const page = await b.newPage({ baseURL: 'http://localhost:4700', viewport: { width: 1280, height: 800 } });
const shot = async (n) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/draw-${n}.png` });
};
page.on('console', (m) => m.type() === 'error' && console.log('ERR', m.text()));
page.on('pageerror', (e) => console.log('PAGEERR', e.message));
await page.goto('/');
await page.waitForURL(/bench/);
await page.waitForTimeout(3000);
await page.locator('canvas').focus();
await page.keyboard.press('d');
await page.mouse.move(780, 480);
await page.waitForTimeout(500);
await page.mouse.move(782, 480);
await shot('place');
await page.mouse.down();
await page.mouse.move(800, 500, { steps: 4 });
await page.mouse.move(820, 560, { steps: 4 });
await shot('shape');
await page.mouse.up();
await page.mouse.move(790, 600, { steps: 3 });
await page.mouse.move(760, 620, { steps: 3 });
await shot('pull');
await page.mouse.down();
await page.mouse.up();
await shot('done');
await b.close();
