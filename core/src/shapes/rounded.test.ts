import { describe, expect, it } from 'vitest';
import { arcRun, selfCrossing } from './arcs.ts';
import { signedArea2, type Point2 } from './outlines.ts';
import { roundedRun } from './rounded.ts';

const square: Point2[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];
const area = (points: readonly Point2[], bows: readonly number[], radii: readonly number[], n = 720) => {
  const r = roundedRun(points, bows, radii);
  return signedArea2(arcRun(r.points, r.bows, n)) / 2;
};
/** What n flats of a full circle leave of a rounded right corner of radius 1. */
const lost = (n: number) => 1 - (n * Math.sin((2 * Math.PI) / n)) / 8;

describe('rounded corners', () => {
  it('takes from a square what the corners lose, exactly for its flats', () => {
    expect(area(square, [], [2, 2, 2, 2], 64)).toBeCloseTo(100 - 4 * 4 * lost(64), 10);
    expect(area(square, [], [0, 3, 0, 0], 64)).toBeCloseTo(100 - 9 * lost(64), 10);
  });

  it('rounds a hollow corner outward, and the same run turned round alike', () => {
    const l: Point2[] = [
      [0, 0],
      [10, 0],
      [10, 4],
      [4, 4],
      [4, 10],
      [0, 10],
    ];
    expect(area(l, [], [0, 0, 0, 2, 0, 0], 64)).toBeCloseTo(64 + 4 * lost(64), 10);
    expect(area([...l].reverse(), [], [0, 0, 2, 0, 0, 0], 64)).toBeCloseTo(-64 - 4 * lost(64), 10);
  });

  it('makes arcs that have no room smaller until they meet: a square becomes a circle', () => {
    const r = roundedRun(square, [], [99, 99, 99, 99]);
    expect(r.points).toEqual(
      [
        [0, 5],
        [5, 0],
        [10, 5],
        [5, 10],
      ].map((p) => p.map((x) => expect.closeTo(x, 12))),
    );
    const round = arcRun(r.points, r.bows, 64);
    for (const [x, y] of round) expect(Math.hypot(x - 5, y - 5)).toBeCloseTo(5, 12);
    expect(selfCrossing(round)).toBeNull();
  });

  it('leaves corners beside an arc, corners that do not turn, and runs without radii as they are', () => {
    const bows = [2, 0, 0, 0];
    expect(roundedRun(square, bows, [3, 3, 0, 0])).toEqual({ points: square, bows });
    const flat: Point2[] = [
      [0, 0],
      [5, 0],
      [10, 0],
      [10, 10],
    ];
    expect(roundedRun(flat, [], [0, 3, 0, 0]).points).toEqual(flat);
    expect(roundedRun(square, [], [])).toEqual({ points: square, bows: [0, 0, 0, 0] });
  });
});
