import { chromium } from '@playwright/test';
import { writeFileSync } from 'node:fs';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--enable-unsafe-swiftshader', '--disable-quic', '--no-sandbox'],
});
const page = await b.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.log('ERR', e.message, e.stack?.slice(0, 600)));
page.on('console', (m) => m.type() === 'error' && console.log('CON', m.text()));
const t0 = Date.now();
const T = (w) => console.log(w, Date.now() - t0);
await page.goto('http://localhost:4700/');
await page.waitForTimeout(2500);
// a picture made in the page
const png = await page.evaluate(async () => {
  const c = new OffscreenCanvas(400, 300);
  const x = c.getContext('2d');
  x.fillStyle = '#fff';
  x.fillRect(0, 0, 400, 300);
  x.strokeStyle = '#000';
  x.lineWidth = 4;
  x.strokeRect(200, 40, 100, 220);
  x.font = '30px sans-serif';
  x.fillStyle = '#a00';
  x.fillText('TOP', 20, 40);
  const bl = await c.convertToBlob();
  const u = new Uint8Array(await bl.arrayBuffer());
  return [...u];
});
writeFileSync('/tmp/plan.png', Buffer.from(png));
await page.getByRole('button', { name: 'Mast clamp' }).click();
await page.waitForTimeout(1500);
await page.locator('input[aria-label="Picture to pin"]').setInputFiles('/tmp/plan.png');
await page.waitForTimeout(1000);
await page.getByRole('button', { name: 'Front', exact: true }).click();
await page.waitForTimeout(1000);
T('pinned');
console.log(await page.locator('.notices, [role=status]').allInnerTexts());
await page.screenshot({ path: '/tmp/1.png' });
await page.getByRole('button', { name: 'Size by two points' }).click();
await page.waitForTimeout(300);
console.log(await page.locator('.strip .hint').innerText());
await page.mouse.click(500, 300);
await page.mouse.click(700, 300);
await page.waitForTimeout(300);
await page.getByLabel(/Distance between both/).fill('50');
await page.keyboard.press('Enter');
await page.waitForTimeout(800);
await page.screenshot({ path: '/tmp/2.png' });
T('sized');
await page.getByRole('button', { name: 'Corner', exact: true }).click();
await page.keyboard.press('o');
await page.getByRole('button', { name: 'Door leaf' }).click();
await page.waitForTimeout(3000);
await page.screenshot({ path: '/tmp/3.png' });
T('others');
await b.close();
