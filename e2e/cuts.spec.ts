import { expect, test } from '@playwright/test';
import { choose, course, figure, figureNow, kept, openSample, type } from './bench.ts';

test('one cutter removes, splits, scribes and slits, each in its own way', async ({ page }) => {
  await openSample(page);
  const card = page.getByRole('complementary', { name: 'Card' });
  const as = (word: string) => card.getByRole('radio', { name: word, exact: true }).click();
  await course(page, 'Hatch').click();
  await as('split');
  await expect(course(page, 'Hatch')).toContainText('splits along');
  // Both pieces: the figure of before is there until the new one is.
  await expect(figure(page, 'volume')).not.toContainText('683.03 dm³');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  const whole = await figureNow(page, 'volume');
  await choose(card.getByRole('combobox', { name: 'Keeps' }), 'the rest');
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await as('scribe');
  await expect(course(page, 'Hatch')).toContainText('enclosed');
  await expect(figure(page, 'volume')).toHaveText(whole);
  await as('kerf');
  await type(page, 'Slit width', '12');
  await type(page, 'Slit depth', '8');
  await expect(course(page, 'Hatch')).toContainText('12 mm wide, 8 mm deep');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expect(figure(page, 'volume')).not.toHaveText(whole);
});

test('the dry fit speaks while a cutter moves, shows its remedy when pointed at, and applies it', async ({ page }) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card).toContainText('No problems');
  // From 10 mm behind the face to far outside.
  await type(page, 'Position along y', '-210');
  await type(page, 'Height', '640');
  await expect(card.getByText('Stops short: a skin of 10 mm is left.')).toBeVisible();
  const blind = await figureNow(page, 'volume');
  // Nothing is half typed in the field, so undo and redo are the project's.
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('textbox', { name: 'Height' })).toHaveValue('400');
  await page.keyboard.press('Control+Shift+z');
  await expect(figure(page, 'volume')).toHaveText(blind);
  const act = card.getByRole('button', { name: 'Go through' });
  await act.hover();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await page.mouse.move(600, 300);
  await expect(figure(page, 'volume')).toHaveText(blind);
  await act.click();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await expect(card.getByRole('switch', { name: 'Through' })).toBeChecked();
  await page.keyboard.press('Control+z');
  await expect(figure(page, 'volume')).toHaveText(blind);
});

test('a fitted leaf follows its cutter, is detached, and is kept', async ({ page }) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  await page.getByRole('button', { name: 'Add a leaf' }).click();
  await expect(page.getByText('It follows Hatch of Pump-house wall')).toBeVisible();
  await type(page, 'Gap all round', '10');
  await type(page, 'Thickness', '50');
  const first = await figureNow(page, 'volume');
  await page.getByRole('button', { name: 'Pump-house wall', exact: true }).click();
  await course(page, 'Hatch').click();
  await type(page, 'Length', '600');
  await page.getByRole('button', { name: 'Leaf of Hatch', exact: true }).click();
  await expect(figure(page, 'volume')).not.toHaveText(first);
  await course(page, 'Leaf').click();
  await page.getByRole('button', { name: 'Detach' }).click();
  await expect(page.getByRole('textbox', { name: 'Position along x' })).toBeVisible();
  const after = await figureNow(page, 'volume');
  await kept(page);
  await page.reload();
  await expect(figure(page, 'volume')).toHaveText(after);
});

test('freezing keeps the courses in a copy', async ({ page }) => {
  await openSample(page);
  await course(page, 'Lintel notch').click();
  await page.getByRole('button', { name: 'Freeze up to here' }).click();
  await expect(course(page, 'Frozen')).toBeVisible();
  expect(await page.locator('ol strong').allInnerTexts()).toEqual(['Drains', 'Frozen']);
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await page.getByRole('button', { name: 'Pump-house wall, its courses' }).click();
  await expect(course(page, 'Lintel notch')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Pump-house wall, its courses' })).toHaveCount(0);
});

test('edges round a new hole, UVs and a projected outline are chosen on the card', async ({ page }) => {
  await openSample(page);
  const card = page.getByRole('complementary', { name: 'Card' });
  const set = (field: string, option: string) => choose(card.getByRole('combobox', { name: field }), option);
  await course(page, 'Hatch').click();
  const plain = await figureNow(page, 'faces');
  await set('Edges round new holes', 'ring of quads');
  await expect(card).toContainText('Rings of quads');
  await expect(figure(page, 'faces')).not.toHaveText(plain);
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await type(page, 'Ring width', '30');
  await set('Edges round new holes', 'ties to corners');
  await expect(card).not.toContainText('Rings of quads');
  await expect(figure(page, 'state')).toContainText('Closed solid');

  await card.getByRole('radio', { name: 'scribe', exact: true }).click();
  await expect(card.getByRole('combobox', { name: 'Edges round new holes' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Project along the view' }).click();
  await expect(card.getByRole('group', { name: 'Towards' })).toBeVisible();
  await expect(course(page, 'Hatch')).toContainText('enclosed');
  // The outline lies in the wall's own plane: from straight below there is nothing to project.
  await set('Projected along', 'Z');
  await expect(card).toContainText('would project it to a line');
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Hatch')).toContainText('enclosed');
});

test('a cutter is repeated in a row, and one of the row is switched off', async ({ page }) => {
  await openSample(page);
  const card = page.getByRole('complementary', { name: 'Card' });
  await course(page, 'Hatch').click();
  await type(page, 'Length', '100');
  await type(page, 'Width', '100');
  await choose(card.getByRole('combobox', { name: 'Repeat', exact: true }), 'in a row');
  await type(page, 'Step', '120');
  await expect(course(page, 'Hatch')).toContainText('5 cutters, each rounded box 100 × 100');
  const five = await figureNow(page, 'volume');
  await card.getByRole('button', { name: 'Instance 2', exact: true }).click();
  await card.getByRole('button', { name: 'Switch off instance 2' }).click();
  await expect(course(page, 'Hatch')).toContainText('4 cutters, each');
  await expect(figure(page, 'volume')).not.toHaveText(five);
  await card.getByRole('textbox', { name: 'Moved along z' }).fill('40');
  await page.keyboard.press('Enter');
  await card.getByRole('button', { name: 'Switch on instance 2' }).click();
  await expect(figure(page, 'volume')).toHaveText(five);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await type(page, 'How many', '1000');
  await expect(card.getByRole('group', { name: 'Instances' })).toHaveCount(0);
});

test('another part is the cutter: linked, it follows; as a copy, it does not', async ({ page }) => {
  await openSample(page);
  const card = page.getByRole('complementary', { name: 'Card' });
  await course(page, 'Hatch').click();
  await choose(card.getByRole('combobox', { name: 'Shape', exact: true }), 'Part: Mast clamp');
  await expect(card).toContainText('Linked: it follows the part.');
  await expect(figure(page, 'volume')).not.toContainText('683.03');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  const linked = await figureNow(page, 'volume');
  await page.getByRole('button', { name: 'Mast clamp', exact: true }).click();
  await course(page, 'Mast seat').click();
  await page.getByRole('button', { name: 'Delete this cut' }).click();
  await page.getByRole('button', { name: 'Pump-house wall', exact: true }).click();
  await expect(figure(page, 'volume')).not.toHaveText(linked);
  const followed = await figureNow(page, 'volume');
  await course(page, 'Hatch').click();
  await page.getByRole('button', { name: 'Take a copy instead' }).click();
  await expect(card).not.toContainText('Linked');
  await expect(figure(page, 'volume')).toHaveText(followed);
});

test('a cutter is centred, put on the part’s bottom, turned end for end, and seated on the face that was clicked', async ({
  page,
}) => {
  await openSample(page);
  const at = (axis: string) => page.getByRole('textbox', { name: `Position along ${axis}`, exact: true });
  await course(page, 'Hatch').click();
  await page.getByText('Put it in place').click();
  const place = page.getByRole('group', { name: 'Put it in place' });
  await expect(place.getByRole('button', { name: 'Onto the clicked face' })).toBeDisabled();
  await place.getByRole('button', { name: 'Centre x' }).click();
  await expect(at('x')).toHaveValue('0');
  await place.getByRole('button', { name: 'Onto the part’s bottom' }).click();
  await expect(at('z')).toHaveValue('210');
  const turn = page.getByRole('textbox', { name: 'Turn along x' });
  const before = await turn.inputValue();
  await place.getByRole('button', { name: 'Turn end for end' }).click();
  await expect(turn).not.toHaveValue(before);
  await expect(at('z')).toHaveValue('210');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(turn).toHaveValue(before);
  // The front of the wall, 120 mm before its middle; then the hatch is as deep as it is high.
  await page.mouse.click(780, 480);
  await course(page, 'Hatch').click();
  await place.getByRole('button', { name: 'Onto the clicked face' }).click();
  await expect(at('y')).toHaveValue('80');
  await expect(page.getByRole('textbox', { name: 'Turn along x' })).toHaveValue('90');
  await expect(figure(page, 'state')).toContainText('Closed solid');
});
