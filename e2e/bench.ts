import AxeBuilder from '@axe-core/playwright';
import { expect, type Download, type Locator, type Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';

/** Opens a fresh browser's first page: the sample project on the bench, evaluated. */
export async function openSample(page: Page): Promise<void> {
  await page.goto('/');
  await page.waitForURL(/\/bench\/.+\/cut$/);
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
}

/** Smooths lines on software rendering, too, as a graphics card does: for pictures. */
export async function smoothLines(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Preferences' }).click();
  await choose(page.getByRole('combobox', { name: 'Smooth lines' }), 'always');
  await page.keyboard.press('Escape');
  await page.waitForTimeout(300);
  await page.reload();
  await expect(figure(page, 'volume')).toContainText('683.03 dm³');
}

/** Chooses from a drop-down list, which is opened again if scrolling closed it. */
export async function choose(list: Locator, option: string): Promise<void> {
  const choice = list.page().getByRole('option', { name: option, exact: true });
  await list.scrollIntoViewIfNeeded();
  await expect(async () => {
    if (!(await choice.isVisible())) await list.click({ timeout: 10_000 });
    await choice.click({ timeout: 10_000 });
  }).toPass();
}

/** A figure of the level, by its name. */
export const figure = (page: Page, name: string): Locator => page.locator(`footer [data-figure="${name}"]`);
/** The text of a figure of the level once it is up to date. */
export async function figureNow(page: Page, name: string): Promise<string> {
  await expect(page.locator('footer[aria-busy="false"]')).toBeVisible();
  return figure(page, name).innerText();
}

export const course = (page: Page, name: string): Locator =>
  page.getByRole('button', { name: `${name}:`, exact: false });

/** Types a value into a field of the card and commits it. */
export async function type(page: Page, field: string, value: string): Promise<void> {
  const input = page.getByRole('textbox', { name: field, exact: true });
  await input.fill(value);
  await input.press('Enter');
}

/** Opens the sample with a new part in it: a plate of 100 × 60 × 20 mm. */
export async function openNewPlate(page: Page): Promise<void> {
  await openSample(page);
  await page.getByRole('button', { name: 'New part', exact: true }).click();
  await expect(figure(page, 'faces')).toContainText('6');
  await type(page, 'Length', '100');
  await type(page, 'Width', '60');
  await type(page, 'Height', '20');
  await expect(figure(page, 'volume')).toContainText('120 cm³');
}

/** Waits until the project is kept, then until the view is. */
export async function kept(page: Page): Promise<void> {
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await page.waitForTimeout(700);
}

/**
 * The place of a handle on the canvas, found by the cursor it gives, row by row in a part of the page: looked for
 * within the page, as a pointer would take long.
 */
export async function findHandle(
  page: Page,
  area: { x: number; y: number; width: number; height: number },
): Promise<[number, number]> {
  const found = await page.locator('canvas').evaluate((canvas, { x: left, y: top, width, height }) => {
    for (let y = top; y < top + height; y += 6)
      for (let x = left; x < left + width; x += 6) {
        canvas.dispatchEvent(new PointerEvent('pointermove', { clientX: x, clientY: y, bubbles: true }));
        if (canvas.style.cursor === 'grab') return [x, y] as const;
      }
    return null;
  }, area);
  if (!found) throw new Error('No handle was found.');
  return [found[0] + 4, found[1] + 6];
}

export const bytesOf = async (d: Download): Promise<Buffer> => readFile(await d.path());

/** Red, green and blue of each pixel of a picture, from the upper left on. */
async function pixelsOf(page: Page, png: Buffer): Promise<Buffer> {
  const text = await page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    const image = await createImageBitmap(new Blob([bytes], { type: 'image/png' }));
    const c = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
    c.drawImage(image, 0, 0);
    const { data } = c.getImageData(0, 0, image.width, image.height);
    let out = '';
    for (let i = 0; i < data.length; i += 4) out += String.fromCharCode(data[i]!, data[i + 1]!, data[i + 2]!);
    return btoa(out);
  }, png.toString('base64'));
  return Buffer.from(text, 'base64');
}

/** How many pixels of two pictures differ by more than a shade. */
export async function differing(page: Page, a: Buffer, b: Buffer): Promise<number> {
  const [p, q] = [await pixelsOf(page, a), await pixelsOf(page, b)];
  let n = 0;
  for (let i = 0; i < p.length; i += 3) if ([0, 1, 2].some((k) => Math.abs(p[i + k]! - q[i + k]!) > 2)) n++;
  return n;
}

/** How many pixels of a picture are as light as a part of the usual look is. */
export async function lightPixels(page: Page, png: Buffer): Promise<number> {
  const p = await pixelsOf(page, png);
  let n = 0;
  for (let i = 0; i < p.length; i += 3) if (p[i]! > 150 && p[i]! > p[i + 2]! + 20) n++;
  return n;
}

/** A picture of the view when it has come to rest: as it was half a second before. */
export async function atRest(page: Page): Promise<Buffer> {
  const canvas = page.locator('canvas');
  let last = await canvas.screenshot();
  await expect(async () => {
    await page.waitForTimeout(500);
    const before = last;
    last = await canvas.screenshot();
    expect(await differing(page, before, last)).toBe(0);
  }).toPass({ timeout: 20_000 });
  return last;
}

/** A file as a drop brings it. */
export async function drop(page: Page, target: string, name: string, content: string | Buffer): Promise<void> {
  const base64 = Buffer.from(content).toString('base64');
  const data = await page.evaluateHandle(
    ([file, text]) => {
      const bytes = Uint8Array.from(atob(text!), (c) => c.charCodeAt(0));
      const t = new DataTransfer();
      t.items.add(new File([bytes], file!));
      return t;
    },
    [name, base64],
  );
  for (const event of ['dragenter', 'dragover', 'drop'])
    await page.dispatchEvent(target, event, { dataTransfer: data });
}

export type Triangle = readonly [number[], number[], number[]];

/** Signed volume of a closed surface of triangles. */
export const volumeOf = (triangles: readonly Triangle[]): number =>
  triangles.reduce((sum, [a, b, c]) => {
    const cross = [b[1]! * c[2]! - b[2]! * c[1]!, b[2]! * c[0]! - b[0]! * c[2]!, b[0]! * c[1]! - b[1]! * c[0]!];
    return sum + (a[0]! * cross[0]! + a[1]! * cross[1]! + a[2]! * cross[2]!) / 6;
  }, 0);

/** Directed edges that have no partner running the other way, between corners given as names of places. */
export function unpaired(faces: readonly (readonly string[])[]): number {
  const count = new Map<string, number>();
  for (const f of faces)
    f.forEach((a, i) => {
      const b = f[(i + 1) % f.length]!;
      count.set(`${a}>${b}`, (count.get(`${a}>${b}`) ?? 0) + 1);
    });
  return [...count].filter(([e, n]) => count.get(e.split('>').reverse().join('>')) !== n).length;
}

/** Points and faces of an OBJ text. */
export function readObj(text: string): { points: number[][]; faces: number[][] } {
  const points: number[][] = [];
  const faces: number[][] = [];
  for (const line of text.split(/\r?\n/)) {
    const [word, ...rest] = line.trim().split(/\s+/);
    if (word === 'v') points.push(rest.map(Number));
    if (word === 'f') faces.push(rest.map((r) => Number(r.split('/')[0]) - 1));
  }
  return { points, faces };
}

/** Makes the present workers hang when they begin a course. */
export async function hangAt(page: Page, name: string): Promise<void> {
  for (const w of page.workers())
    await w.evaluate((at) => {
      const post = self.postMessage.bind(self) as (m: unknown, o?: StructuredSerializeOptions) => void;
      self.postMessage = ((m: { begun?: { name: string } }, o?: StructuredSerializeOptions) => {
        post(m, o);
        if (m.begun?.name === at) for (;;);
      }) as typeof self.postMessage;
    }, name);
}

/** Asserts that axe finds no violation of WCAG 2.2 AA on the page; with `only`, of these of its rules. */
export async function expectAccessible(page: Page, only?: readonly string[]): Promise<void> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (
    only ? axe.withRules([...only]) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
  ).analyze();
  expect(violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.html.slice(0, 120)}`))).toEqual([]);
}
