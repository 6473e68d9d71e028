import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { createApp, SECURITY_HEADERS } from './app.ts';

const PAGE = '<p>the page</p>';
let dir = '';
let server: Server;
let base = '';
beforeAll(async () => {
  dir = await mkdtemp(path.join(os.tmpdir(), 'served-'));
  await writeFile(path.join(dir, 'index.html'), PAGE);
  await new Promise<void>((done) => (server = createApp(dir).listen(0, '127.0.0.1', () => done())));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.close();
  await rm(dir, { recursive: true });
});

it.each(['/', '/yard', '/yard?broken=p', '/bench/p/cut'])(
  'answers %s with the page and all security headers',
  async (url) => {
    const r = await fetch(base + url);
    expect(await r.text()).toContain('the page');
    for (const [name, value] of Object.entries(SECURITY_HEADERS)) expect(r.headers.get(name)).toBe(value);
    expect(r.headers.get('x-powered-by')).toBe(null);
  },
);

it.each([
  '/assets/none.js',
  '/assets/',
  '/none.html',
  '/bench',
  '/wp/admin',
  '/%2e%2e/%2e%2e/etc/passwd',
  '/..%2f..%2fetc/passwd',
  '/%',
  '/%00',
  '/yard/%E0%A4%A',
  `/${'a/'.repeat(2000)}`,
])('what is not there is missing, with no path and no stack: %s', async (url) => {
  const r = await fetch(base + url);
  expect(r.status).toBe(404);
  const text = await r.text();
  expect(text).toBe('There is nothing at this address.');
  expect(r.headers.get('content-security-policy')).toBe(SECURITY_HEADERS['Content-Security-Policy']);
});

it('a page that was not built is told of without a path', async () => {
  await rm(path.join(dir, 'index.html'));
  const r = await fetch(`${base}/`);
  expect(await r.text()).not.toContain(dir);
  expect(r.status).toBeGreaterThanOrEqual(400);
  await writeFile(path.join(dir, 'index.html'), PAGE);
});

it('what is worth it goes out compressed', async () => {
  await writeFile(path.join(dir, 'long.js'), 'let x = 1;\n'.repeat(2000));
  const r = await fetch(`${base}/long.js`, { headers: { 'Accept-Encoding': 'gzip' } });
  expect(r.headers.get('content-encoding')).toBe('gzip');
  expect((await r.text()).length).toBe(22_000);
});
