// npm run large [-- FACES]: opens a ball of a million triangles as STL and as OBJ in the built page, and prints how
// long
// each act takes and for how long the page was blocked at most. Not part of npm test.
import { expect, type Page } from '@playwright/test';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { served } from './served.ts';

const asked = Number(process.argv[2] ?? 1_000_000);
const rings = Math.max(3, Math.round(Math.sqrt(asked / 2)));

/** A ball of rings × rings quads as triangles, its places in order. */
function ball(): { points: Float32Array; triangles: Int32Array } {
  const points = new Float32Array(3 * rings * (rings + 1));
  for (let i = 0; i <= rings; i++)
    for (let j = 0; j < rings; j++) {
      const [a, b] = [(Math.PI * i) / rings, (2 * Math.PI * j) / rings];
      points.set(
        [50 * Math.sin(a) * Math.cos(b), 50 * Math.sin(a) * Math.sin(b), 50 * Math.cos(a)],
        3 * (i * rings + j),
      );
    }
  const out: number[] = [];
  // The poles are one place each.
  const at = (i: number, j: number) => (i === 0 ? 0 : i === rings ? rings * rings : i * rings + (j % rings));
  for (let i = 0; i < rings; i++)
    for (let j = 0; j < rings; j++) {
      const [p, q, r, s] = [at(i, j), at(i, j + 1), at(i + 1, j), at(i + 1, j + 1)];
      if (i > 0) out.push(p, r, q);
      if (i < rings - 1) out.push(q, r, s);
    }
  return { points, triangles: Int32Array.from(out) };
}

function stl({ points, triangles }: ReturnType<typeof ball>): Buffer {
  const n = triangles.length / 3;
  const out = Buffer.alloc(84 + 50 * n);
  out.writeUInt32LE(n, 80);
  for (let t = 0; t < n; t++)
    for (let i = 0; i < 9; i++)
      out.writeFloatLE(points[3 * triangles[3 * t + Math.floor(i / 3)]! + (i % 3)]!, 84 + 50 * t + 12 + 4 * i);
  return out;
}

function obj({ points, triangles }: ReturnType<typeof ball>): Buffer {
  const rows: string[] = [];
  for (let v = 0; v < points.length; v += 3) rows.push(`v ${points[v]} ${points[v + 1]} ${points[v + 2]}`);
  for (let t = 0; t < triangles.length; t += 3)
    rows.push(`f ${triangles[t]! + 1} ${triangles[t + 1]! + 1} ${triangles[t + 2]! + 1}`);
  return Buffer.from(rows.join('\n'));
}

/** Does an act, and prints how long it took and the longest task of the page within it. */
async function measured(page: Page, what: string, act: () => Promise<unknown>): Promise<void> {
  await page.evaluate(() => ((window as unknown as { tasks: number[] }).tasks.length = 0));
  const t0 = Date.now();
  await act();
  const ms = Date.now() - t0;
  await page.waitForTimeout(300);
  const tasks = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks);
  console.log(
    `  ${what}: ${(ms / 1000).toFixed(1)} s, longest task ${Math.max(0, ...tasks).toFixed(0)} ms (${tasks.filter((t) => t > 100).length} over 100 ms)`,
  );
}

const dir = await mkdtemp(path.join(os.tmpdir(), 'large-'));
try {
  const made = ball();
  await served(4673, async (newPage) => {
    for (const [ending, bytes] of [
      ['stl', stl(made)],
      ['obj', obj(made)],
    ] as const) {
      const file = path.join(dir, `ball.${ending}`);
      await writeFile(file, bytes);
      console.log(
        `${ending}: ${(made.triangles.length / 3).toLocaleString('en')} triangles, ${(bytes.length / 1e6).toFixed(0)} MB`,
      );
      const page = await newPage('light');
      page.setDefaultTimeout(300_000);
      await page.addInitScript(() => {
        const tasks: number[] = [];
        (window as unknown as { tasks: number[] }).tasks = tasks;
        new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration))).observe({
          entryTypes: ['longtask'],
        });
      });
      await page.goto('/yard');
      const chooser = page.locator('input[type=file]').first();
      const volume = page.locator('footer [data-figure="volume"]');
      await measured(page, 'read, joined and drawn', async () => {
        await chooser.setInputFiles(file);
        await page.waitForURL(/\/bench\//);
        await volume.filter({ hasText: 'cm³' }).waitFor();
      });
      await measured(page, 'pointer over it', async () => {
        for (let i = 0; i < 10; i++) await page.mouse.move(600 + 10 * i, 400);
      });
      const before = await volume.innerText();
      await measured(page, 'cut', async () => {
        await page.locator('canvas').focus();
        await page.keyboard.press('c');
        await page.keyboard.press('Enter');
        await expect.poll(() => volume.innerText(), { timeout: 300_000 }).toMatch(/\d.*cm³/);
        await expect.poll(() => volume.innerText(), { timeout: 300_000 }).not.toBe(before);
        await expect.poll(() => page.locator('footer .working').count(), { timeout: 300_000 }).toBe(0);
      });
      await measured(page, 'surveyed', async () => {
        await page.getByRole('link', { name: 'Survey' }).click();
        await page
          .getByText(/Poles|N-gons|Triangles/)
          .first()
          .waitFor();
      });
      await measured(page, 'written', async () => {
        await page.getByRole('link', { name: 'Dispatch' }).click();
        const download = page.waitForEvent('download');
        await page.getByRole('button', { name: /^Write .*\.obj$/ }).click();
        await download;
      });
      await page.close();
    }
  });
} finally {
  await rm(dir, { recursive: true });
}
