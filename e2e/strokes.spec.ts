import { expect, test, type Page } from '@playwright/test';
import { expectAccessible, atRest, choose, course, differing, figure, openNewPlate, type } from './bench.ts';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Card' });
const strip = (page: Page) => page.locator('.strip');
const kind = (page: Page, name: string) => strip(page).getByRole('radio', { name, exact: true });
const mend = (page: Page, name: string) => panel(page).getByRole('button', { name, exact: true });
const also = (page: Page) => strip(page).getByRole('combobox', { name: 'More ways to pick' });

/** A plate of 100 × 60 × 20 mm with a round hole of Ø 20 through it, seen from above on Dress. */
async function openPlate(page: Page): Promise<{ x: number; y: number; pixel: number }> {
  await openNewPlate(page);
  await page.locator('canvas').focus();
  await page.keyboard.press('c');
  await page.keyboard.press('Enter');
  await expect(figure(page, 'faces')).toContainText('38');
  await type(page, 'Diameter', '20');
  await expect(page.getByText('removes cylinder Ø 20', { exact: false }).first()).toBeVisible();
  await page.getByRole('link', { name: 'Dress' }).click();
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  const box = (await page.locator('canvas').boundingBox())!;
  // Found by looking: where the outer corner of the plate is decides the scale.
  return { x: box.x + box.width / 2, y: box.y + box.height / 2, pixel: box.width };
}

test('a hole is tied to the corners, a tie is moved, a loop laid at an equal distance: the outline stays round, and all of it follows the cutter', async ({
  page,
}) => {
  const { x, y } = await openPlate(page);
  await kind(page, 'Faces').click();
  await page.mouse.click(x + 112, y);
  await expect(strip(page)).toContainText(/1 face, [\d.]+ [cm]m²/);
  await mend(page, 'Tie holes').click();
  await choose(panel(page).getByRole('combobox', { name: 'Ties' }), 'to the corners');
  await expect(course(page, 'Tie holes')).toContainText('ties the holes of 1 face to their corners; drift 0 mm');
  await expect(figure(page, 'n-gons').or(figure(page, 'ngons'))).toBeVisible();

  // One tie goes from its place on the rim to the next vertex: the end that stays, the one that moves, and where to.
  await kind(page, 'Vertices').click();
  await page.mouse.click(x + 250, y - 149);
  await page.mouse.click(x + 36, y - 36);
  await expect(strip(page)).toContainText('1 vertex');
  await page.mouse.click(x + 250, y - 149);
  await expect(strip(page)).toContainText('1 vertex');
  await page.keyboard.down('Shift');
  await page.mouse.click(x + 43, y - 29);
  await page.mouse.click(x + 37, y - 37);
  await page.keyboard.up('Shift');
  await expect(strip(page)).toContainText('3 vertices');
  await mend(page, 'Move a tie').click();
  await expect(course(page, 'Move a tie')).toContainText('moves one end of a tie; drift 0 mm');

  // What is left beside the outline goes onto it: of the vertices along the tie the one nearest to the rim.
  await kind(page, 'Edges').click();
  await page.mouse.click(x + 140, y - 91);
  await expect(strip(page)).toContainText(/1 edge, 4[89]\.[\d]+ mm/);
  await mend(page, 'Split edges').click();
  await choose(panel(page).getByRole('combobox', { name: 'At', exact: true }), 'equal parts');
  await type(page, 'Parts', '20');
  await expect(course(page, 'Split edges')).toContainText('puts 19 vertices into edges; drift 0 mm');
  await kind(page, 'Vertices').click();
  await also(page).selectOption('all');
  await expect(strip(page)).toContainText('91 vertices');
  await mend(page, 'Weld onto the seam').click();
  await type(page, 'Nearer than', '3');
  await expect(course(page, 'Weld onto the seam')).toContainText(
    'puts 1 vertex onto seams nearer than 3 mm; drift 0 mm',
  );

  // Loops at 3 mm from both rims, by one upright edge of the wall: the two vertices behind one another, picked through.
  await kind(page, 'Vertices').click();
  await strip(page).getByRole('combobox', { name: 'How to pick' }).selectOption('box');
  await strip(page).getByRole('button', { name: 'Through' }).click();
  await page.mouse.move(x - 56, y - 4);
  await page.mouse.down();
  await page.mouse.move(x - 41, y + 4, { steps: 3 });
  await page.mouse.up();
  await expect(strip(page)).toContainText('2 vertices');
  await also(page).selectOption({ label: 'As edges' });
  await expect(strip(page)).toContainText('1 edge, 20 mm');
  await mend(page, 'Insert a loop').click();
  await choose(panel(page).getByRole('combobox', { name: 'At', exact: true }), 'a distance');
  await type(page, 'Distance', '3');
  await panel(page).getByRole('switch', { name: 'On both sides' }).click();
  await expect(course(page, 'Insert a loop')).toContainText('cuts 32 faces by loops; drift 0 mm');

  // The cutter slides by 8 mm: every pick is found again.
  await page.getByRole('link', { name: 'Cut' }).click();
  await course(page, 'Cylinder 1').click();
  await type(page, 'Position along x', '8');
  await expect(course(page, 'Tie holes')).toContainText('ties the holes of 1 face');
  await expect(course(page, 'Move a tie')).toContainText('moves one end of a tie; drift 0 mm');
  await expect(page.locator('[id^="course-"]').filter({ hasText: 'picks found' })).toHaveCount(0);
  await expect(page.locator('[id^="course-"]').filter({ hasText: 'failed; see its card' })).toHaveCount(0);
  await expect(course(page, 'Weld onto the seam')).toContainText('puts 1 vertex onto');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // The gauge still reads the same radius, out of round by nothing.
  await page.getByRole('link', { name: 'Survey' }).click();
  await panel(page).getByRole('button', { name: 'A wall', exact: true }).click();
  await page.getByRole('button', { name: 'Corner', exact: true }).click();
  await page.locator('canvas').focus();
  for (const [dx, dy] of [
    [10, -20],
    [14, -10],
    [20, -25],
    [30, -30],
    [0, -30],
  ]) {
    await page.mouse.click(x + dx!, y + dy!);
    await page.waitForTimeout(500);
    if (await panel(page).getByText('Diameter').count()) break;
    if (!(await strip(page).getByText('Click').count()))
      await panel(page).getByRole('button', { name: 'A wall', exact: true }).click();
  }
  await expect(panel(page)).toContainText('Diameter20 mm');
  await expect(panel(page)).toContainText('Out of round0 mm');
});

test('picks: by box and brush, kept by name and picked again; the last stroke is done again by a key', async ({
  page,
}) => {
  const { x, y } = await openPlate(page);
  await kind(page, 'Vertices').click();
  await strip(page).getByRole('combobox', { name: 'How to pick' }).selectOption('box');
  await page.mouse.move(x - 308, y - 243);
  await page.mouse.down();
  await page.mouse.move(x, y, { steps: 3 });
  await page.mouse.move(x + 308, y + 243, { steps: 3 });
  await expect(page.locator('svg.area')).toBeVisible();
  await page.mouse.up();
  // From above both rims are seen, and the upper corners; through the part the lower ones as well.
  await expect(strip(page)).toContainText('68 vertices');
  await strip(page).getByRole('button', { name: 'Through' }).click();
  await page.mouse.move(x - 308, y - 243);
  await page.mouse.down();
  await page.mouse.move(x + 308, y + 243, { steps: 3 });
  await page.mouse.up();
  await expect(strip(page)).toContainText('72 vertices');
  await strip(page).getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(panel(page).getByRole('textbox', { name: 'Name of kept pick 1' })).toHaveValue('72 vertices');
  await also(page).selectOption('none');
  await expect(strip(page)).toContainText('0 vertices');
  await panel(page).getByRole('button', { name: 'Pick', exact: true }).click();
  await expect(strip(page)).toContainText('72 vertices');

  // A brush picks what it goes over.
  await also(page).selectOption('none');
  await strip(page).getByRole('combobox', { name: 'How to pick' }).selectOption('paint');
  await page.mouse.move(x - 37, y - 56);
  await page.mouse.down();
  for (let i = 0; i <= 12; i++) {
    await page.mouse.move(x - 75 + 14 * i, y - 51 + Math.abs(i - 6) * 4);
    await page.waitForTimeout(60);
  }
  await page.mouse.up();
  await expect(strip(page)).not.toContainText('0 vertices');

  // Faces: inset one, then the other by the key.
  await strip(page).getByRole('combobox', { name: 'How to pick' }).selectOption('click');
  await kind(page, 'Faces').click();
  await page.mouse.click(x + 112, y);
  await expect(strip(page)).toContainText('1 face,');
  await mend(page, 'Inset').click();
  await type(page, 'Distance', '2');
  await expect(course(page, 'Inset')).toContainText('insets 1 face by 2 mm');
  await kind(page, 'Faces').click();
  await page.keyboard.press('Escape');
  await kind(page, 'Faces').click();
  await page.locator('canvas').focus();
  await page.mouse.click(x + 112, y);
  await expect(strip(page)).toContainText('1 face,');
  await page.keyboard.press('a');
  await expect(page.locator('[id^="course-"]').filter({ hasText: 'insets 1 face by 2 mm' })).toHaveCount(2);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  // Both are gathered to one course, and laid singly again.
  await panel(page).getByRole('button', { name: 'Gather 2 strokes' }).click();
  await expect(course(page, '2 strokes')).toContainText('does 2 of 2 strokes');
  await panel(page).getByRole('button', { name: 'Lay them one by one again' }).click();
  await expect(page.locator('[id^="course-"]').filter({ hasText: 'insets 1 face by 2 mm' })).toHaveCount(2);
  await expectAccessible(page);
});

test('a line is drawn from stop to stop; what goes too far is refused with the reason; a mirror shows later strokes on both sides', async ({
  page,
}) => {
  const { x, y } = await openPlate(page);
  await mend(page, 'Draw a line').click();
  await expect(strip(page)).toContainText('where the line begins');
  await page.locator('canvas').focus();
  const edge = async (dx: number, dy: number) => {
    await page.mouse.move(x + dx, y + dy);
    await expect(page.locator('.tag:not(.note)')).toBeVisible();
    await page.mouse.click(x + dx, y + dy);
  };
  // From the middle of the near side to that of the far one, beside the hole: the edges are 152 pixels away.
  await edge(93, -149);
  await edge(93, 149);
  await strip(page).getByRole('button', { name: 'Done' }).click();
  await expect(course(page, 'Draw a line')).toContainText('draws a line of 2 stops');
  await expect(course(page, 'Draw a line')).toContainText('drift 0 mm');

  await kind(page, 'Faces').click();
  await page.mouse.click(x - 112, y);
  await expect(strip(page)).toContainText('1 face,');
  await mend(page, 'Inset').click();
  await type(page, 'Distance', '300');
  await expect(panel(page).getByRole('alert')).toContainText('There is room for an inset of');
  await type(page, 'Distance', '1');
  await expect(panel(page).getByRole('alert')).toHaveCount(0);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await mend(page, 'Mirror').click();
  await expect(course(page, 'Mirror')).toContainText('mirrors across X');
  await kind(page, 'Faces').click();
  await page.mouse.click(x + 140, y);
  await expect(strip(page)).toContainText('1 face,');
  await mend(page, 'Divide faces').click();
  await expect(course(page, 'Divide faces')).toBeVisible();
  // The mirror stays on top of the wall.
  const first = page.locator('[id^="course-"]').first();
  await expect(first).toContainText('Mirror');
});

test('a tie and a vertex are dragged to where they are wanted, and a line is drawn freehand', async ({ page }) => {
  const { x, y } = await openPlate(page);
  const drag = async (...places: [number, number][]) => {
    await page.mouse.move(x + places[0]![0], y + places[0]![1]);
    await page.mouse.down();
    for (const [dx, dy] of places.slice(1)) await page.mouse.move(x + dx, y + dy, { steps: 8 });
  };
  // Without a tie there is nothing to drag, and a notice says so.
  await mend(page, 'Move a tie').click();
  await expect(strip(page)).toContainText('Drag the end of a tie');
  await drag([140, -91], [131, -84]);
  await page.mouse.up();
  await expect(page.getByText('This face has no tie', { exact: false })).toBeVisible();
  await page.keyboard.press('Escape');

  await mend(page, 'Tie holes').click();
  await choose(panel(page).getByRole('combobox', { name: 'Ties' }), 'to the corners');
  await expect(course(page, 'Tie holes')).toContainText('ties the holes of 2 faces to their corners');
  await mend(page, 'Move a tie').click();
  await drag([56, -51], [47, -37], [43, -29]);
  await expect(page.locator('.tag')).toContainText('to this vertex');
  await page.mouse.up();
  await expect(course(page, 'Move a tie')).toContainText('moves one end of a tie; drift 0 mm');

  await mend(page, 'Slide a vertex').click();
  await drag([244, -144], [140, -147], [4, -149]);
  await expect(page.locator('.tag')).toContainText('50.0 % of the edge');
  await page.mouse.up();
  await expect(course(page, 'Slide a vertex')).toContainText('slides a vertex by 50 % of its edge');
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Slide a vertex')).toHaveCount(0);
  await expect(figure(page, 'state')).toContainText('Closed solid');

  // Cancelled, it leaves clicks to pick again.
  await mend(page, 'Draw a line').click();
  await strip(page).getByRole('button', { name: 'Freehand' }).click();
  await page.keyboard.press('Escape');
  await kind(page, 'Faces').click();
  await page.mouse.click(x + 112, y);
  await expect(strip(page)).toContainText(/1 face, /);
  await kind(page, 'Courses').click();
  await mend(page, 'Draw a line').click();
  await strip(page).getByRole('button', { name: 'Freehand' }).click();
  await drag([-244, 56], [-187, 70], [-93, 84], [-56, 131]);
  await page.mouse.up();
  await expect(course(page, 'Draw a line')).toContainText(/draws a line of [34] stops, [23] edges; drift 0 mm/);
  await expect(figure(page, 'state')).toContainText('Closed solid');
});

test('a plate with a hole is laid out in quads, and a salvaged casting is healed', async ({ page }) => {
  await openPlate(page);
  await mend(page, 'To quads').click();
  await expect(course(page, 'To quads')).toContainText(/lays 2 faces out in \d+ quads; drift 0 mm/);
  await expect(figure(page, 'faces')).toContainText('100 % quads');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await choose(panel(page).getByRole('combobox', { name: 'For' }), 'fewest faces');
  await expect(figure(page, 'faces')).toContainText('100 % quads');

  // A figure leads to its place.
  const sharpest = panel(page).getByRole('button', { name: /° *: go to the next/ });
  await expect(sharpest).toBeVisible();
  const picture = await atRest(page);
  await sharpest.click();
  await expect
    .poll(async () => differing(page, picture, await page.locator('canvas').screenshot()))
    .toBeGreaterThan(1000);

  // A part that lies about with all kinds of damage.
  await page.goto('/yard');
  await page.getByRole('button', { name: 'Open the salvaged casting' }).click();
  await expect(figure(page, 'state')).toContainText('Faces flipped');
  await page.getByRole('link', { name: 'Dress' }).click();
  await mend(page, 'Heal').click();
  await expect(course(page, 'Heal')).toContainText(/heals: welds \d+, drops 13, parts 2, fills 2, turns 2/);
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await expect(panel(page).getByRole('heading', { name: 'Gaps between open edges' })).toBeVisible();
  await expect(panel(page)).toContainText(/cracks closed up to [\d.]+ mm/);
  // A step that is left out leaves its damage.
  await panel(page).getByRole('switch', { name: 'Openings', exact: true }).click();
  await expect(figure(page, 'state')).toContainText('Open');
  await expectAccessible(page);
});

test('a collar is laid along the outline of a hole and its figures told; Tidy goes on all parts at once', async ({
  page,
}) => {
  await openPlate(page);
  await kind(page, 'Edges').click();
  const made = also(page)
    .locator('option', { hasText: /Made by (?!Block|Part|Box)/ })
    .last();
  await also(page).selectOption((await made.getAttribute('value'))!);
  await mend(page, 'Collar').click();
  // Two rims of 32 edges, on both sides of each, two rows.
  await expect(course(page, 'Collar')).toContainText('lays 4 bands of 256 quads along 64 edges, 5 mm wide; drift 0 mm');
  await expect(figure(page, 'state')).toContainText('Closed solid');
  await type(page, 'Quads across', '3');
  await expect(course(page, 'Collar')).toContainText('384 quads');
  // Wider than the plate has room for: 20 mm of it are left beside the hole.
  await type(page, 'Width', '30');
  await expect(panel(page).getByText(/narrower at \d+ of its spokes/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await panel(page).getByRole('button', { name: 'Tidy, all parts' }).click();
  await expect(page.getByText('Tidy lies on 7 parts now')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Collar')).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(course(page, 'Collar')).toHaveCount(0);
  // Without a pick it goes on the seams of all cuts; on all parts, where there is a cut. Its card is read from the
  // top.
  await panel(page).getByRole('button', { name: 'Collar, all parts' }).click();
  await expect(page.getByText(/Collar lies on \d parts now/)).toBeVisible();
  await expect(panel(page).getByText('the seams of all cuts')).toBeVisible();
  await expect(panel(page).getByRole('textbox', { name: 'Name of the stroke' })).toBeInViewport();
  await expect(course(page, 'Collar')).toContainText('lays 4 bands of 256 quads along 64 edges');
});
