import { expect, test } from '@playwright/test';
import { bytesOf, course, drop, expectAccessible, figure, figureNow, openSample } from './bench.ts';

const CUBE = `v 0 0 0
v 10 0 0
v 10 10 0
v 0 10 0
v 0 0 10
v 10 0 10
v 10 10 10
v 0 10 10
f 4 3 2 1
f 5 6 7 8
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

test('a broken file is refused with its place and changes nothing', async ({ page }) => {
  await openSample(page);
  const parts = page.getByRole('region', { name: 'Parts' }).getByRole('button');
  const before = await parts.allInnerTexts();
  await drop(page, '.bench', 'broken.obj', 'v 0 0 0\nv 1 0 zero\nf 1 2 9\n');
  await expect(page.getByText(/"broken.obj" was not opened: .*line 2/)).toBeVisible();
  await drop(page, '.bench', 'notes.txt', 'hello');
  await expect(page.getByText(/"notes.txt" cannot be opened/)).toBeVisible();
  await drop(page, '.bench', 'broken.mason.zip', 'PK not a zip');
  await expect(page.getByText(/"broken.mason.zip" was not opened/)).toBeVisible();
  expect(await parts.allInnerTexts()).toEqual(before);
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('a mesh dropped on the bench becomes a part that can be cut, and is there after a reload', async ({ page }) => {
  await openSample(page);
  await drop(page, '.bench', 'cube.obj', CUBE);
  await expect(figure(page, 'volume')).toContainText('1000 mm³');
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(figure(page, 'volume')).not.toContainText('1000 mm³');
  const volume = await figureNow(page, 'volume');
  await page.waitForTimeout(700);
  await page.reload();
  await expect(figure(page, 'volume')).toHaveText(volume);
});

test('a cut of a damaged mesh is refused in words, and the part goes on; an open one is cut as a sheet', async ({
  page,
}) => {
  await openSample(page);
  await drop(page, '.bench', 'damaged.obj', CUBE.replace('f 5 6 7 8', 'f 8 7 6 5'));
  await expect(figure(page, 'state')).toContainText('Faces flipped');
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('Not done.');
  await expect(figure(page, 'state')).toContainText('Faces flipped');
  await drop(page, '.bench', 'open.obj', CUBE.replace('f 4 3 2 1\n', ''));
  await expect(figure(page, 'state')).toContainText('Open, 4 edges');
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(figure(page, 'state')).toContainText(/Open, [1-9]\d+ edges/);
});

test('a project goes out as one file and comes back in the Yard', async ({ page }) => {
  await openSample(page);
  await drop(page, '.bench', 'cube.obj', CUBE);
  await expect(figure(page, 'volume')).toContainText('1000 mm³');
  await page.getByRole('link', { name: 'Dispatch' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save a project file' }).click(),
  ]);
  const bytes = await bytesOf(file);
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await drop(page, '.yard', file.suggestedFilename(), bytes);
  await page.waitForURL(/bench/);
  await page.getByRole('button', { name: 'cube', exact: true }).click();
  await expect(figure(page, 'volume')).toContainText('1000 mm³');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await expect(page.getByRole('button', { name: 'Open Skerry Light' })).toHaveCount(2);
});

test('an imported mesh that no project uses any more is let go at the next visit', async ({ page }) => {
  const stored = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve, reject) => {
          const open = indexedDB.open('dusky-mason');
          open.onerror = () => reject(new Error('no database'));
          open.onsuccess = () => {
            const count = open.result.transaction('meshes').objectStore('meshes').count();
            count.onsuccess = () => resolve(count.result);
          };
        }),
    );
  await page.goto('/yard');
  await expect(page.getByRole('heading', { name: 'No projects yet' })).toBeVisible();
  await drop(page, '.yard', 'cube.obj', CUBE);
  await page.waitForURL(/bench/);
  await expect(figure(page, 'volume')).toContainText('1000 mm³');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'Delete cube' }).click();
  await expect(page.getByRole('button', { name: 'Open cube' })).toHaveCount(0);
  expect(await stored()).toBe(1);
  await page.goto('/yard');
  await expect.poll(stored).toBe(0);
});

test('the Yard: new, duplicate, delete and bring back', async ({ page }) => {
  await openSample(page);
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'Duplicate Skerry Light' }).click();
  await expect(page.getByRole('button', { name: 'Open Skerry Light copy' })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Skerry Light copy' }).click();
  await expect(page.getByRole('button', { name: 'Open Skerry Light copy' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await page.getByRole('button', { name: 'Open Skerry Light copy' }).click();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  await page.getByRole('link', { name: /to the Yard/ }).click();
  await page.getByRole('button', { name: 'New project' }).click();
  await expect(course(page, 'Box')).toBeVisible();
  await expect(figure(page, 'volume')).toContainText('24000 mm³');
});

test('a drawing dropped on the bench becomes cutters of the picked part; a hostile one does nothing', async ({
  page,
}) => {
  await openSample(page);
  const drawing =
    '<svg xmlns="http://www.w3.org/2000/svg"><rect width="200" height="100" rx="20"/><circle cx="400" cy="50" r="50"/><circle cx="400" cy="50" r="20"/><text>vent</text></svg>';
  await drop(page, '.bench', 'vent.svg', drawing);
  await expect(page.getByRole('button', { name: /^vent:/ })).toContainText('2 cutters');
  await expect(page.getByText('1 × text passed over')).toBeVisible();
  await expect(figure(page, 'volume')).not.toContainText('683.03');
  const before = await figureNow(page, 'volume');
  const hostile =
    '<svg onload="document.title=\'taken\'"><script>document.title="taken"</script><image href="x" onerror="document.title=\'taken\'"/></svg>';
  await drop(page, '.bench', 'bad.svg', hostile);
  await expect(page.getByText('"bad.svg" was not opened')).toBeVisible();
  await drop(page, '.bench', 'long.svg', `<svg>${'<a "'.repeat(100_000)}</svg>`);
  await expect(page.getByText('"long.svg" was not opened')).toBeVisible();
  expect(await page.title()).not.toContain('taken');
  await expect(figure(page, 'volume')).toHaveText(before);
});

test('a cut that a damaged part refuses offers the mend that it needs, and is done after it', async ({ page }) => {
  await openSample(page);
  // One face looks inward.
  const cube = CUBE.replace('f 4 1 5 8', 'f 8 5 1 4');
  await page
    .getByLabel('Mesh or drawing to open')
    .setInputFiles({ name: 'cube.obj', mimeType: 'model/obj', buffer: Buffer.from(cube) });
  await expect(figure(page, 'faces')).toContainText('6');
  await drop(page, '.bench', 'slot.svg', '<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="3"/></svg>');
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByRole('alert')).toContainText('do not pair up');
  const mend = card.getByRole('button', { name: 'Heal the part below' });
  await mend.focus();
  await page.keyboard.press('Enter');
  await expect(card.getByRole('alert')).toHaveCount(0);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expect(course(page, 'Heal')).toContainText('turns 1');
  await expectAccessible(page);
});
