import { expect, test, type Page } from '@playwright/test';
import { course, drop, figure, openSample, type } from './bench.ts';

// A user's work is restored after a reload; what cannot be restored is refused in words.

/** Words that come from a validator or an engine, never from us. */
const RAW = /[{[]"|invalid_|undefined|NaN|is not a function|Cannot read|Error:|\bnull\b/;

/** Notices and problems on the page. */
const said = async (page: Page): Promise<string> =>
  (await page.locator('[role=alert], [role=status], .notices').allInnerTexts()).join(' ');

/** Puts a value into every document as it lies in the browser, at a path. */
const inStorage = (page: Page, path: (string | number)[], value: unknown): Promise<void> =>
  page.evaluate(
    async ([keys, put]) => {
      const db = await new Promise<IDBDatabase>((done, fail) => {
        const r = indexedDB.open('dusky-mason');
        r.onsuccess = () => done(r.result);
        r.onerror = () => fail(new Error('no database'));
      });
      const all = db.transaction(['projects'], 'readwrite');
      const box = all.objectStore('projects');
      await new Promise<void>((done) => {
        box.openCursor().onsuccess = function () {
          const at = this.result;
          if (!at) return done();
          let inner = (at.value as { document: Record<string, unknown> }).document;
          for (const k of keys.slice(0, -1)) inner = inner[k] as Record<string, unknown>;
          inner[keys.at(-1)!] = put;
          at.update(at.value);
          at.continue();
        };
      });
      await new Promise((done) => (all.oncomplete = done));
      db.close();
    },
    [path, value] as const,
  );

const x = (page: Page) => page.getByRole('textbox', { name: 'Position along x', exact: true });

test('a place that is too far away is refused at its field, and the project opens again', async ({ page }) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  const before = await x(page).inputValue();
  for (const [text, says] of [
    ['20000 m', 'Position along x: at most 10000 m.'],
    ['1e308', 'Position along x: at most 10000 m.'],
    ['1e999', 'The result is not a finite number.'],
  ] as const) {
    await type(page, 'Position along x', text);
    await expect(page.getByRole('alert').filter({ hasText: says })).toBeVisible();
  }
  await x(page).press('Escape');
  await expect(x(page)).toHaveValue(before);
  await type(page, 'Width', '1e-30');
  await expect(page.getByRole('alert').filter({ hasText: 'Width: at least 0.000000001 mm.' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled();
  await page.reload();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
});

test('nudges are kept though one goes to the Yard at once, and undo is there after a reload', async ({ page }) => {
  await openSample(page);
  await course(page, 'Hatch').click();
  const before = Number(await x(page).inputValue());
  await page.locator('canvas').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'Open Skerry Light' }).click();
  await course(page, 'Hatch').click();
  const after = Number(await x(page).inputValue());
  expect(after - before).toBeGreaterThan(0);
  await page.reload();
  await course(page, 'Hatch').click();
  await expect(x(page)).toHaveValue(String(after));
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  await expect(x(page)).toHaveValue(String(before));
  await page.reload();
  await course(page, 'Hatch').click();
  await expect(x(page)).toHaveValue(String(before));
  for (let i = 0; i < 3; i++) await page.keyboard.press('Control+y');
  await expect(x(page)).toHaveValue(String(after));
});

test('a project that cannot be read is told of, opened without what is broken, written out and deleted', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  await inStorage(page, ['parts', 0, 'courses', 2, 'params', 'cutters', 0, 'placement', 'position', 0], 2e7);
  await page.getByRole('button', { name: 'Open Skerry Light' }).click();
  const panel = page.getByRole('alert').filter({ hasText: 'cannot be read whole' });
  await expect(panel).toContainText('In "Pump-house wall", "Hatch", "Hatch": Position along x: at most 10000 m.');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    panel.getByRole('button', { name: 'Write it to a file' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('skerry-light.zip');
  await panel.getByRole('button', { name: 'Open a copy of the rest' }).click();
  await page.waitForURL(/\/bench\/.+\/cut$/);
  await expect(course(page, 'Doorway')).toBeVisible();
  await expect(course(page, 'Hatch')).toHaveCount(0);
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'Delete Skerry Light', exact: true }).click();
  await expect(page.getByText('"Skerry Light" is deleted.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByRole('button', { name: 'Open Skerry Light', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate Skerry Light', exact: true }).click();
  await expect(page.getByText(/"Hatch".*is left out/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Open Skerry Light copy' })).toBeVisible();
});

test('a course that a newer version made is told of as that', async ({ page }) => {
  await openSample(page);
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await expect(page.getByRole('heading', { name: 'Yard' })).toBeVisible();
  await inStorage(page, ['parts', 0, 'courses', 2, 'kind'], 'engrave');
  await page.getByRole('button', { name: 'Open Skerry Light' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'a newer version of Dusky Mason made this' })).toBeVisible();
  expect(await said(page)).not.toMatch(/subdivide|thicken|relight/);
});

test('a second tab looks on, says so when asked, and takes over when the first one closes', async ({
  page,
  context,
}) => {
  await openSample(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByText(/open in another tab/)).toBeVisible();
  await expect(figure(other, 'volume')).toContainText('683.03 dm³');
  await expect(other.getByText(/open in another tab/)).toHaveCount(0, { timeout: 20_000 });
  await other.locator('canvas').focus();
  await other.keyboard.press('c');
  await expect(other.getByText(/open in another tab/)).toBeVisible();
  await course(page, 'Hatch').click();
  await type(page, 'Width', '444');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await expect(other.getByText('The other tab has closed this project. It can be changed here now.')).toBeVisible();
  await course(other, 'Hatch').click();
  await expect(other.getByRole('textbox', { name: 'Width', exact: true })).toHaveValue('444');
  await type(other, 'Width', '333');
  await other.reload();
  await course(other, 'Hatch').click();
  await expect(other.getByRole('textbox', { name: 'Width', exact: true })).toHaveValue('333');
});

test('on a slow machine the pointer may come before the first frame', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', (e) => errors.push(e.message));
  const slow = await page.context().newCDPSession(page);
  await slow.send('Emulation.setCPUThrottlingRate', { rate: 20 });
  await page.goto('/');
  await page.waitForURL(/\/bench\/.+\/cut$/);
  await page.locator('canvas').waitFor();
  for (let i = 0; i < 6; i++) {
    await page.keyboard.press('c');
    await page.waitForTimeout(10);
    await page.mouse.move(700, 380 + i);
    await page.keyboard.press('v');
    await page.mouse.move(640 + 5 * i, 400);
    await page.keyboard.press('Escape');
  }
  await slow.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  expect(await said(page)).not.toMatch(RAW);
  expect(errors).toEqual([]);
});

test('a file name of 230 characters is cut short, not refused with a validator’s text', async ({ page }) => {
  await openSample(page);
  await drop(page, '.bench', `${'a'.repeat(226)}.obj`, 'v 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n');
  await expect(figure(page, 'state')).toContainText('Open');
  expect(await said(page)).not.toMatch(RAW);
  await page.reload();
  await expect(figure(page, 'state')).toContainText('Open');
});

test('keys belong to what is drawn, wherever the focus is', async ({ page }) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Outline to draw' }).selectOption('free');
  await page.mouse.move(780, 480);
  await expect(page.locator('.tag')).toBeVisible();
  for (const [px, py] of [
    [780, 480],
    [810, 500],
    [800, 540],
    [770, 530],
  ] as const)
    await page.mouse.click(px, py);
  const tag = page.locator('.tag:not(.note)');
  const kept = await tag.innerText();
  // Letters of other commands do nothing, from the view and from a button of the strip.
  const arc = page.getByRole('button', { name: 'Arc', exact: true });
  for (const focus of [page.locator('canvas'), arc]) {
    await focus.focus();
    for (const key of ['t', 'x', 'c', 'd', 'k', 'w', 'g', 'n', 'h', 'm', 'b', 'v', '1', '?', 'Delete'].filter(
      (k) => k !== '1',
    ))
      await page.keyboard.press(key);
    await expect(page.getByRole('combobox', { name: 'Outline to draw' })).toHaveValue('free');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(page.getByRole('region', { name: 'Parts' }).getByText('Gauge pod')).toBeVisible();
  }
  expect(await tag.innerText()).toBe(kept);
  // What begins a value goes to the field, with what follows: an x in it is an x.
  await page.locator('canvas').focus();
  await page.keyboard.type('1200 x 1000');
  const field = page.getByRole('textbox', { name: 'Typed size or depth' });
  await expect(field).toHaveValue('1200 x 1000');
  await expect(field).toBeFocused();
  // Esc empties the field, then steps back from wherever the focus is, until nothing is left.
  await page.keyboard.press('Escape');
  await expect(field).toHaveValue('');
  for (let i = 0; i < 5; i++) await page.keyboard.press('Escape');
  await expect(field).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Place a cutter', exact: true })).toBeVisible();
});

test('an act that was begun does not stay when the stage or the part changes', async ({ page }) => {
  await openSample(page);
  const hint = page.locator('.strip .hint');
  const parts = page.getByRole('region', { name: 'Parts' });
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await expect(hint).toContainText('Click the face it goes into');
  await parts.getByText('Gauge pod').click();
  await expect(hint).not.toContainText('Click the face it goes into');
  await page.locator('canvas').focus();
  await page.keyboard.press('d');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'Survey' }).click();
  await page.getByRole('link', { name: 'Cut', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Typed size or depth' })).toHaveCount(0);
});
