import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const page = await b.newPage({ baseURL: 'http://localhost:4700', viewport: { width: 1280, height: 800 } });
page.on('console', (m) => console.log(m.type(), m.text()));
page.on('pageerror', (e) => console.log('PAGEERR', e.message));
await page.goto('/');
await page.waitForURL(/bench/);
await page.waitForTimeout(3000);
await page.locator('canvas').focus();
await page.keyboard.press('d');
await page.mouse.move(700, 420);
await page.waitForTimeout(1500);
await page.mouse.move(702, 420);
await page.waitForTimeout(500);
await page.screenshot({ path: '/tmp/draw-dbg.png' });
console.log(await page.locator('.strip').innerText());
await b.close();
