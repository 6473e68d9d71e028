import { describe, expect, it } from 'vitest';
import { ballFromPatches, randomTurn, seededRandom } from '../shapes/index.ts';
import {
  areaAndVolume,
  faceBend,
  faceCount,
  foldBent,
  isClosed,
  meshFromFaces,
  sameTurnedOver,
  topologyOf,
  transformMesh,
  triangulateFace,
  type Affine,
  type PolyMesh,
} from './index.ts';

const random = seededRandom(11);

/** A face round the origin with a hole, all corners off its plane by up to `bend`. */
function bentFace(corners: number, bend: number): { positions: number[]; loops: number[][] } {
  const ring = (n: number, radius: number, back: boolean) =>
    Array.from({ length: n }, (_, i) => {
      const a = ((back ? -i : i) * 2 * Math.PI) / n;
      const r = radius * (0.8 + 0.4 * random());
      return [r * Math.cos(a), r * Math.sin(a), bend * (random() - 0.5)];
    });
  const [outer, hole] = [ring(corners, 10, false), ring(5, 3, true)];
  return {
    positions: [...outer, ...hole].flat(),
    loops: [outer.map((_, i) => i), hole.map((_, i) => corners + i)],
  };
}

/** The triangles of face 0 by their vertices, however they are listed. */
const surface = (m: PolyMesh): string[] => {
  const t = triangulateFace(m, 0).map((c) => m.corners[c]!);
  return Array.from({ length: t.length / 3 }, (_, i) => {
    const [a, b, c] = t.slice(3 * i, 3 * i + 3) as [number, number, number];
    const least = Math.min(a, b, c);
    return (least === a ? [a, b, c] : least === b ? [b, c, a] : [c, a, b]).join();
  }).sort();
};

const begunAt = (loop: readonly number[], k: number) => [...loop.slice(k), ...loop.slice(0, k)];

describe('the surface of a bent face', () => {
  it.each([5, 7, 12, 90])(
    'of %i corners and a hole is the same wherever its boundaries begin, and wherever it stands',
    (n) => {
      const { positions, loops } = bentFace(n, 2);
      const want = surface(meshFromFaces(positions, [loops]));
      expect(want.length).toBe(n + 5);
      for (let k = 1; k < n; k++)
        expect(surface(meshFromFaces(positions, [[begunAt(loops[0]!, k), begunAt(loops[1]!, k % 5)]]))).toEqual(want);
      const turn = randomTurn(random);
      const affine = [0, 1, 2].flatMap((i) => [...turn.slice(3 * i, 3 * i + 3), 50]) as unknown as Affine;
      expect(surface(transformMesh(meshFromFaces(positions, [loops]), affine))).toEqual(want);
    },
  );

  it('of a quad runs along the shorter diagonal, of two alike along the one that stands out, and of a flat one from its first corner', () => {
    const quad = (heights: number[], long = 1) =>
      heights.map((h, i) => [long * [1, -1, -1, 1][i]!, [1, 1, -1, -1][i]!, h]).flat();
    const cut = (positions: number[], from = 0) => surface(meshFromFaces(positions, [begunAt([0, 1, 2, 3], from)]));
    for (let from = 0; from < 4; from++) {
      expect(cut(quad([0.2, 0, 0.2, 0]), from)).toEqual(['0,1,2', '0,2,3']);
      expect(cut(quad([0, 0.2, 0, 0.2]), from)).toEqual(['0,1,3', '1,2,3']);
      expect(cut([0, 0, 1, 4, 0, 0, 3, 3, 0, 0, 4, 0], from)).toEqual(['0,1,2', '0,2,3']);
    }
    expect(cut(quad([0, 0, 0, 0]), 1)).toEqual(['0,1,3', '1,2,3']);
  });

  it('that is turned over stays the same but where two diagonals are alike', () => {
    expect(sameTurnedOver(meshFromFaces([0, 0, 1, 4, 0, 0, 3, 3, 0, 0, 4, 0], [[0, 1, 2, 3]]), 0)).toBe(true);
    expect(sameTurnedOver(meshFromFaces([1, 1, 0.2, -1, 1, 0, -1, -1, 0.2, 1, -1, 0], [[0, 1, 2, 3]]), 0)).toBe(false);
    expect(sameTurnedOver(meshFromFaces([1, 1, 0, -1, 1, 0, -1, -1, 0, 1, -1, 0], [[0, 1, 2, 3]]), 0)).toBe(true);
  });
});

it('bent faces in flat pieces are the same surface, their folds marked and their edges known', () => {
  const ball = ballFromPatches(10, 4);
  const bent = Array.from({ length: faceCount(ball) }, (_, f) => f).filter((f) => faceBend(ball, f) > 1e-9);
  const folded = foldBent(ball, 1e-9, () => true)!;
  expect(bent.length).toBeGreaterThan(20);
  expect(faceCount(folded.mesh)).toBe(faceCount(ball) + bent.length);
  expect(isClosed(folded.mesh)).toBe(true);
  expect(areaAndVolume(folded.mesh).volume).toBeCloseTo(areaAndVolume(ball).volume, 10);
  expect(folded.mesh.layers.fold!.reduce((n, x) => n + x, 0)).toBe(2 * bent.length);
  const ends = (m: PolyMesh, c: number) => [m.corners[c], m.corners[topologyOf(m).next[c]!]];
  for (let c = 0; c < ball.corners.length; c++) expect(ends(folded.mesh, folded.corner[c]!)).toEqual(ends(ball, c));
  expect(foldBent(ball, 1e-9, () => false)).toBeNull();
});

it('no triangle of a face with corners in a straight line is flat, in whatever direction the line runs', () => {
  for (let trial = 0; trial < 40; trial++) {
    const [a, turn] = [random() * 2 * Math.PI, randomTurn(random)];
    // A square with nine corners on each side, half of them a rounding off the line.
    const flat = Array.from({ length: 40 }, (_, i) => {
      const [side, share] = [Math.floor(i / 10), (i % 10) / 10 + 0.01 * random() * (i % 10 ? 1 : 0)];
      const [x, y] = [
        [share, 0],
        [1, share],
        [1 - share, 1],
        [0, 1 - share],
      ][side]! as [number, number];
      return [Math.cos(a) * x - Math.sin(a) * y, Math.sin(a) * x + Math.cos(a) * y, 0.01 * (side % 2)];
    });
    const m = transformMesh(
      meshFromFaces(flat.flat(), [flat.map((_, i) => i)]),
      [0, 1, 2].flatMap((i) => [...turn.slice(3 * i, 3 * i + 3), 7]) as unknown as Affine,
    );
    const t = triangulateFace(m, 0);
    expect(t.length).toBe(3 * 38);
    for (let i = 0; i < t.length; i += 3) {
      const [p, q, r] = [0, 1, 2].map((k) => [
        ...m.positions.slice(3 * m.corners[t[i + k]!]!, 3 * m.corners[t[i + k]!]! + 3),
      ]) as [number[], number[], number[]];
      const [u, w] = [q.map((x, k) => x - p[k]!), r.map((x, k) => x - p[k]!)];
      const area = Math.hypot(
        u[1]! * w[2]! - u[2]! * w[1]!,
        u[2]! * w[0]! - u[0]! * w[2]!,
        u[0]! * w[1]! - u[1]! * w[0]!,
      );
      expect(area).toBeGreaterThan(1e-4);
    }
  }
});
