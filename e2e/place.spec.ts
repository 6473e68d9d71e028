import { expect, test, type Page } from '@playwright/test';
import { choose, course, figure, figureNow, findHandle, openSample, type } from './bench.ts';

const hint = (page: Page) => page.locator('.strip .hint');
const card = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const at = (page: Page, axis: string) => page.getByRole('textbox', { name: `Position along ${axis}`, exact: true });
const tag = (page: Page) => page.locator('.tag:not(.note)');
/** The level's volume in mm³, as it is shown: cm³ and dm³ have two figures after the point. */
async function volume(page: Page): Promise<number> {
  const [, number, unit] = /([\d.]+) (\S+)$/.exec(await figureNow(page, 'volume'))!;
  return Number(number) * { 'mm³': 1, 'cm³': 1e3, 'dm³': 1e6 }[unit!]!;
}
/** Types into the strip's field and presses Enter. */
async function say(page: Page, text: string): Promise<void> {
  const field = page.getByRole('textbox', { name: 'Typed size or depth' });
  await field.fill(text);
  await field.press('Enter');
}

/**
 * A new part: a wedge of 40 × 30 × 20, whose sloping face looks to the right and up and lies in the middle of the view.
 */
async function wedge(page: Page): Promise<void> {
  await openSample(page);
  await page.getByRole('button', { name: 'New part', exact: true }).click();
  await choose(card(page).getByRole('combobox', { name: 'Shape', exact: true }), 'Wedge');
  for (const [name, value] of [
    ['Length', '40'],
    ['Width', '30'],
    ['Height', '20'],
  ] as const)
    await type(page, name, value);
  await expect.poll(() => volume(page)).toBe(12000);
  await page.getByRole('button', { name: 'Name, unit and numbers of the part' }).click();
  await page.locator('canvas').focus();
}

test('with the pointer: a rectangle on a tilted face, on its grid, at a typed depth, is exactly what it should be', async ({
  page,
}) => {
  await wedge(page);
  const box = (await page.locator('canvas').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  // Seen squarely, so that what is drawn stays on it.
  await page.mouse.click(x + 30, y - 20);
  await page.locator('canvas').focus();
  await page.keyboard.press('n');
  await page.keyboard.press('d');
  await page.mouse.move(x, y);
  await expect(tag(page)).toContainText(/grid|centre/);
  await page.getByRole('textbox', { name: 'Step of the grid' }).fill('2');
  await page.keyboard.press('Enter');
  await page.mouse.click(x - 90, y - 50);
  await page.mouse.move(x + 60, y + 70, { steps: 3 });
  await expect(tag(page)).toContainText('grid');
  await page.mouse.click(x + 60, y + 70);
  await expect(hint(page)).toContainText('Pull');
  await say(page, '-3');
  const size = async (name: string) => Number(await page.getByRole('textbox', { name, exact: true }).inputValue());
  await expect(page.getByRole('textbox', { name: 'Height', exact: true })).toHaveValue('3');
  const [length, width] = [await size('Length'), await size('Width')];
  // Whole steps of the grid, turned as the face is: a slope of 1 in 2.
  expect([length % 2, width % 2, length > 4, width > 4]).toEqual([0, 0, true, true]);
  const turn = await Promise.all(
    ['x', 'y', 'z'].map((a) => page.getByRole('textbox', { name: `Turn along ${a}`, exact: true }).inputValue()),
  );
  expect(turn.some((t) => Math.abs(Number(t)) > 20 && Math.abs(Number(t)) < 70)).toBe(true);
  await expect.poll(() => volume(page)).toBeCloseTo(12000 - length * width * 3, 1);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('with the keyboard alone: the same on its grid, and its volume', async ({ page }) => {
  await wedge(page);
  await page.keyboard.press('d');
  await page.keyboard.press('Enter');
  await expect(tag(page)).toContainText(/grid|centre/);
  await page.getByRole('textbox', { name: 'Step of the grid' }).fill('2');
  await page.keyboard.press('Enter');
  await page.locator('canvas').focus();
  for (const key of ['ArrowLeft', 'ArrowLeft', 'ArrowDown', 'Enter']) await page.keyboard.press(key);
  await expect(hint(page)).toContainText('opposite corner');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp');
  await expect(tag(page)).toContainText('10 mm × 6 mm');
  await page.keyboard.press('Enter');
  await say(page, '-3');
  await expect.poll(() => volume(page)).toBeCloseTo(12000 - 10 * 6 * 3, 1);
});

test('a cutter runs along a picked edge, and stands midway between two: by pointer and by keyboard', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Mast clamp' }).click();
  await expect(figure(page, 'faces')).toContainText('198');
  await course(page, 'Adjusting slot').click();
  await type(page, 'Turn along z', '20');
  const turn = page.getByRole('textbox', { name: 'Turn along z', exact: true });
  // By pointer: the long upper edge at the front.
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('e');
  await expect(hint(page)).toContainText('the edge that it runs along');
  const box = (await page.locator('canvas').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x + 19, y + 112);
  await expect(tag(page)).toContainText('edge');
  await page.mouse.click(x + 19, y + 112);
  await expect(turn).toHaveValue('0');
  // Between two edges by keyboard: those of the top are gone through, and the two long ones are taken.
  await page.getByText('Put it in place').click();
  await page.getByRole('button', { name: 'Between two edges' }).click();
  await expect(hint(page)).toContainText('1 of 2');
  await page.locator('canvas').focus();
  await page.keyboard.press('ArrowRight');
  await expect(tag(page)).toContainText('edge');
  await page.keyboard.press('Enter');
  await expect(hint(page)).toContainText('2 of 2');
  // One step back takes one pick back, and no more.
  await page.keyboard.press('Escape');
  await expect(hint(page)).toContainText('1 of 2');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Place a cutter', exact: true })).toBeVisible();
  // By pointer: near and far long edge of the top; the slot keeps its depth and comes to their middle.
  await page.getByRole('textbox', { name: 'Position along y', exact: true }).fill('9');
  await page.keyboard.press('Enter');
  const z = await at(page, 'z').inputValue();
  await page.getByRole('button', { name: 'Between two edges' }).click();
  for (const side of [-1, 1]) {
    await page.mouse.move(x + 19, y + side * 121);
    await expect(tag(page)).toContainText('edge');
    await page.mouse.click(x + 19, y + side * 121);
  }
  await expect(at(page, 'y')).toHaveValue('0');
  await expect(at(page, 'z')).toHaveValue(z);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('typed values move, turn and size along one axis; both sides move when asked; the pivot moves nothing', async ({
  page,
}) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  const strip = page.locator('.strip');
  const typed = async (mode: string, axis: string, value: string) => {
    await strip.getByRole('radio', { name: mode, exact: true }).click();
    await strip.getByRole('combobox', { name: 'Own axis' }).selectOption(axis);
    await strip.locator('.typed-handle input').fill(value);
    await page.keyboard.press('Enter');
  };
  await typed('Slide', 'x', '5 cm');
  await expect(at(page, 'x')).toHaveValue('570');
  await typed('Resize', 'x', '600');
  await expect(page.getByRole('textbox', { name: 'Length', exact: true })).toHaveValue('600');
  await expect(at(page, 'x')).toHaveValue('590');
  await strip.getByRole('button', { name: 'Both sides' }).click();
  await typed('Resize', 'x', '560');
  await expect(at(page, 'x')).toHaveValue('590');
  await typed('Turn', 'z', '30');
  await expect(page.getByRole('textbox', { name: 'Turn along y', exact: true })).toHaveValue('-30');
  await typed('Resize', 'x', '0');
  await expect(strip).toContainText('Type a size above 0.');
  const before = await figureNow(page, 'volume');
  await card(page).getByRole('combobox', { name: 'Pivot', exact: true }).selectOption('base');
  // It stands out 80 mm before and behind the wall: its base is 200 mm from its middle, along its own z.
  await expect(at(page, 'y')).toHaveValue('200');
  await expect(figure(page, 'volume')).toHaveText(before);
});

test('the puck slides a cutter over the surface; Ctrl leaves a copy', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Gauge pod' }).click();
  await expect(figure(page, 'faces')).toContainText('651');
  await course(page, 'Latch seat').click();
  await expect(page.getByRole('radio', { name: 'Slide' })).toBeChecked();
  // The puck is in the middle of the latch seat, which looks to the front; turned to the right it goes round the hull.
  const box = (await page.locator('canvas').boundingBox())!;
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  const middle: [number, number] = [box.x + box.width / 2, box.y + box.height / 2 + 22];
  const [px, py] = await findHandle(page, { x: middle[0] - 10, y: middle[1] - 40, width: 24, height: 80 });
  await page.mouse.move(px, py);
  await page.mouse.down();
  // The surface below may still be being read: the cutter follows from the first move after it.
  await expect(async () => {
    await page.mouse.move(px + 30, py);
    await page.mouse.move(px + 60, py, { steps: 6 });
    await expect(tag(page)).toContainText('over the surface', { timeout: 200 });
  }).toPass();
  await page.mouse.move(px + 100, py, { steps: 6 });
  await page.mouse.up();
  const turn = Number(await page.getByRole('textbox', { name: 'Turn along z', exact: true }).inputValue());
  expect(Math.abs(turn)).toBeGreaterThan(5);
  // As far from the axis as it was: 38 mm.
  const away = Math.hypot(Number(await at(page, 'x').inputValue()), Number(await at(page, 'y').inputValue()));
  expect(Math.abs(away - 38)).toBeLessThan(0.3);
  await expect(figure(page, 'state')).toContainText('Closed solid');

  await page.keyboard.press('Control+z');
  const [cx, cy] = await findHandle(page, { x: middle[0] - 10, y: middle[1] - 40, width: 24, height: 80 });
  await page.mouse.move(cx, cy);
  await page.keyboard.down('Control');
  await page.mouse.down();
  await page.mouse.move(cx + 80, cy, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  await expect(course(page, 'Latch seat')).toContainText('2 cutters');
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('the points of an outline are dragged in the view, bent by their middles, and rounded by a typed radius', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.locator('canvas').focus();
  const box = (await page.locator('canvas').boundingBox())!;
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
  // A free outline on the wall, to the right of the doorway.
  const [x, y] = [box.x + box.width * 0.55, box.y + box.height * 0.55];
  for (const [u, v] of [
    [0, 0],
    [90, 0],
    [90, 90],
    [0, 90],
  ] as const) {
    await page.mouse.move(x + u, y + v, { steps: 3 });
    await expect(tag(page)).toBeVisible();
    await page.mouse.click(x + u, y + v);
  }
  await page.keyboard.press('Enter');
  await say(page, '-50');
  const outline = page.getByRole('button', { name: /^Free outline \d+:/ });
  await expect(outline).toBeVisible();
  const first = await figureNow(page, 'volume');
  await page.getByRole('radio', { name: 'Points' }).click();
  const xs = () =>
    Promise.all(
      [1, 2, 3, 4].map((i) => page.getByRole('textbox', { name: `x of point ${i}`, exact: true }).inputValue()),
    );
  const before = await xs();
  const [hx, hy] = await findHandle(page, { x: x - 24, y: y - 24, width: 40, height: 40 });
  await page.mouse.move(hx, hy);
  await page.mouse.down();
  await page.mouse.move(hx - 40, hy - 30, { steps: 5 });
  await expect(tag(page)).toContainText('mm,');
  await page.mouse.up();
  await expect(figure(page, 'volume')).not.toHaveText(first);
  const moved = await xs();
  expect(moved.filter((v, i) => v !== before[i]).length).toBe(1);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  const dragged = await figureNow(page, 'volume');
  await type(page, 'Corner radius of point 3', '60');
  await expect(figure(page, 'volume')).not.toHaveText(dragged);
  await type(page, 'Bow after point 1', '20');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // One key does something else with the same outline.
  await page.locator('canvas').focus();
  await page.keyboard.press('5');
  await expect(outline).toContainText('scribes');
});

test('two fingers shift the view and zoom; one turns it', async ({ page }) => {
  await openSample(page);
  const cdp = await page.context().newCDPSession(page);
  const shot = async () => (await page.locator('canvas').screenshot()).toString('base64');
  const touch = (kind: 'touchStart' | 'touchMove' | 'touchEnd', ...points: [number, number][]) =>
    cdp.send('Input.dispatchTouchEvent', { type: kind, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
  const start = await shot();
  await touch('touchStart', [600, 400]);
  await touch('touchMove', [660, 420]);
  await touch('touchEnd');
  await expect.poll(async () => (await shot()) === start).toBe(false);
  const turned = await shot();
  await touch('touchStart', [560, 400], [700, 400]);
  await touch('touchMove', [500, 420], [760, 420]);
  await touch('touchEnd');
  await expect.poll(async () => (await shot()) === turned).toBe(false);
  await expect(figure(page, 'volume')).toContainText('683.03');
});

test('a box on the side of a round part stands upright, and its numbers go by steps', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'New part', exact: true }).click();
  await choose(card(page).getByRole('combobox', { name: 'Shape', exact: true }), 'Cylinder');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await page.getByRole('button', { name: 'Fit', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await page.getByRole('combobox', { name: 'Shape of the cutter' }).selectOption('box');
  const box = (await page.locator('canvas').boundingBox())!;
  await page.mouse.click(box.x + box.width / 2 - 60, box.y + box.height / 2 + 60);
  const turn = (axis: string) => page.getByRole('textbox', { name: `Turn along ${axis}`, exact: true });
  await expect(turn('x')).toHaveValue('90');
  await expect(turn('y')).toHaveValue('0');
  await expect(turn('z')).not.toHaveValue('0');

  const at = page.getByRole('textbox', { name: 'Position along z', exact: true });
  await type(page, 'Position along z', '5');
  await at.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect(at).toHaveValue('15');
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeEnabled();
  const letter = (await page.locator('[data-drags$="position-z"]').boundingBox())!;
  await page.mouse.move(letter.x + 3, letter.y + 6);
  await page.mouse.down();
  await page.mouse.move(letter.x - 17, letter.y + 6, { steps: 5 });
  await page.mouse.up();
  await expect(at).toHaveValue('10');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(at).toHaveValue('15');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(at).toHaveValue('5');
  // What a change came to is announced; the page is named after the project and its stage.
  await expect(page.locator('footer [aria-live]')).toHaveText(/Closed solid, \d+ faces\.$/);
  await expect(page).toHaveTitle('Skerry Light · Cut · Dusky Mason');
  const operations = page.getByRole('radiogroup', { name: 'What the cutters do' });
  await operations.getByRole('radio', { name: 'remove' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(operations.getByRole('radio', { name: 'add' })).toBeChecked();
  await page.keyboard.press('ArrowLeft');
  await expect(operations.getByRole('radio', { name: 'remove' })).toBeFocused();
  await page.getByRole('link', { name: 'Skip to the view' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('canvas')).toBeFocused();
  // A click selects all, so that what is typed takes its place.
  await at.click();
  await page.keyboard.type('2 * 4');
  await page.keyboard.press('Enter');
  await expect(at).toHaveValue('8');
});
