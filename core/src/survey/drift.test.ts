import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { meshFromFaces, SpatialIndex, triangulateMesh, type PolyMesh, type Vec3 } from '../mesh/index.ts';
import { box, cylinder, seededRandom, sheet } from '../shapes/index.ts';
import { surfaceDrift } from './index.ts';

const shifted = (m: PolyMesh, v: number, by: Vec3): PolyMesh => ({
  ...m,
  positions: m.positions.map((x, i) => (Math.floor(i / 3) === v ? x + by[i % 3]! : x)),
});

describe('drift', () => {
  it('of nothing changed, of a face cut in two, and of one turned over is exactly 0', () => {
    const b = box(10, 20, 30);
    expect(surfaceDrift(b, b)).toMatchObject({ distance: 0, atLeast: false });
    expect(surfaceDrift(b, { ...b, corners: b.corners.slice() })).toMatchObject({ distance: 0 });
    const split = meshFromFaces(
      [...b.positions],
      [
        [...b.corners.slice(0, 3)],
        [b.corners[0]!, b.corners[2]!, b.corners[3]!],
        ...[1, 2, 3, 4, 5].map((f) => [...b.corners.slice(4 * f, 4 * f + 4)]),
      ],
    );
    expect(surfaceDrift(b, split)).toMatchObject({ distance: 0 });
    expect(surfaceDrift(sheet(4, 4, [3, 2]), sheet(4, 4))).toMatchObject({ distance: 0 });
  });

  it('of a vertex pulled out is as far as it went, with its place', () => {
    const m = sheet(10, 10, [4, 4]);
    const d = surfaceDrift(m, shifted(m, 12, [0, 0, 3]))!;
    expect([d.distance, d.point[2]]).toEqual([3, 3]);
  });

  it('is found in the middle of a face, where no vertex is', () => {
    // A tent over a square, and the square: its ridge is a vertex of the one only; the other way the middle is
    // furthest.
    const tent = meshFromFaces(
      [0, 0, 0, 8, 0, 0, 8, 8, 0, 0, 8, 0, 4, 4, 3],
      [
        [0, 1, 4],
        [1, 2, 4],
        [2, 3, 4],
        [3, 0, 4],
      ],
    );
    const flat = meshFromFaces([0, 0, 0, 8, 0, 0, 8, 8, 0, 0, 8, 0], [[0, 1, 2, 3]]);
    expect(surfaceDrift(tent, flat)!.distance).toBe(3);
    const holed = meshFromFaces(
      [0, 0, 0, 8, 0, 0, 8, 8, 0, 0, 8, 0, 2, 2, 0, 6, 2, 0, 6, 6, 0, 2, 6, 0],
      [
        [
          [0, 1, 2, 3],
          [4, 7, 6, 5],
        ],
      ],
    );
    // The middle of the square is 2 from the rim of the hole.
    const d = surfaceDrift(flat, holed)!;
    expect(d.distance).toBeCloseTo(2, 4);
    expect(d.point[0]).toBeCloseTo(4, 2);
    // Beside the diagonals, where none of the first looks falls: in a square hole of 2 the middle is 1 from the rim.
    const off = meshFromFaces(
      [0, 0, 0, 8, 0, 0, 8, 8, 0, 0, 8, 0, 4.3, 0.6, 0, 6.3, 0.6, 0, 6.3, 2.6, 0, 4.3, 2.6, 0],
      [
        [
          [0, 1, 2, 3],
          [4, 7, 6, 5],
        ],
      ],
    );
    const beside = surfaceDrift(flat, off)!;
    expect([beside.distance, ...beside.point]).toEqual([
      expect.closeTo(1, 3),
      expect.closeTo(5.3, 1),
      expect.closeTo(1.6, 1),
      0,
    ]);
  });

  it('is what a dense sampling finds, and never less', () => {
    const wall = cylinder(10, 20, 12, 2);
    fc.assert(
      fc.property(
        fc.nat(35),
        fc.tuple(
          fc.integer({ min: -20, max: 20 }),
          fc.integer({ min: -20, max: 20 }),
          fc.integer({ min: -20, max: 20 }),
        ),
        fc.nat(),
        (v, by, seed) => {
          const other = shifted(wall, v, by.map((x) => x / 10) as unknown as Vec3);
          const { distance } = surfaceDrift(wall, other)!;
          const random = seededRandom(seed);
          let sampled = 0;
          for (const [a, b] of [
            [wall, other],
            [other, wall],
          ] as const) {
            const index = new SpatialIndex(b);
            const { triangles } = triangulateMesh(a);
            for (let t = 0; t < triangles.length; t += 3)
              for (let i = 0; i < 20; i++) {
                const [r, s] = [Math.sqrt(random()), random()];
                const w = [1 - r, r * (1 - s), r * s];
                const p = [0, 1, 2].map((k) =>
                  w.reduce((sum, x, j) => sum + x * a.positions[3 * a.corners[triangles[t + j]!]! + k]!, 0),
                ) as unknown as Vec3;
                sampled = Math.max(sampled, index.closest(p)!.distance);
              }
          }
          expect(distance * (1 + 1e-4)).toBeGreaterThanOrEqual(sampled - 3e-5);
          expect(distance).toBeLessThanOrEqual(Math.hypot(...by) / 10 + 1e-9);
        },
      ),
      { numRuns: 40 },
    );
  });
});
