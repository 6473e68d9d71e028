import { expect, test, type Page } from '@playwright/test';
import { choose, figure, figureNow, openSample } from './bench.ts';

const hint = (page: Page) => page.locator('.strip .hint');
/** Types into the strip's field and presses Enter. */
async function say(page: Page, text: string): Promise<void> {
  const field = page.getByRole('textbox', { name: 'Typed size or depth' });
  await field.fill(text);
  await field.press('Enter');
}
/** The course of what was drawn: it is named after its outline and its place in the wall. */
const drawn = (page: Page, outline: string) => page.getByRole('button', { name: new RegExp(`^${outline} \\d+:`) });
const volume = async (page: Page): Promise<number> =>
  parseFloat((await figureNow(page, 'volume')).replace(/[^\d.]/g, ''));

test('with the pointer: a rectangle on the wall, dragged, then pulled to a typed depth', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await expect(hint(page)).toContainText('Click a corner on a face');
  await page.mouse.move(771, 476);
  // The face under the pointer is requested; then its grid and the place show.
  await expect(page.locator('.tag')).toContainText(/grid|edge|vertex/);
  await page.mouse.down();
  await page.mouse.move(790, 495, { steps: 4 });
  await page.mouse.move(802, 532, { steps: 4 });
  await expect(page.locator('.tag')).toContainText('×');
  await page.mouse.up();
  await expect(hint(page)).toContainText('Pull');
  await page.mouse.move(781, 589, { steps: 3 });
  await expect(page.locator('.tag')).toContainText(/removes|adds/);
  await say(page, '-40');
  await expect(drawn(page, 'Rectangle')).toContainText('removes box');
  await expect(page.getByRole('textbox', { name: 'Height', exact: true })).toHaveValue('40');
  const [x, y] = await Promise.all(
    ['Length', 'Width'].map((name) => page.getByRole('textbox', { name, exact: true }).inputValue()),
  );
  await expect(page.getByRole('complementary', { name: 'Card' })).toContainText('5 faces');
  const away = (Number(x) * Number(y) * 40) / 1e6;
  await expect.poll(() => volume(page)).toBeCloseTo(683.03 - away, 1);
  // One step of the history, whatever was shown on the way.
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
});

test('with the keyboard alone: a 40 mm hole through the middle of the face in three acts', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('circle');
  await page.locator('canvas').focus();
  // One: the face in the middle of the view. Two: the size. Three: the depth.
  await page.keyboard.press('Enter');
  await expect(page.locator('.tag')).toBeVisible();
  await say(page, '40');
  await expect(hint(page)).toContainText('Pull');
  await say(page, 'through');
  await expect(drawn(page, 'Circle')).toContainText('cylinder Ø 40');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // A prism of 64 sides through 240 mm of wall.
  await expect.poll(() => volume(page)).toBeCloseTo(683.03 - (32 * 400 * Math.sin(Math.PI / 32) * 240) / 1e6, 1);
  await expect(page.getByRole('switch', { name: 'Through' })).toBeChecked();
});

test('a free outline in a straight-on view cuts the wall in two, and the other piece is kept', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
  const box = (await page.locator('canvas').boundingBox())!;
  // Beside the part there is no face: the plane is square to the view.
  const at = (x: number, y: number): [number, number] => [box.x + box.width * x, box.y + box.height * y];
  for (const [x, y] of [
    [0.05, 0.1],
    [0.62, 0.1],
    [0.7, 0.5],
    [0.62, 0.8],
    [0.05, 0.8],
  ] as const) {
    await page.mouse.move(...at(x, y), { steps: 3 });
    await page.mouse.click(...at(x, y));
  }
  await expect(hint(page)).toContainText('closes it');
  // A piece too many is taken back, one step at a time.
  await page.mouse.click(...at(0.05, 0.5));
  await page.keyboard.press('Escape');
  await page.keyboard.press('Enter');
  await expect(hint(page)).toContainText('Pull');
  await page.keyboard.press('p');
  await page.keyboard.press('t');
  await page.keyboard.press('Enter');
  await expect(drawn(page, 'Free outline')).toContainText('splits along');
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await choose(card.getByRole('combobox', { name: 'Keeps' }), 'the offcut');
  const offcut = await expect
    .poll(() => volume(page))
    .toBeLessThan(680)
    .then(() => volume(page));
  await choose(card.getByRole('combobox', { name: 'Keeps' }), 'the rest');
  await expect.poll(() => volume(page)).toBeCloseTo(683.03 - offcut, 1);
});

test('what cannot be drawn is told, and Esc goes back one step at a time', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await say(page, '40 x 25');
  await expect(page.getByRole('alert')).toContainText('Point at a face first');
  await page.mouse.move(780, 480);
  await expect(page.locator('.tag')).toBeVisible();
  for (const [text, why] of [
    ['-4', 'above 0'],
    ['1e9', '1 km'],
    ['abc', ''],
  ] as const) {
    await say(page, text);
    await expect(page.getByRole('alert')).toContainText(why);
  }
  await say(page, '40 x 25');
  await expect(hint(page)).toContainText('Pull');
  await page.locator('canvas').focus();
  await page.keyboard.press('Escape');
  await expect(hint(page)).toContainText('Click a corner');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Place a cutter', exact: true })).toBeVisible();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
});

test('a circle on the round hull lies in the tangent plane, and six slots go round it in six acts', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Gauge pod' }).click();
  // The pod is there, not only its name.
  await expect(figure(page, 'volume')).toContainText('cm³');
  await page.getByRole('button', { name: 'Side', exact: true }).click();
  await page.locator('canvas').focus();
  // Straight on it would lie in the view.
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('circle');
  const box = (await page.locator('canvas').boundingBox())!;
  const hull: [number, number] = [box.x + box.width * 0.42, box.y + box.height * 0.62];
  // On the face, not on a plane before the part: the tag names what lies on it.
  await expect(async () => {
    await page.mouse.move(...hull);
    await page.mouse.move(hull[0] + 1, hull[1]);
    await expect(page.locator('.tag')).toContainText(/edge|vertex|middle|centre/, { timeout: 500 });
  }).toPass();
  await say(page, '12');
  await say(page, '-4');
  // It reaches past its narrow facet, so it stands proud of the hull as well as into it.
  await expect(drawn(page, 'Circle')).toContainText('removes cylinder Ø 12 × 10');
  await expect(figure(page, 'state')).toContainText('Closed solid');

  let acts = 0;
  const act = async (what: Promise<unknown>) => {
    acts++;
    await what;
  };
  await page.locator('canvas').focus();
  await act(page.keyboard.press('k'));
  await act(page.getByTitle('Stamp Keyway on faces').click());
  await act(page.mouse.click(...hull));
  await expect(page.getByRole('button', { name: /^Keyway:/ })).toBeVisible();
  await act(page.keyboard.press('Escape'));
  await act(choose(page.getByRole('combobox', { name: 'Repeat', exact: true }), 'round an axis'));
  const count = page.getByRole('textbox', { name: 'How many' });
  await count.fill('6');
  await act(count.press('Enter'));
  await expect(page.getByRole('button', { name: /^Keyway:/ })).toContainText('6 cutters');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  expect(acts).toBe(6);
});

test('a free outline drawn by hand, without letting go, is thinned and closed', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
  await page.mouse.move(640, 500);
  await expect(page.locator('.tag')).toBeVisible();
  await page.mouse.down();
  for (let i = 1; i <= 30; i++) {
    const a = (Math.PI * 1.8 * i) / 30;
    await page.mouse.move(660 - 20 * Math.cos(a), 500 + 20 * Math.sin(a));
  }
  await page.mouse.up();
  await page.keyboard.press('Enter');
  await expect(hint(page)).toContainText('Pull');
  await say(page, 'through');
  await expect(drawn(page, 'Free outline')).toContainText('removes prism of an outline');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await page.getByText(/^Its \d+ points/).click();
  const points = page.getByRole('row').filter({ has: page.getByRole('textbox', { name: /^x of point/ }) });
  expect(await points.count()).toBeGreaterThan(5);
  expect(await points.count()).toBeLessThan(25);
});

test('another outline on the same face, and an undo while it is pulled, lose nothing', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.mouse.move(780, 480);
  await expect(page.locator('.tag')).toBeVisible();
  // The face under the pointer is still the one to draw on.
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('circle');
  await page.mouse.move(782, 482);
  await say(page, '60');
  await say(page, '-30');
  await expect(drawn(page, 'Circle')).toContainText('removes cylinder Ø 60 × 30');
  const one = await figureNow(page, 'volume');
  await page.locator('canvas').focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('d');
  await page.mouse.move(640, 520);
  await expect(page.locator('.tag')).toBeVisible();
  await say(page, '80 x 40');
  await page.mouse.move(640, 560, { steps: 3 });
  await expect(page.locator('.tag')).toContainText(/removes|adds/);
  // The circle is taken back meanwhile, and does not come back with the rectangle.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await say(page, '-30');
  await expect(drawn(page, 'Rectangle')).toContainText('removes box 80 × 40 × 30');
  await expect(drawn(page, 'Circle')).toHaveCount(0);
  expect(await figureNow(page, 'volume')).not.toBe(one);
});

test('a circle in a straight-on view of a ball lies in the view, at the ball’s surface', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'New part', exact: true }).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await choose(card.getByRole('combobox', { name: 'Shape', exact: true }), 'Ball from rings');
  await page.getByRole('button', { name: 'Front', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('circle');
  const box = (await page.locator('canvas').boundingBox())!;
  const at = (x: number, y: number) => [box.x + box.width / 2 + x, box.y + box.height / 2 + y] as const;
  await page.mouse.move(...at(-60, -40));
  await expect(page.locator('.tag')).toBeVisible();
  await page.mouse.click(...at(-60, -40));
  await say(page, '10');
  await expect(hint(page)).toContainText('Pull');
  await say(page, 'through');
  await expect(drawn(page, 'Circle')).toContainText('cylinder Ø 10');
  for (const [axis, turn] of [
    ['x', '90'],
    ['y', '0'],
    ['z', '0'],
  ] as const)
    await expect(page.getByRole('textbox', { name: `Turn along ${axis}`, exact: true })).toHaveValue(turn);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});
