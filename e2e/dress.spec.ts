import { expect, test, type Page } from '@playwright/test';
import {
  expectAccessible,
  choose,
  course,
  figure,
  figureNow,
  findHandle,
  openNewPlate,
  openSample,
  type,
} from './bench.ts';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const tool = (page: Page, name: string) => panel(page).getByRole('button', { name, exact: true });
const room = (page: Page) => panel(page).getByRole('slider', { name: 'Width within the room' });
const volume = async (page: Page) => parseFloat((await figureNow(page, 'volume')).replace('volume', ''));

/** A new part: a plate of 100 × 60 × 20 mm, on Dress. */
async function openPlate(page: Page): Promise<void> {
  await openNewPlate(page);
  await page.getByRole('link', { name: 'Dress' }).click();
}

test('a part is finished by the everyday card alone; the width is typed and dragged; its room is told, and found in the view', async ({
  page,
}) => {
  await openPlate(page);
  await tool(page, 'Edge finish').click();
  await expect(course(page, 'Edge finish')).toContainText('bevels 12 edges by 1 mm, 2 segments');
  // Twelve edges of two strips, eight corners of three quads, six flats.
  await expect(figure(page, 'faces')).toContainText('54');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expect(room(page)).toBeVisible();
  await expect(panel(page)).toContainText('1 mm of 10 mm');
  await expect(panel(page)).toContainText('an edge or a face beside it would be used up');

  await type(page, 'Width', '2.5');
  await expect(course(page, 'Edge finish')).toContainText('by 2.5 mm');
  await expect(panel(page)).toContainText('2.5 mm of 10 mm');
  const typed = await volume(page);
  // By the pointer: to the middle of the slider, which reaches to 12.5 mm.
  await room(page).scrollIntoViewIfNeeded();
  const box = (await room(page).boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + box.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect(course(page, 'Edge finish')).toContainText(/by 6\.\d+ mm/);
  expect(await volume(page)).toBeLessThan(typed);
  // One act, one step back.
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Edge finish')).toContainText('by 2.5 mm');

  const before = await page.locator('canvas').screenshot();
  await panel(page).getByRole('button', { name: 'Go to where 12 edges have no more room' }).click();
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(before)).toBe(false);

  // On most of the length it is as wide, as all edges are alike.
  await panel(page).getByRole('button', { name: 'Measure it for 99 and 95 % of the length' }).click();
  await expect(panel(page).getByText('95 % of it')).toBeVisible();
  await panel(page).getByRole('button', { name: 'Take the width for 95 % of the length' }).click();
  await expect(course(page, 'Edge finish')).toContainText(/by 9\.\d+ mm/);
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Edge finish')).toContainText('by 2.5 mm');

  await type(page, 'Segments', '1');
  await expect(figure(page, 'faces')).toContainText('26');
  await choose(panel(page).getByRole('combobox', { name: 'Profile' }), 'straight');
  await expect(course(page, 'Edge finish')).toContainText('1 segment');
  await expectAccessible(page);
});

test('a new cut goes under what dresses edges, and its own edges are dressed with nothing to redo', async ({
  page,
}) => {
  await openPlate(page);
  await tool(page, 'Edge finish').click();
  await expect(course(page, 'Edge finish')).toContainText('bevels 12 edges');
  await page.getByRole('link', { name: 'Cut' }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(course(page, 'Edge finish')).toContainText('bevels 76 edges');
  expect((await page.locator('ol strong').allInnerTexts())[0]).toBe('Edge finish');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // The cutter moves, and the edges of its hole go along.
  const faces = await figureNow(page, 'faces');
  const was = await figureNow(page, 'volume');
  await type(page, 'Diameter', '30');
  await expect(figure(page, 'volume')).not.toHaveText(was);
  await expect(figure(page, 'faces')).toHaveText(faces);
  await expect(course(page, 'Edge finish')).toContainText('bevels 76 edges');
});

test('a hole is held: subdivided, its rim is round and of its radius, and so it stays when the cutter moves', async ({
  page,
}) => {
  await openPlate(page);
  await page.getByRole('link', { name: 'Cut' }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(figure(page, 'faces')).toContainText('38');
  await page.getByRole('link', { name: 'Dress' }).click();
  await tool(page, 'Hold this rim').click();
  await expect(course(page, 'Hold this rim')).toContainText('holds 2 rims with 4 rings, 1 mm away');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await type(page, 'Distance', '0.8');
  await expect(course(page, 'Hold this rim')).toContainText('0.8 mm away');
  await expectAccessible(page);

  await tool(page, 'Subdivide').click();
  const row = (name: string) => panel(page).getByRole('row', { name }).or(panel(page).getByText(name).locator('..'));
  const told = async (name: string) => parseFloat(/([\d.]+) mm/.exec(await row(name).first().innerText())![1]!);
  await expect(panel(page).getByText('Round rims')).toBeVisible();
  expect(await told('Out of round')).toBeLessThan(0.01);
  expect(await told('Radius off by')).toBeLessThan(0.01);

  // The cutter moves and grows below: all of it follows.
  await page.getByRole('link', { name: 'Cut' }).click();
  await course(page, 'Cylinder 1').click();
  await type(page, 'Position along x', '20');
  await type(page, 'Diameter', '30');
  await expect(course(page, 'Hold this rim')).toContainText('holds 2 rims with 4 rings');
  await course(page, 'Subdivide').click();
  expect(await told('Out of round')).toBeLessThan(0.015);
  expect(await told('Radius off by')).toBeLessThan(0.015);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('past its room a bevel is narrower just there, and says where', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Mast clamp', exact: false }).first().click();
  await page.getByRole('link', { name: 'Dress' }).click();
  await tool(page, 'Edge finish').click();
  await expect(course(page, 'Edge finish')).toContainText('bevels');
  await expect(room(page)).toBeVisible();
  await expect(panel(page)).toContainText('△ past the room');
  await expect(course(page, 'Edge finish')).toContainText(/narrower at \d+ vertices/);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await panel(page).getByRole('button', { name: 'Take 95 %' }).click();
  await expect(panel(page)).not.toContainText('△ past the room');
  await expect(course(page, 'Edge finish')).not.toContainText('narrower');
  await panel(page).getByRole('button', { name: 'Go to the next' }).waitFor({ state: 'hidden' });
});

test('a profile is drawn on the card, by pointer, keys and typed; the width may be a share of what meets the edges', async ({
  page,
}) => {
  await openPlate(page);
  await tool(page, 'Edge finish').click();
  await choose(panel(page).getByRole('combobox', { name: 'Measured' }), 'as a share');
  await type(page, 'Width', '20');
  await expect(course(page, 'Edge finish')).toContainText('by 20 % of the shortest neighbour');
  await expect(panel(page)).toContainText('20 % of 50 %');
  await choose(panel(page).getByRole('combobox', { name: 'Profile' }), 'drawn');
  await expect(course(page, 'Edge finish')).toContainText('a drawn profile');
  // Two parts to each point before the middle, on both halves: six strips along each edge.
  await expect(figure(page, 'state')).toContainText('Closed solid');
  const picture = panel(page).getByRole('group', { name: 'The profile' });
  const second = picture.getByRole('slider', { name: 'Point 2 of the profile' });
  await second.scrollIntoViewIfNeeded();
  const at = (await second.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2 + 40, { steps: 6 });
  await page.mouse.up();
  const out = panel(page).getByRole('spinbutton', { name: 'Point 2 out, percent' });
  await expect(out).not.toHaveValue('70');
  await second.focus();
  const was = Number(await out.inputValue());
  await page.keyboard.press('Shift+ArrowUp');
  await expect(out).toHaveValue(`${was + 10}`);
  await panel(page).getByRole('spinbutton', { name: 'Point 1 along, percent' }).fill('20');
  await page.keyboard.press('Tab');
  await panel(page).getByRole('button', { name: 'Remove point 3' }).click();
  await expect(out).toHaveValue(`${was + 10}`);
  // Without a point in the middle a flat lies there: five strips.
  await expect(picture.getByRole('slider')).toHaveCount(2);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expectAccessible(page);
});

test('points of a cage are moved by their handles, singly and in layers, and all put back', async ({ page }) => {
  await openPlate(page);
  await tool(page, 'Cage').click();
  await type(page, 'Far end times', '1');
  await type(page, 'Parts along Z', '1');
  await expect(figure(page, 'volume')).toContainText('120 cm³');
  for (const axis of ['X', 'Y']) await panel(page).getByLabel(`Point along ${axis}`).selectOption('all');
  await panel(page).getByLabel('Point along Z').selectOption('1');
  // The upper layer, typed: 5 mm up.
  const typed = page.getByRole('group', { name: 'Slide by, typed' });
  await typed.getByLabel('Own axis').selectOption('z');
  await typed.getByRole('textbox').fill('5');
  await page.keyboard.press('Enter');
  await expect(figure(page, 'volume')).toContainText('150 cm³');
  await expect(panel(page).getByRole('button', { name: 'Point 1, 1, 1' })).toBeVisible();
  await panel(page).getByRole('button', { name: 'Reset all' }).click();
  await expect(figure(page, 'volume')).toContainText('120 cm³');
  // By the pointer: the post that stands above the layer.
  const [x, y] = await findHandle(page, { x: 560, y: 100, width: 150, height: 400 });
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 60, { steps: 6 });
  await page.mouse.up();
  await expect(figure(page, 'volume')).not.toContainText('120 cm³');
  await page.locator('canvas').focus();
  await page.keyboard.press('Control+z');
  await expect(figure(page, 'volume')).toContainText('120 cm³');
  // With fewer points the choice stays among those that there are; another cage begins at its first point.
  await type(page, 'Parts along X', '3');
  await panel(page).getByLabel('Point along X').selectOption('3');
  await type(page, 'Parts along X', '1');
  await expect(panel(page).getByLabel('Point along X')).toHaveValue('1');
  await tool(page, 'Cage').click();
  for (const axis of ['X', 'Y', 'Z']) await expect(panel(page).getByLabel(`Point along ${axis}`)).toHaveValue('0');
});
