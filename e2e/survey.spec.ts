import { expect, test, type Page } from '@playwright/test';
import { expectAccessible, bytesOf, figure, openSample, type } from './bench.ts';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const finding = (page: Page, name: string) => panel(page).getByRole('button', { name: new RegExp(`${name}\\s*\\d`) });

/** A box of 40 mm with its lid missing, a side doubled, and a vertex that no face uses. */
const DAMAGED = `o Casting
v -20 -20 -20
v 20 -20 -20
v 20 20 -20
v -20 20 -20
v -20 -20 20
v 20 -20 20
v 20 20 20
v -20 20 20
v 90 90 90
f 4 3 2 1
f 1 2 6 5
f 2 3 7 6
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

async function openDamaged(page: Page): Promise<void> {
  await openSample(page);
  await page
    .getByLabel('Mesh or drawing to open')
    .setInputFiles({ name: 'casting.obj', mimeType: 'model/obj', buffer: Buffer.from(DAMAGED) });
  await expect(figure(page, 'faces')).toContainText('6');
  await page.getByRole('link', { name: 'Survey' }).click();
}

test('findings are told with their numbers, flown to one by one, set alone, and written to files', async ({ page }) => {
  await openDamaged(page);
  await expect(finding(page, 'Open edges')).toContainText('longest opening');
  await expect(finding(page, 'Doubled faces')).toContainText('1');
  const before = await page.locator('canvas').screenshot();
  await finding(page, 'Open edges').click();
  await expect(panel(page)).toContainText('1 of 3');
  await expect(panel(page)).toContainText('Spoils bevel, subdivision, shading, export.');
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(before)).toBe(false);
  // By keys, round and back again.
  await page.locator('canvas').focus();
  for (const n of [2, 3, 1]) {
    await page.keyboard.press('.');
    await expect(panel(page)).toContainText(`${n} of 3`);
  }
  await page.keyboard.press(',');
  await expect(panel(page)).toContainText('3 of 3');
  const whole = await page.locator('canvas').screenshot();
  await page.getByRole('button', { name: 'Alone' }).click();
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(whole)).toBe(false);
  await expectAccessible(page);

  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.getByRole('button', { name: 'Copy as a table' }).click();
  await expect(page.getByText('to the clipboard')).toBeVisible();
  const pasted = await page.evaluate(() => navigator.clipboard.readText());
  expect(pasted).toContain('openEdges\tOpen edges\terror\t3\t120\tmm\t');
  const csv = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  expect((await bytesOf(await csv)).toString()).toContain('openEdges,Open edges,error,3,120,mm,');
  const json = page.waitForEvent('download');
  await page.getByRole('button', { name: 'JSON' }).click();
  const data = JSON.parse((await bytesOf(await json)).toString()) as {
    part: string;
    findings: { rule: string; count: number }[];
  };
  expect(data.findings.find((f) => f.rule === 'duplicateFaces')?.count).toBe(1);
});

test('a figure of the level opens its finding; another part has its own; the long look finds what cuts through', async ({
  page,
}) => {
  await openDamaged(page);
  await figure(page, 'nonManifoldEdges').click();
  await expect(finding(page, 'Non-manifold edges')).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Pump-house wall', exact: true }).click();
  await expect(finding(page, 'N-gons')).toContainText('most corners');
  await expect(finding(page, 'Open edges')).toHaveCount(0);
  await panel(page)
    .getByRole('checkbox', { name: /cross or overlap/ })
    .check();
  await expect(finding(page, 'N-gons')).toBeVisible();
  await expect(finding(page, 'Faces that cut through each other')).toHaveCount(0);
});

test('looks have a legend with numbers; bands, hatch and heat change the picture', async ({ page }) => {
  await openSample(page);
  await page.getByRole('button', { name: 'Gauge pod', exact: true }).click();
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(finding(page, 'N-gons')).toBeVisible();
  const look = panel(page).getByRole('combobox', { name: 'Look', exact: true });
  const shots = new Set<string>();
  const shot = async () => (await page.locator('canvas').screenshot()).toString('base64');
  shots.add(await shot());
  for (const [value, legend] of [
    ['bands', 'a dent is a kink in it'],
    ['sides', 'with holes'],
    ['source', 'Gland boss'],
    ['valence', '4 edges'],
    ['edgeLength', 'mm'],
    ['slope', '180'],
    ['curvature', '1/mm'],
    ['departure', 'Worst'],
    ['edges', 'cut edge'],
    ['ball', 'Mark walls thinner than'],
    ['thickness', 'Mark walls thinner than'],
  ] as const) {
    await look.selectOption(value);
    await expect(panel(page)).toContainText(legend);
    await expect.poll(async () => shots.has(await shot())).toBe(false);
    shots.add(await shot());
  }
  // The bars above the scale say what they stand for.
  await expect(
    panel(page).getByRole('img', { name: 'Wall thickness: how often each value comes' }).locator('.bars'),
  ).toBeVisible();
  // With wall thickness, everything thinner than the typed value is marked.
  await type(page, 'Mark walls thinner than', '10');
  await expect.poll(async () => shots.has(await shot())).toBe(false);
  // Away from the survey it is clay again.
  await page.getByRole('link', { name: 'Cut' }).click();
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(look).toHaveValue('clay');
});

test('a checker over UVs tells their squares; without UVs that is said', async ({ page }) => {
  await openSample(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(finding(page, 'N-gons')).toBeVisible();
  const look = panel(page).getByRole('combobox', { name: 'Look', exact: true });
  await look.selectOption('uv');
  await expect(panel(page)).toContainText('The part has no UVs.');
  const plate = 'v 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n';
  await page
    .getByLabel('Mesh or drawing to open')
    .setInputFiles({ name: 'plate.obj', mimeType: 'model/obj', buffer: Buffer.from(plate) });
  await expect(figure(page, 'faces')).toContainText('1');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await expect(panel(page)).toContainText('Each square is 0.1 wide in UV');
});

test('faces are picked by click and key, grown, turned over as a course, and settled again by what the finding offers', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(finding(page, 'N-gons')).toBeVisible();
  const strip = page.locator('.strip');
  const turn = panel(page).getByRole('button', { name: 'Turn over', exact: true });
  await expect(turn).toBeDisabled();
  await strip.getByRole('radio', { name: 'Faces' }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('Enter');
  await expect(strip).toContainText(/1 face, [\d.]+ [cdm]+²/);
  await page.mouse.click(780, 480);
  await expect(strip).toContainText('1 face,');
  await page.mouse.click(780, 480, { modifiers: ['Alt'] } as never);
  await strip.getByRole('button', { name: 'Grow' }).click();
  await expect(strip).not.toContainText('1 face,');
  await page.keyboard.press('Escape');
  await expect(strip).toContainText('0 faces');
  await page.mouse.click(780, 480);
  await expect(strip).toContainText('1 face,');
  await turn.click();
  await expect(figure(page, 'flippedEdges')).not.toContainText(/^flipped\s*0$/);
  await expect(finding(page, 'Flipped faces')).toContainText('1');
  // No vertex is pinched: the faces are still connected.
  await expect(finding(page, 'Pinched vertices')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Turn over:' })).toContainText('turns 1 face over');

  await finding(page, 'Flipped faces').click();
  await panel(page).getByRole('button', { name: 'Pick them all' }).click();
  await expect(strip).toContainText('1 face,');
  await panel(page).getByRole('button', { name: 'Turn the odd ones' }).click();
  await expect(finding(page, 'Flipped faces')).toHaveCount(0);
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
  // The stroke has a card of its own, where it can be set otherwise.
  await page.getByRole('link', { name: 'Dress' }).click();
  await expect(panel(page)).toContainText('turns 1 face over');
  await expect(panel(page)).toContainText('all faces');
  await expectAccessible(page);
});

test('a part is kept as it is, and compared with what it becomes', async ({ page }) => {
  await openSample(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await panel(page).getByRole('button', { name: 'Keep this state' }).click();
  await expect(page.getByText('is kept as it is now')).toBeVisible();
  await page.getByRole('switch', { name: /Hatch/ }).first().click();
  await expect(figure(page, 'volume')).not.toContainText('683.03 dm³');
  await panel(page).getByRole('button', { name: 'Compare', exact: true }).click();
  const before = page.getByRole('combobox', { name: 'Before', exact: true });
  const kept = before.locator('option', { hasText: /^Kept at \d\d:\d\d, with / });
  await before.selectOption((await kept.getAttribute('value'))!);
  await expect(panel(page).getByRole('row', { name: /^Volume / })).toContainText('683.03 dm³');
});

test('before and after: wiped by pointer and keys, beside each other, and what changed in numbers', async ({
  page,
}) => {
  await openSample(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('w');
  const wipe = page.getByRole('slider', { name: 'Wipe between before and after' });
  await expect(wipe).toHaveAttribute('aria-valuenow', '50');
  await page.getByRole('combobox', { name: 'Before', exact: true }).selectOption({ label: 'Plastered block' });
  await page.getByRole('link', { name: 'Survey' }).click();
  const row = (name: string) => panel(page).getByRole('row', { name: new RegExp(`^${name} `) });
  await expect(row('Faces')).toHaveText(/Faces\s*6\s*178/);
  // 2400 × 240 × 1800 mm before anything was cut.
  await expect(row('Volume')).toContainText('1036.8 dm³');
  await expect(row('Volume')).toContainText('683.03 dm³');
  await expect(panel(page)).toContainText('Largest distance from before to after');
  await expect(row('Shading, worst')).toContainText('°');
  const middle = await page.locator('canvas').screenshot();
  await wipe.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  await expect(wipe).toHaveAttribute('aria-valuenow', '60');
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(middle)).toBe(false);
  const box = (await wipe.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x - 150, box.y + 200, { steps: 4 });
  await page.mouse.up();
  expect(Number(await wipe.getAttribute('aria-valuenow'))).toBeLessThan(50);
  // Coloured by how far each is from the other, with a scale.
  const plain = await page.locator('canvas').screenshot();
  await page.getByRole('button', { name: 'Heat', exact: true }).click();
  await expect(
    panel(page).getByRole('img', { name: 'Distance to the other side: how often each value comes' }),
  ).toBeVisible();
  await expect.poll(async () => (await page.locator('canvas').screenshot()).equals(plain)).toBe(false);
  // Between two courses, neither of them the last.
  await page.getByRole('combobox', { name: 'After', exact: true }).selectOption({ label: 'Hatch' });
  await expect(row('Faces')).not.toContainText('178');
  await page.getByRole('button', { name: 'Side by side' }).click();
  await expect(wipe).toHaveCount(0);
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await expect(panel(page).getByRole('table')).toHaveCount(0);
});

test('the plug gauge finds a hole round along its axis, and says whether a plug goes in; distances and angles', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await page.getByRole('button', { name: 'Gauge pod', exact: true }).click();
  await expect(figure(page, 'faces')).toContainText('651');
  const box = (await page.locator('canvas').boundingBox())!;
  const [mx, my] = [box.x + box.width / 2, box.y + box.height / 2];
  const hint = page.locator('.strip .hint');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await panel(page).getByRole('button', { name: 'A rim', exact: true }).click();
  await expect(hint).toContainText('an edge of the rim');
  // The rim of the collar's bore, Ø 46, seen from above: the face between it and the collar's outside.
  await page.locator('canvas').focus();
  await page.mouse.move(mx, my - 147);
  await expect(page.locator('.tag:not(.note)')).toContainText('edge');
  await page.mouse.click(mx, my - 147);
  await expect(panel(page)).toContainText(/Diameter\s*(46|58) mm/);
  await expect(panel(page)).toContainText('in one plane');
  await expect(panel(page)).toContainText('no error');
  const plug = panel(page).getByRole('textbox', { name: 'Diameter of the plug' });
  await plug.fill('40');
  await plug.press('Enter');
  await expect(panel(page)).toContainText('fits, with');
  await plug.fill('60');
  await plug.press('Enter');
  await expect(panel(page)).toContainText('does not fit');

  // The wall of the bore, by one of its flats: all of its corners.
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await panel(page).getByRole('button', { name: 'A wall', exact: true }).click();
  await expect(hint).toContainText('a flat of a round wall');
  await page.locator('canvas').focus();
  await page.mouse.move(mx - 40, my + 30);
  await expect(page.locator('.tag:not(.note)')).toContainText('face');
  await page.mouse.click(mx - 40, my + 30);
  await expect(panel(page)).toContainText('Diameter76 mm');
  await expect(panel(page)).toContainText('Every corner lies on the circle.');
  // A face, and the wall below the place that was clicked; the thinnest wall beside a cut.
  await panel(page).getByRole('button', { name: 'A face', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('Enter');
  await expect(panel(page)).toContainText(/Area[\d.]+ [cm]+²/);
  await expect(panel(page)).toContainText(/Wall, straight in[\d.]+ mm/);
  await panel(page).getByRole('button', { name: 'Wall left', exact: true }).click();
  await page.locator('canvas').focus();
  await page.keyboard.press('Enter');
  await expect(panel(page)).toContainText(/Thinnest, straight[\d.]+ mm/);
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await page.waitForTimeout(300);

  await panel(page).getByRole('button', { name: 'Distance', exact: true }).click();
  await expect(hint).toContainText('one point (1 of 2)');
  await page.locator('canvas').focus();
  await page.mouse.move(mx + 2, my - 147);
  await expect(page.locator('.tag:not(.note)')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(hint).toContainText('another point (2 of 2)');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(panel(page)).toContainText('Along z');
});

test('a subdivided preview shows what it would become, with the cage’s lines; it is gone elsewhere', async ({
  page,
}) => {
  await openSample(page);
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(finding(page, 'N-gons')).toBeVisible();
  const shot = async () => (await page.locator('canvas').screenshot()).toString('base64');
  const plain = await shot();
  await panel(page).getByRole('combobox', { name: 'Subdivided preview' }).selectOption('2');
  await expect(panel(page)).toContainText(/[\d,]+ faces, with the lines of the cage alone/);
  await expect.poll(async () => (await shot()) === plain).toBe(false);
  const uncoloured = await shot();
  await panel(page)
    .getByRole('checkbox', { name: /distance from the guide surface/ })
    .check();
  await expect(panel(page)).toContainText('0 mm');
  await expect.poll(async () => (await shot()) === uncoloured).toBe(false);
  await panel(page).getByRole('combobox', { name: 'Subdivided preview' }).selectOption('0');
  await expect.poll(shot).toBe(plain);
});

test('the page answers while faces that cut through each other are looked for, and the search can be cancelled', async ({
  page,
}) => {
  test.slow();
  await openSample(page);
  // A ball of some 40 000 triangles, as a file would bring it.
  const n = 144;
  const lines: string[] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i < n; i++) {
      const [a, b] = [(2 * Math.PI * i) / n, (Math.PI * j) / n];
      lines.push(
        `v ${(50 * Math.cos(a) * Math.sin(b)).toFixed(5)} ${(50 * Math.sin(a) * Math.sin(b)).toFixed(5)} ${(50 * Math.cos(b)).toFixed(5)}`,
      );
    }
  const at = (i: number, j: number) => 1 + j * n + (i % n);
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++)
      lines.push(
        `f ${at(i, j)} ${at(i, j + 1)} ${at(i + 1, j + 1)}`,
        `f ${at(i, j)} ${at(i + 1, j + 1)} ${at(i + 1, j)}`,
      );
  await page
    .getByLabel('Mesh or drawing to open')
    .setInputFiles({ name: 'ball.obj', mimeType: 'model/obj', buffer: Buffer.from(lines.join('\n')) });
  await expect(figure(page, 'faces')).toContainText('41472');
  await page.getByRole('link', { name: 'Survey' }).click();
  await expect(finding(page, 'Triangles')).toContainText('41472');
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const seen: number[] = ((window as unknown as { long: number[] }).long = []);
    new PerformanceObserver((list) => seen.push(...list.getEntries().map((e) => e.duration))).observe({
      type: 'longtask',
    });
  });
  const stage = panel(page).getByText('looking for faces that cut through each other');
  const deep = panel(page).getByRole('checkbox', { name: /cross or overlap/ });
  await deep.check();
  await expect(stage).toBeVisible();
  await panel(page).getByRole('button', { name: 'Cancel' }).click();
  await expect(deep).not.toBeChecked();
  await expect(stage).toHaveCount(0);
  // Once more, to its end.
  await deep.check();
  await expect(stage).toBeVisible();
  await expect(stage).toHaveCount(0, { timeout: 60_000 });
  const long = await page.evaluate(() => (window as unknown as { long: number[] }).long);
  expect(long.filter((ms) => ms > 100)).toEqual([]);
});
