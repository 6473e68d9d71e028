import { expect, it } from 'vitest';
import { faceBoundaries, flipMesh, joinMeshes, meshFromFaces, transformMesh, type PolyMesh } from '../mesh/index.ts';
import { ballFromRings, box, cylinder, prism, sheet, torus } from '../shapes/index.ts';
import { isSound, surveyCounts } from './index.ts';

const faces = (m: PolyMesh) => Array.from({ length: m.faceLoops.length - 1 }, (_, f) => faceBoundaries(m, f));

it('counts a sound solid', () => {
  expect(surveyCounts(cylinder(5, 10, 12))).toMatchObject({
    vertices: 24,
    faces: 14,
    triangles: 0,
    quads: 12,
    ngons: 2,
    edges: 36,
    openEdges: 0,
    nonManifoldEdges: 0,
    flippedEdges: 0,
    nonManifoldVertices: 0,
    degenerateFaces: 0,
    duplicateFaces: 0,
    slivers: 0,
    components: 1,
    boundaryLoops: 0,
    genus: 0,
    bounds: { min: [-5, -5, -5], max: [5, 5, 5] },
  });
  expect(surveyCounts(ballFromRings(5, 8, 4))).toMatchObject({ triangles: 16, quads: 16, ngons: 0 });
  expect(surveyCounts(torus(10, 3, 12, 8)).genus).toBe(1);
  expect(surveyCounts(box(2, 3, 4)).volume).toBeCloseTo(24, 12);
});

it('a face with an inner boundary is an n-gon, whatever its corners', () => {
  const square: [number, number][] = [
    [0, 0],
    [4, 0],
    [4, 4],
    [0, 4],
  ];
  expect(
    surveyCounts(
      prism(
        {
          points: square,
          holes: [
            [
              [1, 1],
              [2, 1],
              [1, 2],
            ],
          ],
        },
        1,
      ),
    ).ngons,
  ).toBe(2);
});

it('counts each kind of damage, and then has no volume', () => {
  const good = box(2, 2, 2);
  const open = surveyCounts(meshFromFaces(good.positions, faces(good).slice(1)));
  expect(open).toMatchObject({ openEdges: 4, boundaryLoops: 1, genus: null, volume: null });
  expect(isSound(open)).toBe(false);
  expect(surveyCounts(sheet(2, 2, [3, 3]))).toMatchObject({ openEdges: 12, boundaryLoops: 1 });

  const [first, ...rest] = faces(good);
  const turned = surveyCounts(meshFromFaces(good.positions, [[...first![0]!].reverse(), ...rest]));
  expect(turned).toMatchObject({ flippedEdges: 4, openEdges: 0, volume: null });

  const doubled = surveyCounts(meshFromFaces(good.positions, [...faces(good), first!]));
  expect(doubled).toMatchObject({ duplicateFaces: 1, nonManifoldEdges: 4 });

  const line = surveyCounts(meshFromFaces([0, 0, 0, 1, 0, 0, 2, 0, 0], [[0, 1, 2]]));
  expect(line).toMatchObject({ degenerateFaces: 1, slivers: 1 });
  expect(surveyCounts(meshFromFaces([0, 0, 0, 100, 0, 0, 100, 1, 0], [[0, 1, 2]])).slivers).toBe(1);
  expect(surveyCounts(meshFromFaces([0, 0, 0, 100, 0, 0, 100, 3, 0], [[0, 1, 2]])).slivers).toBe(0);
});

it('counts pieces and voids', () => {
  const far = transformMesh(box(1, 1, 1), [1, 0, 0, 9, 0, 1, 0, 0, 0, 0, 1, 0]);
  expect(surveyCounts(joinMeshes([box(1, 1, 1), far]))).toMatchObject({ components: 2, genus: 0 });
  expect(surveyCounts(joinMeshes([box(2, 2, 2), flipMesh(box(1, 1, 1))])).volume).toBeCloseTo(7, 12);
});
