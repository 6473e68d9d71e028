import { served } from './served.ts';
import { openSample } from './bench.ts';
await served(4711, async (newPage) => {
  for (const [scheme, parts] of [['light', ['Mast clamp', 'Pump-house wall']], ['dark', ['Gauge pod', 'Louvre panel']]] as const) {
    const page = await newPage(scheme);
    await openSample(page);
    for (const part of parts) {
      await page.getByRole('button', { name: part, exact: true }).click().catch(() => undefined);
      await page.waitForTimeout(800);
      await page.getByRole('link', { name: 'Dress' }).click();
      await page.getByRole('complementary', { name: 'Card' }).getByRole('button', { name: 'To quads', exact: true }).click();
      await page.waitForTimeout(6000);
      await page.screenshot({ path: `/tmp/q-${part.replace(/ /g, '')}.png` });
    }
    await page.close();
  }
});
process.exit(0);
