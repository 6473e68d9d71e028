import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../mesh/index.ts';
import { boxOfPoints, chosenPoints, movedPoints } from './cagePoints.ts';

/** A cage of 1 × 1 × 2 parts over a box of 2 × 2 × 4 about the origin. */
const cage = {
  x: 1,
  y: 1,
  z: 2,
  moves: [{ point: [1, 1, 2] as [number, number, number], by: [0, 0, 1] as [number, number, number] }],
};
const rest = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-2, 0, 2].map((z): Vec3 => [x, y, z])));

describe('points of a cage that are chosen together', () => {
  it('are one, a row, or a layer, where they are now', () => {
    expect(chosenPoints(cage, rest, [1, 1, 2])).toEqual([{ point: [1, 1, 2], by: [0, 0, 1], at: [1, 1, 3] }]);
    expect(chosenPoints(cage, rest, [0, 1, null]).map((p) => p.at)).toEqual([
      [-1, 1, -2],
      [-1, 1, 0],
      [-1, 1, 2],
    ]);
    const top = chosenPoints(cage, rest, [null, null, 2]);
    expect(top).toHaveLength(4);
    expect(boxOfPoints(top)).toEqual({ middle: [0, 0, 2.5], size: [2, 2, 1] });
    // A place beyond the end of the cage stands for its last one.
    expect(chosenPoints(cage, rest, [5, 0, 0])[0]!.point).toEqual([1, 0, 0]);
  });

  it('move, grow and turn about their middle; others keep their moves, and none is kept that goes nowhere', () => {
    const layer = chosenPoints(cage, rest, [null, null, 0]);
    const still = { position: [0, 0, -2], turn: [0, 0, 0] } as const;
    expect(
      movedPoints(cage, layer, { ...still, position: [...still.position], turn: [...still.turn] }, [1, 1, 1]),
    ).toEqual(cage.moves);
    const grown = movedPoints(cage, layer, { position: [0, 0, -3], turn: [0, 0, 0] }, [2, 1, 1]);
    expect(grown).toHaveLength(5);
    expect(grown.find((m) => m.point.join() === '1,0,0')!.by).toEqual([1, 0, -1]);
    const turned = movedPoints(cage, layer, { position: [0, 0, -2], turn: [0, 0, 90] }, [1, 1, 1]);
    expect(turned.find((m) => m.point.join() === '1,1,0')!.by).toEqual([-2, 0, 0]);
  });
});
