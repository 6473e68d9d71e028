import { expect, test } from '@playwright/test';
import { expectAccessible, bytesOf, course, figure, openSample } from './bench.ts';

test('a cutter of the rack is stamped on two faces as one cut', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('k');
  const rack = page.getByRole('dialog', { name: 'Rack' });
  await expect(rack.getByRole('listitem')).toHaveCount(16);
  await expectAccessible(page);
  await rack.getByRole('textbox', { name: 'Find on the rack' }).fill('latch');
  await expect(rack.getByRole('listitem')).toHaveCount(1);
  await rack.getByTitle('Stamp Latch seat on faces').click();
  await expect(page.locator('.strip')).toContainText('Latch seat');
  await page.mouse.click(771, 476);
  await expect(page.getByRole('button', { name: /^Latch seat:/ })).toBeVisible();
  await page.mouse.click(639, 495);
  await expect(page.getByRole('button', { name: /^Latch seat:/ })).toContainText('2 cutters, each rounded box 60 × 24');
  // One more, on the narrow top: another face, another way up.
  await page.mouse.click(696, 250);
  await expect(page.getByRole('button', { name: /^Latch seat:/ })).toContainText('3 cutters');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Place a cutter', exact: true })).toBeVisible();
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('a cutter is put on the rack, named, found in another project, and goes out and in as a file', async ({
  page,
}) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  await page.getByRole('button', { name: 'Put it on the rack' }).click();
  await expect(page.getByText('"Hatch" is on the rack')).toBeVisible();
  await page.locator('canvas').focus();
  await page.keyboard.press('k');
  const rack = page.getByRole('dialog', { name: 'Rack' });
  await rack.getByRole('button', { name: 'Change Hatch' }).click();
  await rack.getByRole('textbox', { name: 'Tags of Hatch' }).fill('wall opening');
  await rack.getByRole('textbox', { name: 'Tags of Hatch' }).press('Tab');
  await rack.getByRole('textbox', { name: 'Find on the rack' }).fill('wall');
  await expect(rack.getByRole('listitem')).toHaveCount(1);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    rack.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  const text = (await bytesOf(file)).toString();
  expect((JSON.parse(text) as { items: { name: string; tags: string[] }[] }).items[0]).toMatchObject({
    name: 'Hatch',
    tags: ['wall', 'opening'],
  });
  await page.reload();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await page.locator('canvas').focus();
  await page.keyboard.press('k');
  await expect(rack.getByRole('listitem')).toHaveCount(17);
  const bring = rack.getByLabel('Rack file');
  await bring.setInputFiles({ name: 'rack.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(rack.getByRole('listitem')).toHaveCount(34);
  await bring.setInputFiles({ name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from('{"rack":9}') });
  await expect(page.getByText('This is not a rack file')).toBeVisible();
  await expect(rack.getByRole('listitem')).toHaveCount(34);
});
