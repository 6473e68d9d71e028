import { expect, test } from '@playwright/test';
import { expectAccessible, choose, course, figure, hangAt, openSample, type } from './bench.ts';

for (const theme of ['light', 'night'])
  test(`every view can be used by all, ${theme} theme`, async ({ page }) => {
    // The night theme has the same elements in other colours.
    const accessible = () => expectAccessible(page, theme === 'night' ? ['color-contrast'] : undefined);
    await openSample(page);
    if (theme === 'night') {
      await page.getByRole('button', { name: 'Preferences' }).click();
      await choose(page.getByRole('combobox', { name: 'Theme' }), 'Night');
      await expect(page.getByRole('listbox')).toHaveCount(0);
      await accessible();
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog')).toHaveCount(0);
    }
    await accessible();
    await course(page, 'Drains').click();
    await accessible();
    // A drawn outline: its strip, then its card with points and a repeat.
    await page.locator('canvas').focus();
    await page.keyboard.press('d');
    await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
    await accessible();
    await page.mouse.move(780, 480);
    await expect(page.locator('.tag')).toBeVisible();
    for (const [x, y] of [
      [780, 480],
      [810, 500],
      [800, 540],
    ] as const)
      await page.mouse.click(x, y);
    await page.locator('canvas').focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('group', { name: 'What the cut does' })).toBeVisible();
    await accessible();
    await page.keyboard.press('Enter');
    await choose(page.getByRole('combobox', { name: 'Repeat', exact: true }), 'in a row');
    await page.getByRole('button', { name: 'Instance 2', exact: true }).click();
    await accessible();
    await page.locator('canvas').focus();
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
    await accessible();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    for (const stage of ['Survey', 'Dispatch']) {
      await page.getByRole('link', { name: stage }).click();
      await accessible();
    }
    await page.keyboard.press('Control+k');
    await expect(page.getByRole('combobox', { name: 'Name of a tool' })).toBeFocused();
    await accessible();
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: /to the Yard/ }).click();
    await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
    await accessible();
  });

test('Find a tool reaches a command of any stage by what one would call it, and begins it there', async ({ page }) => {
  await openSample(page);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('download obj');
  const option = page.getByRole('option', { name: 'Write the chosen parts to a file' });
  await expect(option).toContainText('on Dispatch');
  await page.getByRole('combobox', { name: 'Name of a tool' }).fill('gague');
  const gauge = page.getByRole('option', { name: 'Plug gauge: is a hole round?' });
  await expect(gauge).toContainText('on Survey');
  await gauge.click();
  await page.waitForURL(/survey$/);
  await expect(page.getByText('an edge of the rim', { exact: false }).first()).toBeVisible();
  await page.keyboard.press('Escape');
  // What cannot be done says what is missing, here and where it lives.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('next place');
  await expect(page.getByRole('option', { name: 'Next place of the finding' })).toContainText('pick a finding first');
  await page.getByRole('combobox', { name: 'Name of a tool' }).fill('bridge');
  await page.keyboard.press('Enter');
  await page.waitForURL(/dress$/);
  await expect(page.locator('.notices')).toContainText('Bridge: Pick');
});

test('a key pressed right after Esc has closed a dialog does what it does elsewhere', async ({ page }) => {
  await openSample(page);
  const others = page.getByRole('button', { name: 'Others', exact: true });
  for (const opens of ['Control+k', '?']) {
    const before = await others.getAttribute('aria-pressed');
    await page.keyboard.press(opens);
    await expect(page.getByRole('dialog')).toBeVisible();
    await page.keyboard.press('Escape');
    // It still fades by now.
    await page.keyboard.press('o');
    await expect(others).toHaveAttribute('aria-pressed', before === 'true' ? 'false' : 'true');
    await expect(page.getByRole('dialog')).toHaveCount(0);
  }
});

test('a figure of the level leads to its line in the survey', async ({ page }) => {
  await openSample(page);
  await figure(page, 'slivers').click();
  await page.waitForURL(/survey\?at=slivers/);
  await expect(page.locator('#row-slivers')).toContainText('A corner under 1°');
});

test('a course that hangs is given up, told of and switched off; nothing else is lost', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Preferences' }).click();
  await page.getByRole('textbox', { name: 'Longest run, seconds' }).fill('2');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await hangAt(page, 'Drains');
  await page.getByRole('switch', { name: 'Lintel notch on' }).click();
  await expect(page.getByText(/Working: Drains/)).toBeVisible();
  await expect(page.getByText(/"Drains" did not finish in time and was switched off/)).toBeVisible();
  await expect(page.getByRole('switch', { name: 'Drains on' })).toHaveAttribute('aria-checked', 'false');
  await expect(page.getByRole('switch', { name: 'Lintel notch on' })).toHaveAttribute('aria-checked', 'false');
  // The new worker works: both can be switched on again.
  await page.getByRole('switch', { name: 'Drains on' }).click();
  await page.getByRole('switch', { name: 'Lintel notch on' }).click();
  await expect(figure(page, 'faces')).toContainText('178');
});

test('a running course can be cancelled', async ({ page }) => {
  await openSample(page);
  await hangAt(page, 'Drains');
  await page.getByRole('switch', { name: 'Lintel notch on' }).click();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText(/"Drains" was stopped and was switched off/)).toBeVisible();
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('a second tab on the same project looks on', async ({ page, context }) => {
  await openSample(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByText(/open in another tab/)).toBeVisible();
  await expect(other.getByRole('button', { name: 'Place a cutter on top' })).toBeDisabled();
});

test('an address that leads nowhere ends in the Yard, with a word', async ({ page }) => {
  await page.goto('/bench/none/cut');
  await page.waitForURL(/yard/);
  await expect(page.getByText(/not in this browser/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'No projects yet' })).toBeVisible();
});

test('keys are shown, and another one can be given to a command but not one that is taken', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog', { name: 'Keys' });
  await expect(sheet.getByRole('row', { name: /^Place a cutter/ })).toContainText('C');
  const change = sheet.getByRole('button', { name: 'Change the key of: Place a cutter' });
  await change.click();
  await page.keyboard.press('d');
  await expect(sheet.getByRole('alert')).toContainText('D already does “Draw on the part”');
  await page.keyboard.press('Control+t');
  await expect(sheet.getByRole('alert')).toContainText('the browser’s');
  await page.keyboard.press('q');
  await expect(sheet.getByRole('row', { name: /^Place a cutter/ })).toContainText('Q');
  await page.keyboard.press('Escape');
  await expect(sheet).toHaveCount(0);
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await expect(page.getByRole('button', { name: 'Place a cutter', exact: true })).toBeVisible();
  await page.keyboard.press('q');
  await expect(page.getByRole('combobox', { name: 'Shape of the cutter' })).toBeVisible();
  // It is there after a reload.
  await page.waitForTimeout(300);
  await page.reload();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await page.locator('canvas').focus();
  await page.keyboard.press('q');
  await expect(page.getByRole('combobox', { name: 'Shape of the cutter' })).toBeVisible();
});

test('the first walk waits for each act, from a cutter to a file; Help has the guide and our words', async ({
  page,
}) => {
  await openSample(page);
  const walk = page.getByRole('region', { name: 'First walk' });
  await expect(walk).toContainText('New here?');
  await page.getByRole('button', { name: 'Help', exact: true }).click();
  const help = page.getByRole('dialog', { name: 'Help' });
  await expect(help.getByRole('article', { name: 'Cut' })).toContainText('Place a cutter');
  await help.getByRole('button', { name: 'Names' }).click();
  await expect(help.getByRole('row', { name: /^Kerf/ })).toContainText('a slit');
  await expectAccessible(page);
  await help.getByRole('button', { name: 'Take the first walk' }).click();
  await expect(walk).toContainText('Step 1 of 5');
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(walk).toContainText('Drag it');
  await type(page, 'Position along x', '300');
  await expect(walk).toContainText('Finish its edges');
  await page.getByRole('link', { name: 'Dress' }).click();
  await page.getByRole('button', { name: 'Edge finish', exact: true }).click();
  await expect(walk).toContainText('Look it over');
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(walk).toContainText('Write a file');
  await page.getByRole('link', { name: 'Dispatch' }).click();
  await page.getByRole('button', { name: /^Write .*\.(obj|glb|stl)$/ }).click();
  await expect(walk).toContainText('That was the walk');
  await walk.getByRole('button', { name: 'Close' }).click();
  await expect(walk).toHaveCount(0);
  // It is not offered again.
  await page.reload();
  await expect(figure(page, 'volume')).toBeVisible();
  await expect(walk).toHaveCount(0);
});
