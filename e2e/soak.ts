// npm run soak [-- ACTS [SEED]]: random acts in the built page, 2 000 of them or as many as ten minutes allow. Told are
// errors on the console, raw texts in notices, documents that do not read, and how the memory grows. Not part of npm
// test.
import type { Page } from '@playwright/test';
import { openSample } from './bench.ts';
import { served } from './served.ts';

const [ACTS, SEED] = [Number(process.argv[2] ?? 2000), Number(process.argv[3] ?? 1)];
const MOST_MS = 10 * 60_000;
/** Texts of validators, engines and libraries, which must never be shown. */
const RAW = /[{[]"|invalid_|undefined|\bNaN\b|is not a function|Cannot read|TypeError|RangeError|ZodError|at https?:/;
/** Messages on the console about an interrupted reload are not ours. */
const QUIET = /net::ERR_ABORTED|WebGL|GPU stall|GL Driver/;

let state = SEED;
const random = (): number => {
  state = (state * 48271) % 2147483647;
  return state / 2147483647;
};
const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
const place = (): [number, number] => [330 + 560 * random(), 120 + 480 * random()];

const faults: string[] = [];
let now = 'begin';
const TYPED = ['40', '0', '-1', '20000 m', '1e308', '1e-30', '', 'abc', '12.5', '1/0', '2 in', '9999', '-0', '0.001'];
const KEYS = [
  'c',
  'd',
  't',
  'k',
  'w',
  'g',
  'n',
  'o',
  'h',
  'm',
  'b',
  'v',
  'x',
  'e',
  'a',
  '1',
  '4',
  '6',
  '[',
  ']',
  '.',
  ',',
  'ArrowUp',
  'ArrowLeft',
  '+',
  '-',
  'Enter',
  'Escape',
  'Escape',
  'Delete',
];

const ACT: Record<string, (page: Page) => Promise<unknown>> = {
  place: async (page) => {
    await page.locator('canvas').focus();
    await page.keyboard.press('c');
    await page.mouse.move(...place());
    await page.mouse.click(...place());
  },
  drag: async (page) => {
    await page.mouse.move(...place());
    await page.mouse.down();
    await page.mouse.move(...place(), { steps: 3 });
    await page.mouse.up();
  },
  draw: async (page) => {
    await page.locator('canvas').focus();
    await page.keyboard.press('d');
    for (let i = 0; i < 3; i++) await page.mouse.click(...place());
    await page.keyboard.press('Enter');
  },
  type: async (page) => {
    const fields = page.locator('aside input.number:visible, .card input.number:visible, .strip input:visible');
    const n = await fields.count();
    if (!n) return;
    const field = fields.nth(Math.floor(random() * n));
    await field.fill(one(TYPED), { timeout: 1000 });
    await field.press(one(['Enter', 'Tab', 'Escape']), { timeout: 1000 });
  },
  key: (page) => page.keyboard.press(one(KEYS)),
  undo: (page) => page.keyboard.press('Control+z'),
  redo: (page) => page.keyboard.press('Control+y'),
  course: async (page) => {
    const blocks = page.getByRole('button', { name: /: (removes|adds|keeps|parts|scribes|slits|block|box|.*)$/ });
    const n = Math.min(8, await blocks.count());
    if (n) await blocks.nth(Math.floor(random() * n)).click({ timeout: 1000 });
  },
  stage: (page) =>
    page.getByRole('link', { name: one(['Cut', 'Survey', 'Dress', 'Dispatch']), exact: true }).click({ timeout: 2000 }),
  part: (page) =>
    page
      .getByRole('region', { name: 'Parts' })
      .getByText(one(['Pump-house wall', 'Gauge pod', 'Mast clamp', 'Louvre panel']))
      .first()
      .click({ timeout: 1000 }),
  reload: (page) => page.reload(),
  worker: async (page) => {
    // A worker that ends: what it did is begun anew by another.
    const [w] = page.workers();
    await w
      ?.evaluate(() =>
        setTimeout(() => {
          throw new Error('ended by the soak');
        }),
      )
      .catch(() => undefined);
  },
};
/** Weight of each act. */
const OFTEN: Record<string, number> = {
  place: 6,
  drag: 10,
  draw: 6,
  type: 16,
  key: 24,
  undo: 10,
  redo: 5,
  course: 8,
  stage: 7,
  part: 6,
  reload: 1,
  worker: 1,
};
const bag = Object.entries(OFTEN).flatMap(([name, n]) => Array<string>(n).fill(name));

await served(
  4674,
  async (newPage) => {
    const page = await newPage('light');
    page.setDefaultTimeout(20_000);
    page.on('pageerror', (e) => !e.message.includes('ended by the soak') && faults.push(`${now}: ${e.message}`));
    page.on('console', (m) => {
      if (m.type() === 'error' && !QUIET.test(m.text()) && !m.text().includes('ended by the soak'))
        faults.push(`${now}: console: ${m.text().slice(0, 200)}`);
    });
    page.on('dialog', (d) => void d.dismiss());
    await openSample(page);
    const address = page.url();
    const until = Date.now() + MOST_MS;
    const memory: number[] = [];
    let acts = 0;
    for (; acts < ACTS && Date.now() < until; acts++) {
      const name = one(bag);
      now = `act ${acts} (${name})`;
      await ACT[name]!(page).catch((e: Error) => {
        // A target that was not there is no fault of the page.
        if (!/Timeout|not visible|intercepts|detached|closed|disabled/.test(e.message))
          faults.push(`${now}: ${e.message.slice(0, 160)}`);
      });
      const said = (
        await page
          .locator('[role=alert], .notices')
          .allInnerTexts()
          .catch(() => [])
      ).join(' ');
      if (RAW.test(said)) faults.push(`${now}: raw text: ${RAW.exec(said)![0]} in ${said.slice(0, 200)}`);
      if (!page.url().includes('/bench/')) {
        if (page.url().includes('broken=')) faults.push(`${now}: the document does not read`);
        await page.goto(address);
      }
      if (acts % 100 === 99) {
        // The document is read from the start, as the next visit would.
        await page.reload();
        await page
          .locator('footer [data-figure="state"]')
          .waitFor({ timeout: 60_000 })
          .catch(() => undefined);
        if (!page.url().includes('/bench/')) faults.push(`${now}: the document does not read`);
        await page.waitForTimeout(1000);
        const bytes = await page.evaluate(() => {
          (globalThis as unknown as { gc: () => void }).gc();
          return (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize;
        });
        memory.push(bytes / 2 ** 20);
        console.log(
          `${acts + 1} acts, ${faults.length} faults, ${memory.at(-1)!.toFixed(0)} MB on the page after a reload`,
        );
      }
    }
    for (const f of [...new Set(faults)].slice(0, 40)) console.log(f);
    console.log(`${acts} acts: ${faults.length} faults; memory ${memory.map((m) => m.toFixed(0)).join(' ')} MB`);
    process.exitCode = faults.length ? 1 : 0;
  },
  ['--js-flags=--expose-gc', '--enable-precise-memory-info'],
);
