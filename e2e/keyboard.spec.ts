import { expect, test, type Page } from '@playwright/test';
import { course, figure, figureNow, openSample } from './bench.ts';

// All of this by keyboard alone: no pointer is moved.

const hint = (page: Page) => page.locator('.strip .hint');
const canvas = (page: Page) => page.locator('canvas').focus();
const press = async (page: Page, ...keys: string[]): Promise<void> => {
  for (const key of keys) await page.keyboard.press(key);
};
/** Does what a command of that name does. */
async function tool(page: Page, words: string): Promise<void> {
  await press(page, 'Control+k');
  await page.keyboard.type(words);
  await press(page, 'Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
}
/** Types into the strip's field and presses Enter. */
async function say(page: Page, text: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Typed size or depth' }).focus();
  await page.keyboard.type(text);
  await press(page, 'Enter');
}
async function volume(page: Page): Promise<number> {
  const [, number, unit] = /([\d.]+) (\S+)$/.exec(await figureNow(page, 'volume'))!;
  return Number(number) * { 'mm³': 1, 'cm³': 1e3, 'dm³': 1e6 }[unit!]!;
}

test('a free outline by typed pieces in the front view parts the wall, and the other piece is kept', async ({
  page,
}) => {
  await openSample(page);
  await canvas(page);
  await press(page, 'v');
  await tool(page, 'draw: free');
  await press(page, 'Enter');
  await expect(page.locator('.tag:not(.note)')).toBeVisible();
  await press(page, 'Enter');
  for (const piece of ['200, 0', '100, 90', '200, 180']) await say(page, piece);
  await canvas(page);
  await press(page, 'Enter');
  await expect(hint(page)).toContainText('Pull');
  await say(page, 'through');
  const outline = page.getByRole('button', { name: /^Free outline \d+:/ });
  await expect(outline).toContainText('removes');
  await canvas(page);
  await press(page, '4');
  await expect(outline).toContainText('splits');
  await page.getByRole('combobox', { name: 'Keeps', exact: true }).focus();
  await press(page, 'ArrowDown', 'ArrowDown', 'ArrowDown', 'Enter');
  // 200 × 100 of a wall of 240 mm, less what lay in the notch, if any of it did.
  await expect.poll(() => volume(page)).toBeCloseTo(200 * 100 * 240, -2);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('a circle on the round hull, a stamp of the rack on the top of the wall', async ({ page }) => {
  await openSample(page);
  await canvas(page);
  await press(page, 'k');
  await page.keyboard.type('latch');
  await page.getByTitle('Stamp Latch seat on faces').focus();
  await press(page, 'Enter');
  await expect(hint(page)).toContainText('face to stamp');
  await canvas(page);
  await press(page, 'Enter');
  await expect(course(page, 'Latch seat')).toContainText('rounded box 60 × 24');
  await press(page, 'Escape');

  await tool(page, 'next part');
  await expect(figure(page, 'faces')).toContainText('651');
  await canvas(page);
  await press(page, 'v', 'ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight');
  const before = await volume(page);
  await tool(page, 'draw: circle');
  await press(page, 'Enter');
  await expect(page.locator('.tag:not(.note)')).toBeVisible();
  await say(page, '10');
  await expect(hint(page)).toContainText('Pull');
  await say(page, '-4');
  await expect(page.getByRole('button', { name: /^Circle \d+:/ })).toContainText('removes cylinder Ø 10');
  // About the cylinder that was pulled: the tangent plane lies on the hull.
  await expect.poll(async () => before - (await volume(page))).toBeGreaterThan(250);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('a profile by typed pieces is turned to a part of exactly its volume', async ({ page }) => {
  await openSample(page);
  await canvas(page);
  // Faster than the view is drawn: what is meant is where it looks by then.
  await page.locator('canvas').evaluate((to) => {
    for (const key of ['v', 't', 'Enter', 'Enter'])
      to.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  });
  await expect(hint(page)).toContainText('Click the next point');
  for (const piece of ['20, 0', '30, 90', '20, 180']) await say(page, piece);
  await canvas(page);
  await press(page, 'Enter');
  await expect(course(page, 'Turned body')).toContainText('Ø 40 × 30');
  await expect.poll(() => volume(page)).toBeCloseTo(32 * 400 * Math.sin(Math.PI / 32) * 30, 1);
});

test('a cutter is put midway between two edges', async ({ page }) => {
  await openSample(page);
  await tool(page, 'new part');
  await expect(figure(page, 'faces')).toContainText('6 ·');
  await canvas(page);
  await press(page, 'c', 'Enter');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await canvas(page);
  await press(page, 'Shift+ArrowRight');
  const x = page.getByRole('textbox', { name: 'Position along x', exact: true });
  await expect(x).toHaveValue('10');
  await tool(page, 'look from: top');
  await tool(page, 'midway between');
  await expect(hint(page)).toContainText('1 of 2');
  await press(page, 'ArrowRight');
  await expect(page.locator('.tag:not(.note)')).toContainText('edge');
  await press(page, 'Enter');
  await expect(hint(page)).toContainText('2 of 2');
  await press(page, 'ArrowRight', 'ArrowRight', 'Enter');
  await expect(x).toHaveValue('0');
  await expect(page.getByRole('textbox', { name: 'Position along y', exact: true })).toHaveValue('0');
});
