import { describe, expect, it } from 'vitest';
import { partFace, type Flat, type NewFace } from './index.ts';

const face = (...loops: Flat[][]): { face: NewFace; places: Flat[] } => {
  let at = 0;
  return {
    face: { from: 0, boundaries: loops.map((l) => l.map(() => ({ vertex: 10 + at, edge: at++ }))) },
    places: loops.flat(),
  };
};
const vertices = (pieces: readonly NewFace[]) =>
  pieces.map((p) => p.boundaries.map((l) => l.map((c) => c.vertex - 10)));
const area = (places: Flat[], pieces: readonly NewFace[]) =>
  pieces.map((p) =>
    p.boundaries.reduce(
      (sum, l) =>
        sum +
        l.reduce((s, c, i) => {
          const [a, b] = [places[c.vertex - 10]!, places[l[(i + 1) % l.length]!.vertex - 10]!];
          return s + (a[0] * b[1] - a[1] * b[0]) / 2;
        }, 0),
      0,
    ),
  );
const square: Flat[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];
const hole = (x: number, y: number): Flat[] => [
  [x, y],
  [x, y + 2],
  [x + 2, y + 2],
  [x + 2, y],
];

describe('partFace', () => {
  it('cuts a square along a diagonal, and keeps which old edge each corner leaves along', () => {
    const { face: f, places } = face(square);
    const pieces = partFace(f, places, [[0, 2]]);
    expect(vertices(pieces).sort()).toEqual([[[0, 1, 2]], [[0, 2, 3]]]);
    expect(pieces.flatMap((p) => p.boundaries[0]!.map((c) => c.edge)).sort()).toEqual([-1, -1, 0, 1, 2, 3]);
  });

  it('leaves a hole in the piece that it lies in', () => {
    const { face: f, places } = face(square, hole(6, 1));
    const pieces = partFace(f, places, [[0, 2]]);
    expect(area(places, pieces).sort((a, b) => a - b)).toEqual([46, 50]);
  });

  it('ties a hole by one chord (one boundary that runs there and back), by two to two faces', () => {
    const { face: f, places } = face(square, hole(4, 4));
    const [one, ...none] = partFace(f, places, [[0, 4]]);
    expect(none).toEqual([]);
    expect(one!.boundaries).toHaveLength(1);
    expect(one!.boundaries[0]).toHaveLength(10);
    const two = partFace(f, places, [
      [0, 4],
      [2, 6],
    ]);
    expect(area(places, two)).toEqual([48, 48]);
    expect(two.every((p) => p.boundaries.length === 1)).toBe(true);
  });

  it('joins two holes by a chord to one, and leaves the face round them', () => {
    const { face: f, places } = face(square, hole(2, 4), hole(6, 4));
    const pieces = partFace(f, places, [[7, 8]]);
    expect(pieces).toHaveLength(1);
    expect(pieces[0]!.boundaries.map((l) => l.length)).toEqual([4, 10]);
    expect(area(places, pieces)).toEqual([92]);
  });

  it('cuts by many chords at one corner', () => {
    const ring = Array.from({ length: 8 }, (_, i): Flat => [Math.cos((i * Math.PI) / 4), Math.sin((i * Math.PI) / 4)]);
    const { face: f, places } = face(ring);
    const pieces = partFace(f, places, [
      [0, 5],
      [0, 2],
      [0, 4],
      [0, 3],
      [0, 6],
    ]);
    expect(
      vertices(pieces)
        .map(([l]) => [...l!].sort())
        .sort(),
    ).toEqual([1, 2, 3, 4, 5, 6].map((i) => [0, i, i + 1]));
  });
});
