import { expect, test, type Page } from '@playwright/test';
import { course, expectAccessible, figure, figureNow, findHandle, openNewPlate, openSample } from './bench.ts';

const card = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const strip = (page: Page) => page.locator('.strip');
const kind = (page: Page, name: string) => strip(page).getByRole('radio', { name, exact: true });
const tag = (page: Page) => page.locator('.tag:not(.note)');

/** A plate of 100 × 60 × 20 mm, seen from above on Dress; the middle of the view. */
async function openPlate(page: Page): Promise<[number, number]> {
  await openNewPlate(page);
  await page.getByRole('link', { name: 'Dress' }).click();
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  const box = (await page.locator('canvas').boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
}

test('an inset is dragged, then typed; its face is pulled up without being picked again', async ({ page }) => {
  const [x, y] = await openPlate(page);
  await kind(page, 'Faces').click();
  await page.mouse.click(x + 30, y + 30);
  await expect(strip(page)).toContainText('1 face, 6000 mm²');
  await card(page).getByRole('button', { name: 'Inset', exact: true }).click();
  await expect(course(page, 'Inset')).toContainText('insets 1 face by 1 mm');
  await expect(strip(page)).toContainText('Drag a bead in the view');
  // The pick went on to the smaller face.
  await expect(strip(page)).toContainText('1 face, 5684 mm²');

  // The bead of the distance stands beside a long side; that of the height in the middle, seen end on.
  const [hx, hy] = await findHandle(page, { x: x - 40, y: y - 200, width: 80, height: 120 }).catch(() =>
    findHandle(page, { x: x - 40, y: y + 80, width: 80, height: 120 }),
  );
  const inward = hy < y ? 1 : -1;
  await page.mouse.move(hx, hy);
  await expect(tag(page)).toContainText('Distance 1 mm');
  await page.mouse.down();
  await page.mouse.move(hx, hy + inward * 30, { steps: 6 });
  await expect(tag(page)).toContainText(/Distance [6-9](\.\d+)? mm/);
  await page.mouse.up();
  await expect(course(page, 'Inset')).toContainText(/insets 1 face by [6-9](\.\d+)? mm/);
  await expect(page.getByRole('button', { name: 'Undo: Distance of Inset' })).toBeEnabled();

  // A number typed while the view has the focus goes to the field of the strip.
  await page.locator('canvas').focus();
  await page.keyboard.type('10');
  await page.keyboard.press('Enter');
  await expect(course(page, 'Inset')).toContainText('insets 1 face by 10 mm');
  await expect(strip(page)).toContainText('1 face, 3200 mm²');
  await expectAccessible(page);
  await card(page).getByRole('button', { name: 'Extrude', exact: true }).click();
  await expect(course(page, 'Extrude')).toContainText('moves 1 face by 5 mm on 4 walls');
  await expect(figure(page, 'volume')).toContainText('136 cm³');
});

test('edges are picked from beside them, by a click in box mode too; a click that meets nothing says so', async ({
  page,
}) => {
  const [x, y] = await openPlate(page);
  await kind(page, 'Edges').click();
  await page.mouse.click(x + 220, y);
  await expect(strip(page)).toContainText('1 edge, 60 mm');
  await page.mouse.click(x + 310, y + 220);
  await expect(tag(page)).toContainText('Nothing here: nothing is picked');
  await expect(strip(page)).toContainText('0 edges');
  const out = await page.evaluate(() => {
    const { width } = document.querySelector('canvas')!.getBoundingClientRect();
    return width / 2;
  });
  // From the outside inwards: the first place that meets something lies beyond the plate.
  let met = 0;
  for (let d = out - 60; d > 200 && !met; d -= 4) {
    await page.mouse.click(x + d, y + 20);
    await page.waitForTimeout(60);
    if ((await strip(page).innerText()).includes('1 edge')) met = d;
  }
  expect(met).toBeGreaterThan(200);
  await expect(strip(page)).toContainText('1 edge, 60 mm');
  await strip(page).getByRole('combobox', { name: 'How to pick' }).selectOption('box');
  await page.mouse.click(x + 30, y + 130);
  await expect(strip(page)).toContainText('1 edge, 100 mm');
});

test('a part is slid by handles, and by a typed length', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Mast clamp' }).click();
  await expect(figure(page, 'faces')).toContainText('198');
  await course(page, 'Bracket').click();
  const z = page.getByRole('textbox', { name: 'Position along z', exact: true });
  const before = Number(await z.inputValue());
  await page.locator('canvas').focus();
  await page.keyboard.press('p');
  await expect(strip(page)).toContainText('Drag a post to slide the part');
  await strip(page).getByRole('combobox', { name: 'Own axis' }).selectOption('z');
  await strip(page).getByRole('textbox').fill('12');
  await page.keyboard.press('Enter');
  const volume = await figureNow(page, 'volume');
  const box = (await page.locator('canvas').boundingBox())!;
  const [hx, hy] = await findHandle(page, { x: box.x + 60, y: box.y + 80, width: box.width - 120, height: 500 });
  await page.mouse.move(hx, hy);
  await page.mouse.down();
  await page.mouse.move(hx, hy - 40, { steps: 6 });
  await expect(tag(page)).toContainText('mm');
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Undo: Slide Mast clamp' })).toBeEnabled();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.keyboard.press('Escape');
  await course(page, 'Bracket').click();
  await expect(z).toHaveValue(String(before + 12));
  expect(await figureNow(page, 'volume')).toBe(volume);
});

test('parts are found in a long list, locked and hidden in their rows; courses fold', async ({ page }) => {
  await openSample(page);
  const parts = page.getByRole('region', { name: 'Parts' });
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'New part', exact: true }).click();
  await expect(parts.getByRole('listitem')).toHaveCount(8);
  await parts.getByRole('textbox', { name: 'Filter the parts' }).fill('door l');
  await expect(parts.getByRole('listitem')).toHaveCount(1);
  await parts.getByRole('switch', { name: 'Door leaf locked' }).click();
  await expect(parts.getByRole('button', { name: 'Door leaf, locked' })).toBeVisible();
  await parts.getByRole('switch', { name: 'Door leaf shown beside others' }).click();
  await expect(parts.getByRole('button', { name: 'Door leaf, hidden, locked' })).toBeVisible();
  await parts.getByRole('textbox', { name: 'Filter the parts' }).fill('no such part');
  await expect(parts).toContainText('No part is named like that');
  await parts.getByRole('textbox', { name: 'Filter the parts' }).fill('wall');
  await parts.getByRole('button', { name: 'Pump-house wall' }).click();
  // The picture of the part at hand is drawn once the bench is at rest.
  await expect(parts.locator('path[d^="M"]').first()).toBeVisible({ timeout: 15_000 });
  const lots = page.getByRole('button', { name: /^Cuts/ });
  await expect(course(page, 'Hatch')).toBeVisible();
  await lots.click();
  await expect(course(page, 'Hatch')).toBeHidden();
  await expect(course(page, 'Plastered block')).toBeVisible();
  await expectAccessible(page);
});

test('a narrow page: the view has all the room, the panels lie over it; a wide one is parted as one likes', async ({
  page,
}) => {
  await page.setViewportSize({ width: 640, height: 400 });
  await openSample(page);
  const column = page.getByRole('complementary', { name: 'Parts and courses' });
  await expect(column).toBeHidden();
  await expect(card(page)).toBeHidden();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'The wall' }).click();
  await course(page, 'Hatch').click();
  // What is picked there is looked at on its card.
  await expect(column).toBeHidden();
  await expect(card(page)).toContainText('Course 2 of 4');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'The card' }).click();
  await expect(card(page)).toBeHidden();
  // Nothing of the rail is out of reach.
  const gear = (await page.getByRole('button', { name: 'Preferences' }).boundingBox())!;
  expect(gear.x + gear.width).toBeLessThanOrEqual(640);

  await page.setViewportSize({ width: 1280, height: 800 });
  const edge = page.getByRole('separator', { name: 'Edge of the wall' });
  await edge.focus();
  await page.keyboard.press('ArrowRight');
  expect((await column.boundingBox())!.width).toBeGreaterThan(268);
  await page.keyboard.press('Enter');
  await expect(column).toBeHidden();
  await page.getByRole('button', { name: 'The wall' }).click();
  await expect(column).toBeVisible();
});
