import { describe, expect, it } from 'vitest';
import { carve, checkSolid } from '../carve/index.ts';
import { toldWhile } from '../mesh/testProgress.ts';
import {
  areaAndVolume,
  bounds,
  faceCount,
  flipMesh,
  isClosed,
  joinMeshes,
  takeFaces,
  transformMesh,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { ballFromPatches, box, cylinder, seededRandom } from '../shapes/index.ts';
import { surfaceDrift } from '../survey/index.ts';
import { recast } from './recast.ts';
import { WindingTree } from './windingTree.ts';

const volume = (m: PolyMesh) => areaAndVolume(m).volume;

describe('the winding number of a place', () => {
  it('is 1 inside, 0 outside, 2 where two bodies overlap, −1 in one that looks inward', () => {
    const ball = ballFromPatches(20, 8);
    const tree = new WindingTree(joinMeshes([ball, transformMesh(ball, [1, 0, 0, 15, 0, 1, 0, 0, 0, 0, 1, 0])]));
    const at = (p: Vec3) => tree.at(p);
    // Far groups count by one term: what that leaves out is little.
    for (const [p, n] of [
      [[-10, 3, 2], 1],
      [[8, 1, -2], 2],
      [[60, 5, 5], 0],
      [[30, 0, 3], 1],
    ] as const)
      expect(at(p)).toBeCloseTo(n, 1);
    expect(new WindingTree(flipMesh(ball)).at([1, 2, 3])).toBeCloseTo(-1, 1);
  });

  it('is the share of the view that the surface takes: at the middle of a cube without its top, 5 of 6', () => {
    const m = takeFaces(box(10, 10, 10), (f) => f > 0);
    expect(new WindingTree(m).at([0, 0, 0])).toBeCloseTo(5 / 6, 12);
  });
});

describe('recasting', () => {
  it('keeps flats and edges of a box: its volume, its surface, quads only', () => {
    const m = box(60, 40, 30);
    const { mesh, report } = recast(m, { cells: 24 });
    expect([isClosed(mesh), faceCount(mesh)]).toEqual([true, report.quads]);
    expect(Math.abs(volume(mesh) / volume(m) - 1)).toBeLessThan(1e-4);
    expect(surfaceDrift(m, mesh)!.distance).toBeLessThan(0.03 * report.cell);
    const { min, max } = bounds(mesh);
    // It stands where it stood, the same way round on both sides.
    for (let k = 0; k < 3; k++) expect(max[k]! + min[k]!).toBeCloseTo(0, 2);
  });

  it('tells how far it is', () => {
    expect(toldWhile((ctx) => recast(box(10, 10, 10), { cells: 16 }, ctx), 0.9)).toHaveLength(2);
  });

  it('nears the body with more cells, on ball and drilled plate', () => {
    for (const m of [
      ballFromPatches(20, 8),
      carve(box(60, 40, 10), { cutters: [cylinder(8, 40, 48)], operation: 'subtract' }).mesh,
    ]) {
      const made = [12, 24, 48].map((cells) => recast(m, { cells }).mesh);
      const drift = made.map((x) => surfaceDrift(m, x)!.distance);
      expect(drift[1]).toBeLessThan(0.8 * drift[0]!);
      expect(drift[2]).toBeLessThan(0.8 * drift[1]!);
      expect(Math.abs(volume(made[2]!) / volume(m) - 1)).toBeLessThan(1e-3);
    }
  });

  it('closes what is open, and makes one body of what overlaps and crosses itself', () => {
    const ball = ballFromPatches(20, 8);
    const holed = recast(
      takeFaces(ball, (f) => f % 17 > 0),
      { cells: 32 },
    ).mesh;
    expect(isClosed(holed)).toBe(true);
    expect(Math.abs(volume(holed) / volume(ball) - 1)).toBeLessThan(0.02);
    const two = joinMeshes([box(20, 20, 20), transformMesh(box(20, 20, 20), [1, 0, 0, 11, 0, 1, 0, 7, 0, 0, 1, 3])]);
    const one = recast(two, { cells: 40 }).mesh;
    expect(isClosed(one)).toBe(true);
    expect(volume(one)).toBeCloseTo(16000 - 9 * 13 * 17, -2);
  });

  it('is closed and fit to be cut where bodies hardly touch, on edges and corners of the grid', () => {
    const random = seededRandom(3);
    for (let run = 0; run < 6; run++) {
      // Cubes at places like those of a chessboard: cells whose corners are inside by turns, of every kind.
      const cubes = [-1, 0, 1].flatMap((x) =>
        [-1, 0, 1].flatMap((y) =>
          [-1, 0, 1]
            .filter(() => random() < 0.5)
            .map((z) => transformMesh(box(10, 10, 10), [1, 0, 0, 10 * x, 0, 1, 0, 10 * y, 0, 0, 1, 10 * z])),
        ),
      );
      const { mesh } = recast(joinMeshes(cubes), { cells: 8 + run });
      expect(isClosed(mesh), `run ${run}`).toBe(true);
      expect(() => checkSolid({ ...mesh }, 'It')).not.toThrow();
    }
  });

  it('refuses what has no inside, and can be stopped', () => {
    expect(() => recast(flipMesh(box(10, 10, 10)), { cells: 16 })).toThrow(/Nothing is inside/);
    expect(() => recast(box(10, 10, 10), { cells: 4 })).toThrow(/8 to 256/);
    expect(() => recast(box(10, 10, 10), { cells: 32 }, { signal: { aborted: true } })).toThrow(/cancel|stop/i);
  });
});
