import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const page = await b.newPage({ baseURL: 'http://localhost:4700', viewport: { width: 1280, height: 800 } });
const shot = async (n) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/rep-${n}.png` });
};
page.on('pageerror', (e) => console.log('PAGEERR', e.message));
await page.goto('/');
await page.waitForURL(/bench/);
await page.waitForTimeout(3000);
const card = page.getByRole('complementary', { name: 'Card' });
await page.getByRole('button', { name: 'Gauge pod' }).click();
await page.waitForTimeout(800);
await page.getByRole('button', { name: 'Port:', exact: false }).first().click();
await card.getByRole('combobox', { name: 'Repeat', exact: true }).click();
await page.getByRole('option', { name: 'round an axis', exact: true }).click();
await card.getByRole('textbox', { name: 'How many' }).fill('6');
await page.keyboard.press('Enter');
await page.waitForTimeout(800);
await card.getByRole('button', { name: 'Instance 3', exact: true }).click();
await page.getByRole('button', { name: 'Switch off instance 3' }).click();
await shot('round');
await b.close();
