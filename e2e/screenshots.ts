import type { Page } from '@playwright/test';
import { mkdir } from 'node:fs/promises';
import path from 'node:path';
import { atRest, choose, course, openSample, smoothLines, type } from './bench.ts';
import { ROOT, served } from './served.ts';

/** `npm run screenshots`: the pictures of docs/screenshots, made from the sample at 1280 x 800. */
const OUT = path.join(ROOT, 'docs/screenshots');

/** A frame with smooth lines takes the processor a second and more; the page does not wait for it. */
const A_FRAME = 2000;

async function shot(page: Page, name: string): Promise<void> {
  await page.waitForTimeout(A_FRAME);
  if (await page.locator('canvas').isVisible()) await atRest(page);
  await page.screenshot({ path: path.join(OUT, `${name}.png`) });
}

await served(4656, async (newPage) => {
  await mkdir(OUT, { recursive: true });
  const page = await newPage('light');
  await openSample(page);
  await page.getByRole('button', { name: 'Not now' }).click();
  await smoothLines(page);
  await shot(page, 'bench-pump-house-wall');
  await page.getByRole('button', { name: 'Gauge pod' }).click();
  await course(page, 'Latch seat').click();
  await shot(page, 'bench-gauge-pod');
  await course(page, 'Port').click();
  await choose(page.getByRole('combobox', { name: 'Repeat', exact: true }), 'round an axis');
  await type(page, 'How many', '6');
  await page.getByRole('button', { name: 'Instance 3', exact: true }).click();
  await page.getByRole('button', { name: 'Switch off instance 3' }).click();
  await shot(page, 'repeat');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Door frame' }).click();
  await course(page, 'Frame').click();
  await page.getByRole('button', { name: 'Others', exact: true }).click();
  await page.waitForTimeout(1500);
  await shot(page, 'fitted-frame');
  await page.getByRole('button', { name: 'Others', exact: true }).click();

  await page.getByRole('button', { name: 'Pump-house wall' }).click();
  await course(page, 'Hatch').click();
  await type(page, 'Position along y', '-210');
  await type(page, 'Height', '640');
  await shot(page, 'dry-fit');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  const note = page.getByRole('button', { name: 'Dismiss this note' });
  while (await note.count()) await note.first().click();
  await page.locator('canvas').focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('c');
  await page.mouse.move(790, 370);
  await shot(page, 'placing');
  await page.locator('canvas').focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('k');
  await page.waitForTimeout(300);
  await shot(page, 'rack');
  await page.keyboard.press('Escape');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.mouse.move(770, 470);
  await page.waitForTimeout(700);
  await page.mouse.move(771, 470);
  await page.mouse.down();
  await page.mouse.move(830, 560, { steps: 6 });
  await page.mouse.up();
  await page.mouse.move(790, 610, { steps: 6 });
  await shot(page, 'drawing');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');

  await trace(page);
  await shot(page, 'tracing');
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('g');
  // The new part, its picture and the size of that.
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Pump-house wall' }).click();

  await page.getByRole('link', { name: 'Survey' }).click();
  await page.getByRole('button', { name: 'Gauge pod' }).click();
  await page.getByRole('button', { name: /^○ N-gons/ }).click();
  await page.waitForTimeout(800);
  await shot(page, 'survey');
  await page.getByRole('button', { name: /^○ N-gons/ }).click();
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.getByRole('combobox', { name: 'Look', exact: true }).selectOption('bands');
  await shot(page, 'survey-bands');
  await page.getByRole('combobox', { name: 'Look', exact: true }).selectOption('clay');
  await page.locator('canvas').focus();
  await page.keyboard.press('w');
  await page.getByRole('combobox', { name: 'Before', exact: true }).selectOption({ label: 'Flange and collar' });
  await page.waitForTimeout(800);
  await page.getByRole('heading', { name: 'Before and after' }).scrollIntoViewIfNeeded();
  await shot(page, 'before-after');
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await page.getByRole('button', { name: 'Pump-house wall' }).click();
  await page.waitForTimeout(1500);
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.getByRole('link', { name: 'Dress' }).click();
  await page.getByRole('radio', { name: 'Faces' }).click();
  await page.mouse.click(780, 480);
  await page.waitForTimeout(600);
  await page.getByRole('button', { name: 'Tie holes', exact: true }).click();
  await choose(page.getByRole('combobox', { name: 'Ties' }), 'to the corners');
  await page.getByRole('radio', { name: 'Faces' }).click();
  await page.getByRole('combobox', { name: 'More ways to pick' }).selectOption({ label: 'Made by Hatch' });
  await page.waitForTimeout(600);
  await page.getByRole('combobox', { name: 'More ways to pick' }).selectOption({ label: 'As edges' });
  await page.waitForTimeout(600);
  await page.getByRole('button', { name: 'Insert a loop', exact: true }).click();
  await page.waitForTimeout(800);
  await page.getByRole('radio', { name: 'Vertices' }).click();
  await page.getByRole('combobox', { name: 'More ways to pick' }).selectOption({ label: 'Made by Drains' });
  await shot(page, 'dress');
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Gauge pod' }).click();
  await page.waitForTimeout(1500);
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.getByRole('radio', { name: 'Courses' }).click();
  await page.getByRole('button', { name: 'Edge finish', exact: true }).click();
  await page.getByRole('slider', { name: 'Width within the room' }).waitFor({ timeout: 60_000 });
  await page.waitForTimeout(1000);
  await shot(page, 'edge-finish');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Pump-house wall' }).click();
  await page.waitForTimeout(1500);
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.getByRole('radio', { name: 'Courses' }).click();
  await page.getByRole('button', { name: 'To quads', exact: true }).click();
  await page
    .getByText(/in \d+ quads/)
    .first()
    .waitFor({ timeout: 60_000 });
  while (await note.count()) await note.first().click();
  await shot(page, 'quads');
  await page.getByRole('link', { name: 'Dispatch' }).click();
  await page.locator('.verdict').filter({ hasNotText: 'Looking' }).waitFor({ timeout: 60_000 });
  await shot(page, 'dispatch');
  await page.keyboard.press('Control+k');
  await shot(page, 'find-a-tool');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'Duplicate Skerry Light' }).click();
  await shot(page, 'yard');

  const night = await newPage('dark');
  await openSample(night);
  await night.getByRole('button', { name: 'Not now' }).click();
  await smoothLines(night);
  await night.getByRole('button', { name: 'Gauge pod' }).click();
  await course(night, 'Bolt ring').click();
  await shot(night, 'bench-night');
});

/** Half a profile traced over a drawing of a gland, which is made here. */
async function trace(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'New part', exact: true }).click();
  await page.getByRole('button', { name: 'Name, unit and numbers of the part' }).click();
  const picture = await page.evaluate(async () => {
    const c = new OffscreenCanvas(600, 420);
    const x = c.getContext('2d')!;
    x.fillStyle = '#f4f1ea';
    x.fillRect(0, 0, 600, 420);
    x.strokeStyle = '#2a2233';
    x.lineWidth = 3;
    for (const [left, top, width, height] of [
      [180, 300, 240, 50],
      [220, 220, 160, 80],
      [255, 90, 90, 130],
    ] as const)
      x.strokeRect(left, top, width, height);
    x.setLineDash([12, 6, 3, 6]);
    x.lineWidth = 1.5;
    x.beginPath();
    x.moveTo(300, 40);
    x.lineTo(300, 390);
    x.stroke();
    return [...new Uint8Array(await (await c.convertToBlob()).arrayBuffer())];
  });
  await page
    .getByLabel('Picture to pin')
    .setInputFiles({ name: 'gland.png', mimeType: 'image/png', buffer: Buffer.from(picture) });
  await type(page, 'Width of gland', '90');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.locator('canvas').focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('-');
  // While something is drawn, keys belong to that.
  await page.keyboard.press('g');
  await page.keyboard.press('t');
  const note = page.getByRole('button', { name: 'Dismiss this note' });
  while (await note.count()) await note.first().click();
  await page.locator('canvas').focus();
  const box = (await page.locator('canvas').boundingBox())!;
  const [mx, my] = [box.x + box.width / 2, box.y + box.height / 2];
  for (const [u, v] of [
    [0, 160],
    [136, 160],
    [136, 104],
    [91, 104],
    [91, 11],
    [52, 11],
  ] as const) {
    await page.mouse.move(mx + u, my + v, { steps: 3 });
    await page.mouse.click(mx + u, my + v);
  }
  await page.mouse.move(mx + 52, my - 131, { steps: 3 });
}
