import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const page = await b.newPage({ baseURL: 'http://localhost:4700', viewport: { width: 1280, height: 800 } });
const shot = async (n) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/help-${n}.png` });
};
page.on('pageerror', (e) => console.log('PAGEERR', e.message));
page.on('console', (m) => m.type() === 'error' && console.log('ERR', m.text()));
await page.goto('/');
await page.waitForURL(/bench/);
await page.waitForTimeout(3000);
const card = page.getByRole('complementary', { name: 'Card' });
await page.getByRole('button', { name: 'Hatch:', exact: false }).first().click();
await card.getByRole('textbox', { name: 'Position along y', exact: true }).fill('-210');
await page.keyboard.press('Enter');
await card.getByRole('textbox', { name: 'Height', exact: true }).fill('640');
await page.keyboard.press('Enter');
await page.waitForTimeout(900);
await page.locator('canvas').focus();
await page.keyboard.press('g');
await shot('glass');
await page.keyboard.press('g');
await page.keyboard.press('x');
await shot('open');
await page.keyboard.press('x');
await page.keyboard.press('?');
await shot('keys');
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Front', exact: true }).click();
await page.locator('canvas').focus();
await page.keyboard.press('d');
await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
const box = await page.locator('canvas').boundingBox();
for (const [x, y] of [
  [0.05, 0.1],
  [0.62, 0.1],
  [0.7, 0.5],
  [0.62, 0.8],
  [0.05, 0.8],
]) {
  await page.mouse.move(box.x + box.width * x, box.y + box.height * y, { steps: 3 });
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
}
await shot('free');
await page.keyboard.press('Enter');
await page.keyboard.press('p');
await page.keyboard.press('t');
await page.keyboard.press('Enter');
await shot('freedone');
await b.close();
