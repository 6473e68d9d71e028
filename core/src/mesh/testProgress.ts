import { expect } from 'vitest';
import type { OpContext } from './operation.ts';

/**
 * Runs a long job and checks its progress: shares from 0 to 1 that never fall, the last one within `reaches`, with
 * words. Also runs it without a listener, and cancelled.
 */
export function toldWhile(run: (ctx?: OpContext) => unknown, reaches = 0.5): string[] {
  const told: { share: number; stage: string }[] = [];
  run({ progress: (share, stage) => told.push({ share, stage }) });
  expect(told.length).toBeGreaterThan(0);
  told.forEach(({ share, stage }, i) => {
    expect(share, stage).toBeGreaterThanOrEqual(i ? told[i - 1]!.share : 0);
    expect(share, stage).toBeLessThanOrEqual(1);
    expect(stage).toMatch(/^[A-Za-z ]{4,}$/);
  });
  expect(told[0]!.share).toBeLessThan(0.5);
  expect(told.at(-1)!.share).toBeGreaterThanOrEqual(reaches);
  expect(() => run({ signal: { aborted: true } })).toThrow(/^Cancelled/);
  run({});
  return [...new Set(told.map((t) => t.stage))];
}
