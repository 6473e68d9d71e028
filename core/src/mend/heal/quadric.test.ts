import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lengthOf, sub, type Vec3 } from '../../mesh/index.ts';
import { seededRandom } from '../../shapes/index.ts';
import { fitQuadric, ontoQuadric } from './quadric.ts';

/**
 * Places with normals on surfaces of the second degree, by two numbers from 0 to 1, and how far a place is from each.
 */
const SURFACES: Record<string, { at(u: number, w: number): [Vec3, Vec3]; off(p: Vec3): number }> = {
  'a plane': {
    at: (u, w) => [
      [10 * u, 10 * w, 3],
      [0, 0, 1],
    ],
    off: (p) => Math.abs(p[2] - 3),
  },
  'a ball': {
    at: (u, w) => {
      const [a, b] = [u, 0.5 + 0.6 * w];
      const n: Vec3 = [Math.cos(a) * Math.cos(b), Math.sin(a) * Math.cos(b), Math.sin(b)];
      return [[5 + 20 * n[0], 20 * n[1], 20 * n[2] - 7], n];
    },
    off: (p) => Math.abs(lengthOf(sub(p, [5, 0, -7])) - 20),
  },
  'a cylinder': {
    at: (u, w) => [
      [8 * Math.cos(u), 8 * Math.sin(u), 12 * w],
      [Math.cos(u), Math.sin(u), 0],
    ],
    off: (p) => Math.abs(Math.hypot(p[0], p[1]) - 8),
  },
};

describe('a quadric through places with normals', () => {
  it.each(Object.keys(SURFACES))('finds %s again, and brings places beside it onto it', (name) => {
    const { at, off } = SURFACES[name]!;
    fc.assert(
      fc.property(fc.integer(), fc.double({ min: -1, max: 1, noNaN: true }), (seed, away) => {
        const random = seededRandom(seed);
        const list = Array.from({ length: 40 }, () => at(random(), random()));
        const q = fitQuadric(
          list.map(([p]) => p),
          list.map(([, n]) => n),
        )!;
        for (const [p] of list) expect(Math.abs(q.value(p))).toBeLessThan(1e-6);
        const [p, n] = at(0.5, 0.5);
        const beside = p.map((x, k) => x + away * n[k]!) as unknown as Vec3;
        const on = ontoQuadric(q, beside, 5)!;
        expect(off(on)).toBeLessThan(1e-5);
      }),
      { numRuns: 40 },
    );
  });

  it('is none of one place alone, and none where the way onto it is too long', () => {
    expect(
      fitQuadric(
        [
          [1, 1, 1],
          [1, 1, 1],
        ],
        [
          [0, 0, 1],
          [0, 0, 1],
        ],
      ),
    ).toBeNull();
    const { at } = SURFACES['a plane']!;
    const list = [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
      [0.5, 0.2],
      [0.3, 0.8],
    ].map(([u, w]) => at(u!, w!));
    const q = fitQuadric(
      list.map(([p]) => p),
      list.map(([, n]) => n),
    )!;
    expect(ontoQuadric(q, [5, 5, 9], 1)).toBeNull();
    expect(ontoQuadric(q, [5, 5, 3.5], 1)![2]).toBeCloseTo(3, 6);
  });
});
