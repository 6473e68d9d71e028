import { expect, it } from 'vitest';
import type { Flat } from '../../mesh/index.ts';
import { alignedEdges } from './aligned.ts';

const SQUARE: Flat[] = [
  [0, 0],
  [2, 0],
  [2, 2],
  [0, 2],
];

it('inner edges follow the boundaries when they run along or across them, whatever the frame', () => {
  for (const turn of [0, 0.4, 1]) {
    const to = ([x, y]: Flat): Flat => [
      x * Math.cos(turn) - y * Math.sin(turn),
      x * Math.sin(turn) + y * Math.cos(turn),
    ];
    const halves: Flat[] = [...SQUARE, [1, 0], [1, 2]];
    const upright = [
      [0, 4, 5, 3],
      [4, 1, 2, 5],
    ];
    expect(alignedEdges([SQUARE.map(to)], halves.map(to), upright)).toEqual({ along: 1, all: 1 });
    const aslant = [
      [0, 1, 2],
      [0, 2, 3],
    ];
    expect(alignedEdges([SQUARE.map(to)], SQUARE.map(to), aslant)).toEqual({ along: 0, all: 1 });
  }
});
