import type { Flat } from '../../../mesh/index.ts';

/** Least and greatest of x and y. */
export type Extent = [low: Flat, high: Flat];

/** The extent of some places. */
export function extentOf(places: readonly Flat[]): Extent {
  const least = (k: 0 | 1) => places.reduce((x, p) => Math.min(x, p[k]), Infinity);
  const most = (k: 0 | 1) => places.reduce((x, p) => Math.max(x, p[k]), -Infinity);
  return [
    [least(0), least(1)],
    [most(0), most(1)],
  ];
}
