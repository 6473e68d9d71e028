import { chromium } from '@playwright/test';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const page = await b.newPage({ viewport: { width: 1220, height: 900 } });
await page.goto('file:///tmp/quads.html'); await page.screenshot({ path: '/tmp/quads.png' }); await b.close();
