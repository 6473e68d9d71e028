import { describe, expect, it } from 'vitest';
import type { Flat } from '../../../mesh/index.ts';
import { meanValueWeights } from './meanValue.ts';

/** An L, which turns inward. */
const ELL: Flat[] = [
  [0, 0],
  [4, 0],
  [4, 1],
  [1, 1],
  [1, 3],
  [0, 3],
];
const mean = (weights: readonly number[], places: readonly Flat[]): Flat => [
  weights.reduce((s, w, i) => s + w * places[i]![0], 0),
  weights.reduce((s, w, i) => s + w * places[i]![1], 0),
];

describe('mean value weights', () => {
  it('give back every place of the polygon, and move evenly with what moves its corners', () => {
    const places: Flat[] = [
      [0.5, 0.5],
      [3, 0.25],
      [0.25, 2.5],
      [0.9, 0.9],
    ];
    for (const p of places) {
      const weights = meanValueWeights(ELL, p);
      expect(weights.reduce((a, b) => a + b)).toBeCloseTo(1, 12);
      mean(weights, ELL).forEach((x, k) => expect(x).toBeCloseTo(p[k]!, 12));
      const moved = ELL.map(([x, y]): Flat => [2 * x - y + 1, x + 3 * y]);
      const to = [2 * p[0] - p[1] + 1, p[0] + 3 * p[1]];
      mean(weights, moved).forEach((x, k) => expect(x).toBeCloseTo(to[k]!, 12));
    }
  });

  it('on an edge are those of its ends alone, at a corner of that alone', () => {
    expect(meanValueWeights(ELL, [3, 0])).toEqual([0.25, 0.75, 0, 0, 0, 0]);
    expect(meanValueWeights(ELL, [1, 1])[3]).toBeCloseTo(1, 12);
  });
});
