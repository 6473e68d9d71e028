import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { createApp, SECURITY_HEADERS } from './app.ts';

let dir = '';
let server: Server;
let base = '';
beforeAll(async () => {
  dir = await mkdtemp(path.join(os.tmpdir(), 'served-'));
  await writeFile(path.join(dir, 'index.html'), '<p>the page</p>');
  await new Promise<void>((done) => (server = createApp(dir).listen(0, '127.0.0.1', () => done())));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.close();
  await rm(dir, { recursive: true });
});

it.each(['/', '/bench/p/cut', '/%2e%2e/%2e%2e/etc/passwd'])(
  'answers %s with the page and all security headers',
  async (url) => {
    const r = await fetch(base + url);
    expect(await r.text()).toContain('the page');
    for (const [name, value] of Object.entries(SECURITY_HEADERS)) expect(r.headers.get(name)).toBe(value);
    expect(r.headers.get('x-powered-by')).toBe(null);
  },
);

it('a missing asset is missing, not the page', async () => {
  expect((await fetch(`${base}/assets/none.js`)).status).toBe(404);
});
