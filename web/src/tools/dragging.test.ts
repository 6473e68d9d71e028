import { describe, expect, it } from 'vitest';
import type { Grab } from '@dusky-mason/core/mend';
import { nearestWay } from './dragging.ts';

/** Places are on the screen where they are in x and y, ten pixels to the mm. */
const on = ([x, y]: readonly [number, number, number]) => ({ x: 10 * x, y: 10 * y });
const vertex: Grab = {
  vertex: 1,
  at: [0, 0, 5],
  fixed: null,
  ways: [
    { vertex: 2, at: [10, 0, 5] },
    { vertex: 3, at: [0, 30, 5] },
  ],
};
const tie: Grab = { ...vertex, fixed: { vertex: 9, at: [-5, -5, 5] } };

describe('what is dragged', () => {
  it('goes along the edge that the pointer is nearest to, as far as it is along it', () => {
    const w = nearestWay(vertex, { x: 21, y: 4 }, on)!;
    expect([w.vertex, +w.share.toFixed(6), w.name]).toEqual([2, 0.21, '21.0 % of the edge']);
    expect(w.point.map((x) => +x.toFixed(6))).toEqual([2.1, 0, 5]);
    expect(nearestWay(vertex, { x: -3, y: 190 }, on)).toMatchObject({ vertex: 3 });
  });

  it('is drawn to the ends, the middle and the thirds of an edge', () => {
    const shares = [2, 30, 47, 70, 97, 140].map((x) => nearestWay(vertex, { x, y: 0 }, on)!.share);
    expect(shares).toEqual([0, 1 / 3, 1 / 2, 2 / 3, 1, 1]);
    expect(nearestWay(vertex, { x: 99, y: 1 }, on)!.name).toBe('into its neighbour');
  });

  it('of a tie goes to the nearest vertex that it may go to', () => {
    expect(nearestWay(tie, { x: 70, y: 20 }, on)).toMatchObject({ vertex: 2, share: 1, point: [10, 0, 5] });
    expect(nearestWay(tie, { x: 0, y: 200 }, on)).toMatchObject({ vertex: 3 });
    expect(nearestWay({ ...tie, ways: [] }, { x: 0, y: 0 }, on)).toBeNull();
  });
});
