import { describe, expect, it } from 'vitest';
import { gapBins } from './gapBins.ts';

describe('bars of gaps', () => {
  it('stand by tenfolds from the least to the greatest, every gap in one', () => {
    const { bins, sizeAt } = gapBins([1e-6, 1e-6, 1e-3, 1, 0])!;
    expect([bins.length, bins.reduce((a, b) => a + b, 0), bins[0], bins.at(-1)]).toEqual([24, 5, 3, 1]);
    expect([sizeAt(0), sizeAt(0.5), sizeAt(1)].map((x) => Math.log10(x))).toEqual([
      expect.closeTo(-6, 9),
      expect.closeTo(-3, 9),
      expect.closeTo(0, 9),
    ]);
  });

  it('are none without gaps, and one heap where all are alike', () => {
    expect([gapBins([]), gapBins([0, 0])]).toEqual([null, null]);
    expect(gapBins([2, 2, 2])!.bins.filter((n) => n > 0)).toEqual([3]);
  });
});
