// npm run kills [-- N]: ends the browser with SIGKILL at N random moments (100) in a run of edits, and looks at what is
// there when it starts again. Not part of npm test; it takes about ten minutes and stops by itself.
import { chromium, type Browser, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import config from './playwright.config.ts';
import { ROOT } from './served.ts';

const ROUNDS = Math.min(500, Number(process.argv[2] ?? 100));
const [PORT, DEBUG] = [4671, 4672];
/** An edit older than this when the browser is ended must be there again, ms. */
const LOST_AT_MOST = 250;
const MOST_MINUTES = 20;

interface Running {
  process: ChildProcess;
  browser: Browser;
  page: Page;
}

async function start(dir: string): Promise<Running> {
  const { executablePath, args = [] } = config.use!.launchOptions!;
  const all = [
    '--headless',
    `--remote-debugging-port=${DEBUG}`,
    `--user-data-dir=${dir}`,
    '--window-size=1280,800',
    '--disable-gpu-sandbox',
    ...args,
  ];
  const child = spawn(executablePath!, [...all, 'about:blank'], { stdio: 'ignore', detached: true });
  for (let i = 0; i < 100; i++) {
    const up = await fetch(`http://127.0.0.1:${DEBUG}/json/version`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) break;
    await new Promise((done) => setTimeout(done, 100));
  }
  const browser = await chromium.connectOverCDP(`http://127.0.0.1:${DEBUG}`);
  const page = browser.contexts()[0]!.pages()[0]!;
  page.setDefaultTimeout(60_000);
  return { process: child, browser, page };
}

async function end(r: Running): Promise<void> {
  const gone = new Promise((done) => r.process.once('exit', done));
  process.kill(-r.process.pid!, 'SIGKILL');
  await gone;
  await r.browser.close().catch(() => undefined);
}

const field = (page: Page) => page.getByRole('textbox', { name: 'Position along x', exact: true });
const place = async (page: Page): Promise<number> => Number(await field(page).inputValue());

/** Opens the project that was made first, its hatch taken hold of. */
async function open(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await page.waitForURL(/\/bench\/.+\/cut/);
  const hatch = page.getByRole('button', { name: 'Hatch:', exact: false });
  await hatch.waitFor();
  if (!(await field(page).isVisible())) await hatch.click();
  await field(page).waitFor();
  await page.locator('canvas').focus();
}

const server = spawn('node', ['server/dist/main.js'], {
  cwd: ROOT,
  env: { ...process.env, PORT: `${PORT}` },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const dir = await mkdtemp(path.join(os.tmpdir(), 'kills-'));
const until = Date.now() + MOST_MINUTES * 60_000;
const faults: string[] = [];
let address = `http://localhost:${PORT}/`;
let [rounds, edits, youngest, oldestLost] = [0, 0, 0, 0];
/** Places after each edit of the round before, with the time at which the key was answered. */
let did: { at: number; value: number }[] = [];
let killed = 0;
try {
  for (; rounds <= ROUNDS && Date.now() < until; rounds++) {
    const r = await start(dir);
    const errors: string[] = [];
    r.page.on('pageerror', (e) => errors.push(e.message));
    await open(r.page, address);
    address = r.page.url();
    const now = await place(r.page);
    if (did.length) {
      const safe = did.filter((d) => d.at <= killed - LOST_AT_MOST).at(-1)?.value ?? did[0]!.value;
      const known = did.findIndex((d) => Math.abs(d.value - now) < 1e-6);
      if (known < 0) faults.push(`round ${rounds}: ${now} is no place that it ever had`);
      else if (known < did.findIndex((d) => d.value === safe))
        faults.push(`round ${rounds}: an edit older than ${LOST_AT_MOST} ms was lost`);
      const lost = did.slice(known + 1);
      if (lost.length) oldestLost = Math.max(oldestLost, killed - lost[0]!.at);
      else youngest++;
      // Undo is there, one step at a time.
      if (known > 0) {
        await r.page.keyboard.press('Control+z');
        const back = await place(r.page);
        if (Math.abs(back - did[known - 1]!.value) > 1e-6)
          faults.push(`round ${rounds}: undo led to ${back}, not ${did[known - 1]!.value}`);
        await r.page.keyboard.press('Control+y');
      }
    }
    if (errors.length) faults.push(`round ${rounds}: ${errors[0]}`);
    if (rounds === ROUNDS) {
      await end(r);
      break;
    }
    did = [{ at: Date.now() - 10_000, value: await place(r.page) }];
    const stopAt = Date.now() + 100 + 2500 * Math.random();
    const way = rounds % 2 ? 'ArrowLeft' : 'ArrowRight';
    while (Date.now() < stopAt) {
      await r.page.keyboard.press(way);
      did.push({ at: Date.now(), value: await place(r.page) });
      edits++;
    }
    killed = Date.now();
    await end(r);
    if (rounds % 10 === 9) console.log(`${rounds + 1} kills, ${edits} edits, ${faults.length} faults`);
  }
} finally {
  server.kill();
  await rm(dir, { recursive: true, force: true });
}
for (const f of faults) console.log(f);
console.log(
  `${rounds} kills in ${edits} edits: ${faults.length} faults; nothing at all was lost in ${youngest} of them, the oldest lost edit was ${oldestLost} ms old.`,
);
process.exitCode = faults.length ? 1 : 0;
