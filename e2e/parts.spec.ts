import { WebIO } from '@gltf-transform/core';
import { expect, test, type Page } from '@playwright/test';
import {
  expectAccessible,
  bytesOf,
  choose,
  course,
  figure,
  figureNow,
  lightPixels,
  openSample,
  type,
} from './bench.ts';

const card = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const part = (page: Page, name: string) => page.getByRole('button', { name, exact: true });
const hint = (page: Page) => page.locator('.strip .hint');
const partCard = (page: Page) => page.getByRole('button', { name: 'Name, unit and numbers of the part' }).click();

/**
 * A picture of 400 × 300 with a profile beside its middle: a foot of 100 × 40 and a neck of 50 × 120, bottom at 260.
 */
const plan = (page: Page): Promise<number[]> =>
  page.evaluate(async () => {
    const c = new OffscreenCanvas(400, 300);
    const x = c.getContext('2d')!;
    x.fillStyle = '#ffffff';
    x.fillRect(0, 0, 400, 300);
    x.fillStyle = '#333333';
    x.fillRect(200, 220, 100, 40);
    x.fillRect(200, 100, 50, 120);
    return [...new Uint8Array(await (await c.convertToBlob()).arrayBuffer())];
  });

test('a turned profile is traced over a reference picture that two points have sized', async ({ page }) => {
  await openSample(page);
  await part(page, 'New part').click();
  await partCard(page);
  const buffer = Buffer.from(await plan(page));
  await page.getByLabel('Picture to pin').setInputFiles({ name: 'plan.png', mimeType: 'image/png', buffer });
  await expect(card(page)).toContainText('plan, front');
  await type(page, 'Width of plan', '400');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  // The picture fills the view: it is looked at from further away.
  await page.locator('canvas').focus();
  for (let i = 0; i < 14; i++) await page.keyboard.press('-');
  const box = (await page.locator('canvas').boundingBox())!;
  const [mx, my] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.getByRole('button', { name: 'Size by two points' }).click();
  await expect(hint(page)).toContainText('one point of the picture (1 of 2)');
  await page.mouse.click(mx, my);
  await page.mouse.click(mx + 100, my);
  await page.getByRole('textbox', { name: /^Distance between both points/ }).fill('50');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Width of plan' })).not.toHaveValue('400');
  const width = Number(await page.getByRole('textbox', { name: 'Width of plan' }).inputValue());
  const perPixel = width / 400;
  const { x: right, y: up } = {
    x: Number(await page.getByRole('textbox', { name: 'plan, right' }).inputValue()),
    y: Number(await page.getByRole('textbox', { name: 'plan, up' }).inputValue()),
  };
  // 100 pixels of the screen were 50 mm · 400 / width apart before the picture was sized; the view stays as it was.
  const perMm = width / 200;
  const spot = (u: number, v: number): [number, number] => [
    mx + perMm * (right + (u - 200) * perPixel),
    my - perMm * (up + (150 - v) * perPixel),
  ];
  await page.locator('canvas').focus();
  await page.keyboard.press('t');
  await expect(hint(page)).toContainText('Draw half of the profile');
  await page.getByRole('button', { name: 'On', exact: true }).click();
  const profile = [
    [200, 260],
    [300, 260],
    [300, 220],
    [250, 220],
    [250, 100],
    [200, 100],
  ] as const;
  for (const [u, v] of profile) {
    await page.mouse.move(...spot(u, v), { steps: 2 });
    await page.mouse.click(...spot(u, v));
  }
  await page.keyboard.press('Enter');
  await expect(course(page, 'Turned body')).toContainText('turned body, Ø');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // As it was drawn: 100 of the picture's pixels wide at the foot, 160 high.
  const [, diameter, height] = /Ø ([\d.]+) × ([\d.]+)/.exec(await course(page, 'Turned body').innerText())!;
  expect(Math.abs(Number(diameter) - 200 * perPixel)).toBeLessThan(3 / perMm);
  expect(Math.abs(Number(height) - 160 * perPixel)).toBeLessThan(3 / perMm);
  // A file that is no picture is refused, and nothing is lost.
  await partCard(page);
  await page
    .getByLabel('Picture to pin')
    .setInputFiles({ name: 'bad.png', mimeType: 'image/png', buffer: Buffer.from('not a picture') });
  await expect(page.getByText('cannot be read as a picture')).toBeVisible();
  await expectAccessible(page);
});

test('a locked part is not changed; a mirrored one follows; joined and separated ones are parts of their own', async ({
  page,
}) => {
  await openSample(page);
  await part(page, 'Mast clamp').click();
  await card(page).getByText('Hide, lock, copy, delete').click();
  await card(page).getByRole('button', { name: 'Lock', exact: true }).click();
  await course(page, 'Mast seat').click();
  await page.getByRole('button', { name: 'Delete this cut' }).click();
  await expect(page.getByText('"Mast clamp" is locked')).toBeVisible();
  await expect(course(page, 'Mast seat')).toBeVisible();
  await partCard(page);
  await card(page).getByRole('button', { name: 'Unlock', exact: true }).click();

  const volume = await figureNow(page, 'volume');
  await page.getByText('Move, mirror, join').click();
  await type(page, 'Place of the mirror', '100');
  await card(page).getByRole('button', { name: 'Mirror', exact: true }).click();
  await expect(part(page, 'Mast clamp, mirrored')).toHaveAttribute('aria-pressed', 'true');
  await expect(figure(page, 'volume')).toHaveText(volume);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // It follows the first one.
  await part(page, 'Mast clamp').click();
  await course(page, 'Mast seat').click();
  await page.getByRole('button', { name: 'Delete this cut' }).click();
  await expect(figure(page, 'volume')).not.toHaveText(volume);
  const fuller = await figureNow(page, 'volume');
  await part(page, 'Mast clamp, mirrored').click();
  await expect(figure(page, 'volume')).toHaveText(fuller);

  // Both as one part, which falls into the two again.
  await card(page).getByRole('checkbox', { name: 'Mast clamp', exact: true }).check();
  await card(page).getByRole('button', { name: 'Join', exact: true }).click();
  await expect(part(page, 'Mast clamp, mirrored + Mast clamp')).toHaveAttribute('aria-pressed', 'true');
  await expect(part(page, 'Mast clamp, hidden')).toBeVisible();
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await partCard(page);
  await card(page).getByRole('button', { name: 'Separate loose pieces' }).click();
  await expect(page.getByText('became 2 parts')).toBeVisible();
  await expect(part(page, 'Mast clamp, mirrored + Mast clamp, piece 2')).toBeVisible();
  await expect(figure(page, 'volume')).toHaveText(fuller);
});

test('a part is put on the rack and stamped, turned, smaller and so deep, on another one', async ({ page }) => {
  await openSample(page);
  await part(page, 'Mast clamp').click();
  await card(page).getByText('Hide, lock, copy, delete').click();
  await card(page).getByRole('button', { name: 'Put it on the rack' }).click();
  await expect(page.getByText('"Mast clamp" is on the rack')).toBeVisible();
  await part(page, 'Pump-house wall').click();
  await expect(figure(page, 'volume')).toContainText('683.03');
  await page.locator('canvas').focus();
  await page.keyboard.press('k');
  await page.getByTitle('Stamp Mast clamp on faces').click();
  await type(page, 'Turn of the stamp', '90');
  await type(page, 'Size of the stamp, as a factor', '2');
  await type(page, 'Depth of the stamp', '50');
  await page.mouse.click(780, 480);
  await expect(course(page, 'Mast clamp')).toContainText('removes Mast clamp');
  await page.keyboard.press('Escape');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expect(figure(page, 'volume')).not.toContainText('683.03');
  const scale = (axis: string) => page.getByRole('textbox', { name: `Scale along ${axis}`, exact: true });
  await expect(scale('x')).toHaveValue('2');
  expect(Number(await scale('z').inputValue())).toBeCloseTo(50 / 36, 4);
});

test('a material is seen, travels with GLB, and the other parts are shown beside the part at hand', async ({
  page,
}) => {
  await openSample(page);
  await part(page, 'Door leaf').click();
  await expect(figure(page, 'faces')).toContainText('6');
  const before = await page.locator('canvas').screenshot();
  await card(page).getByLabel('Colour of Leaf').fill('#2060c0');
  await card(page).getByLabel('Solid: Leaf').fill('0.5');
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(before)).toBe(false);
  const alone = await page.locator('canvas').screenshot();
  await page.locator('canvas').focus();
  await page.keyboard.press('o');
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(alone)).toBe(false);
  await page.getByRole('link', { name: 'Dispatch' }).click();
  await choose(page.getByRole('combobox', { name: 'Format' }), 'GLB');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Write/ }).click();
  const doc = await new WebIO().readBinary(new Uint8Array(await bytesOf(await download)));
  const leaf = doc
    .getRoot()
    .listMaterials()
    .find((m) => m.getName() === 'Leaf')!;
  expect(leaf.getBaseColorFactor().map((x) => +x.toFixed(3))).toEqual([0.014, 0.117, 0.527, 0.5]);
});

test('a command is pinned to the strip, the wheel is turned round, and both are kept', async ({ page }) => {
  await openSample(page);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('see through');
  await page.keyboard.press('Control+Enter');
  await page.keyboard.press('Escape');
  const pinned = page.locator('.strip').getByRole('button', { name: 'See through the part' });
  await expect(pinned).toBeVisible();
  await page.getByRole('button', { name: 'Preferences' }).click();
  await choose(page.getByRole('combobox', { name: 'Wheel forward' }), 'goes away');
  await page.keyboard.press('Escape');
  await page.waitForTimeout(400);
  await page.reload();
  await expect(pinned).toBeVisible();
  await expect(figure(page, 'volume')).toContainText('683.03');
  // Rolled forward, the part is smaller now: what was wall becomes ground.
  const [x, y] = [640, 400];
  await page.mouse.move(x, y);
  const pixels = async () => lightPixels(page, await page.locator('canvas').screenshot());
  await expect.poll(pixels).toBeGreaterThan(1000);
  const near = await pixels();
  for (let i = 0; i < 8; i++) await page.mouse.wheel(0, -200);
  await expect.poll(async () => (await pixels()) < near * 0.5).toBe(true);
});

test('a cutter gets courses of its own, and others stand along a picked boundary', async ({ page }) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  const volume = await figureNow(page, 'volume');
  await page.getByRole('button', { name: 'Give it courses' }).click();
  await expect(card(page)).toContainText('Linked: it follows the part.');
  await expect(figure(page, 'volume')).toHaveText(volume);
  await page.getByRole('button', { name: 'Work on it' }).click();
  await expect(course(page, 'Rounded box')).toBeVisible();
  await page.keyboard.press('Control+z');

  await part(page, 'Gauge pod').click();
  await course(page, 'Latch seat').click();
  await choose(card(page).getByRole('combobox', { name: 'Repeat', exact: true }), 'along a boundary');
  await expect(card(page)).toContainText('Pick an edge of it');
  await page.getByRole('button', { name: 'Pick the boundary' }).click();
  await expect(hint(page)).toContainText('an edge of the boundary');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await page.locator('canvas').focus();
  const box = (await page.locator('canvas').boundingBox())!;
  // The flange's round rim, below the hull.
  await page.mouse.move(box.x + box.width / 2 - 130, box.y + box.height / 2 - 130);
  await expect(page.locator('.tag')).toContainText('edge');
  await page.mouse.click(box.x + box.width / 2 - 130, box.y + box.height / 2 - 130);
  await expect(card(page)).toContainText(/\d+ points/);
  await expect(course(page, 'Latch seat')).toContainText('5 cutters');
  await expect(figure(page, 'state')).toContainText('Closed solid');
});
