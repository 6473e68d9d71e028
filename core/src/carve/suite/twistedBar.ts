import { meshFromFaces, type PolyMesh } from '../../mesh/index.ts';

/**
 * A bar with a square section of which the upper end is turned against the lower one by an angle (radians): each of its
 * four sides is one bent quad. `width`: over the corners, mm.
 */
export function twistedBar(width: number, height: number, angle: number): PolyMesh {
  const ring = (z: number, turn: number): number[] =>
    [0, 1, 2, 3].flatMap((i) => {
      const a = (i * Math.PI) / 2 + turn;
      return [(width / 2) * Math.cos(a), (width / 2) * Math.sin(a), z];
    });
  const sides = [0, 1, 2, 3].map((i) => [i, (i + 1) % 4, ((i + 1) % 4) + 4, i + 4]);
  return meshFromFaces(
    [...ring(-height / 2, -angle / 2), ...ring(height / 2, angle / 2)],
    [[3, 2, 1, 0], [4, 5, 6, 7], ...sides],
  );
}
