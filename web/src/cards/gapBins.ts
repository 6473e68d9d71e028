/**
 * Bars of a chart of gaps, by their size in tenfolds: how many in each, and what size a share of the way along stands
 * for, mm.
 */
export interface GapBins {
  bins: number[];
  sizeAt(share: number): number;
}

/** Bars of the chart. */
const BARS = 24;

/**
 * Gaps (mm, above 0 or 0) in bars from the least to the greatest; null where there are none. Gaps of 0 count as the
 * least that is not.
 */
export function gapBins(gaps: readonly number[]): GapBins | null {
  const sizes = gaps.filter((g) => g > 0);
  if (!sizes.length) return null;
  const [low, high] = [Math.log10(Math.min(...sizes)), Math.log10(Math.max(...sizes))];
  const span = Math.max(high - low, 1e-6);
  const bins = new Array<number>(BARS).fill(0);
  for (const g of gaps) {
    const at = g > 0 ? (Math.log10(g) - low) / span : 0;
    bins[Math.min(BARS - 1, Math.max(0, Math.floor(at * BARS)))]!++;
  }
  return { bins, sizeAt: (share) => 10 ** (low + share * span) };
}
