import type { Bounds } from '../../mesh/index.ts';

/** What two boxes meet with: sides that come flush or stand against each other, or their middles. */
export type MeetsBy = 'side' | 'middle';

/**
 * How far (mm, along an axis) a box must go on for one of its two sides or its middle to be level with that of another
 * box: the least way of those within reach. Null where none is.
 *
 * @example
 * // From 0 to 10, beside one that begins at 10.4: 0.4.
 * meetBoxes({ min: [0, 0, 0], max: [10, 1, 1] }, [{ min: [10.4, 0, 0], max: [12, 1, 1] }], 0, 1);
 */
export function meetBoxes(
  box: Bounds,
  others: readonly Bounds[],
  axis: 0 | 1 | 2,
  within: number,
): { by: number; meets: MeetsBy } | null {
  let best: { by: number; meets: MeetsBy } | null = null;
  const take = (by: number, meets: MeetsBy): void => {
    if (Math.abs(by) <= within && !(best && Math.abs(best.by) <= Math.abs(by))) best = { by, meets };
  };
  const [low, high] = [box.min[axis], box.max[axis]];
  for (const { min, max } of others) {
    for (const to of [min[axis], max[axis]]) for (const from of [low, high]) take(to - from, 'side');
    take((min[axis] + max[axis] - low - high) / 2, 'middle');
  }
  return best;
}
