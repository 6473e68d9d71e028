import { course, openSample, type } from './bench.ts';
import { served } from './served.ts';

/**
 * `npm run memory`: the memory of the page and of its workers after each fifty of 250 edits of the sample, each
 * evaluated and drawn, as the browser itself counts it after a collection. Flat when what is replaced is let go.
 */
interface Measured {
  breakdown: { bytes: number; attribution: { scope: string }[] }[];
}

const EDITS = 250;
/** Between edits, ms. */
const REST = 200;
const PARTS = [
  ['Pump-house wall', 'Hatch', 'Width', 700],
  ['Gauge pod', 'Latch seat', 'Width', 70],
  ['Mast clamp', 'Adjusting slot', 'Length', 50],
] as const;

await served(
  4657,
  async (newPage) => {
    const page = await newPage('light');
    await openSample(page);
    for (let i = 0; i < EDITS; i++) {
      const [part, name, field, size] = PARTS[Math.floor(i / 10) % PARTS.length]!;
      if (i % 10 === 0) {
        await page.getByRole('button', { name: part, exact: true }).click();
        await course(page, name).click();
      }
      await type(page, field, `${(size + 0.01 * (i + 1)).toFixed(2)}`);
      // An edit is evaluated and drawn in much less; the next one would overtake it otherwise.
      await page.waitForTimeout(REST);
      if ((i + 1) % 50) continue;
      const { breakdown } = await page.evaluate(() =>
        (
          performance as unknown as { measureUserAgentSpecificMemory(): Promise<Measured> }
        ).measureUserAgentSpecificMemory(),
      );
      const of = (scope: string) =>
        breakdown.filter((b) => b.attribution.some((a) => a.scope === scope)).reduce((n, b) => n + b.bytes, 0) /
        2 ** 20;
      console.log(
        `${i + 1} edits: page ${of('Window').toFixed(1)} MB, workers ${of('DedicatedWorkerGlobalScope').toFixed(1)} MB`,
      );
    }
  },
  ['--enable-blink-features=ForceEagerMeasureMemory'],
);
