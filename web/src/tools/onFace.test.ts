import { expect, it } from 'vitest';
import { sketchPlane, type Point2, type Sketch } from '@dusky-mason/core/shapes';
import { inside, turnOfEdge } from './onFace.ts';

const square: Point2[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];
const face: Sketch = {
  ...sketchPlane([0, 0, 0], [0, 0, 1], [1, 0, 0]),
  boundaries: [
    square,
    [
      [2, 2],
      [4, 4],
      [2, 4],
    ],
  ],
};

it('a place is in a ring, on its rim within a tolerance, or out of it', () => {
  expect([inside(square, [5, 5], 0.1), inside(square, [10.05, 5], 0.1), inside(square, [10.2, 5], 0.1)]).toEqual([
    true,
    true,
    false,
  ]);
  expect(inside(square, [-1, -1], 0.1)).toBe(false);
});

it('the turn of the edge that a place lies on', () => {
  expect(turnOfEdge(face, [5, 0])).toBe(0);
  expect(turnOfEdge(face, [10, 5])).toBe(90);
  expect(turnOfEdge(face, [3, 3])).toBe(45);
  expect(turnOfEdge(face, [5, 5])).toBeNull();
});
