import { chromium } from '@playwright/test';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
for (const [w, h, scheme] of [
  [1280, 800, 'light'],
  [1024, 720, 'dark'],
]) {
  const page = await b.newPage({
    baseURL: 'http://localhost:4700',
    viewport: { width: w, height: h },
    colorScheme: scheme,
  });
  const shot = async (n) => {
    await page.waitForTimeout(700);
    await page.screenshot({ path: `/tmp/rack-${n}-${w}.png` });
  };
  page.on('pageerror', (e) => console.log('PAGEERR', e.message));
  await page.goto('/');
  await page.waitForURL(/bench/);
  await page.waitForTimeout(3000);
  await page.locator('canvas').focus();
  await page.keyboard.press('k');
  await shot('list');
  await page.getByTitle('Stamp T groove on faces').click();
  const box = await page.locator('canvas').boundingBox();
  await page.mouse.move(box.x + box.width * 0.66, box.y + box.height * 0.62);
  await shot('stamp');
  await page.keyboard.press('Escape');
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('polygon');
  await page.mouse.move(box.x + box.width * 0.7, box.y + box.height * 0.62);
  await page.waitForTimeout(500);
  await page.mouse.move(box.x + box.width * 0.7, box.y + box.height * 0.63);
  await page.mouse.click(box.x + box.width * 0.7, box.y + box.height * 0.63);
  await page.mouse.move(box.x + box.width * 0.72, box.y + box.height * 0.68, { steps: 3 });
  await shot('polygon');
  await page.close();
}
await b.close();
