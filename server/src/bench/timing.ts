/** How long a run takes, ms. */
export function timed(run: () => unknown): number {
  const t0 = performance.now();
  run();
  return performance.now() - t0;
}

/** The middle one of some numbers, by size. */
export const median = (x: readonly number[]): number => [...x].sort((a, b) => a - b)[x.length >> 1]!;
