import { describe, expect, it } from 'vitest';
import type { Flat } from '../../mesh/index.ts';
import { seededRandom } from '../../shapes/index.ts';
import { FlatMesh, ringArea } from './flatMesh.ts';
import { fillByPairs, isConvex, paired } from './pairs.ts';

/** Fills rings, the first one outside; the polygons as places. */
function filled(rings: readonly (readonly Flat[])[]): Flat[][] {
  const m = new FlatMesh();
  fillByPairs(
    m,
    rings.map((r) => r.map((p) => m.point(p))),
  );
  return m.live().map((i) => m.places(m.polygons[i]!));
}
const star = (n: number, random: () => number, middle: Flat = [0, 0], size = 1): Flat[] =>
  Array.from({ length: n }, (_, i) => {
    const [r, a] = [size * (0.6 + 0.4 * random()), (2 * Math.PI * i) / n];
    return [middle[0] + r * Math.cos(a), middle[1] + r * Math.sin(a)];
  });

describe('triangles in pairs', () => {
  it('of a square one quad, of a hexagon the pair that suits best', () => {
    expect(
      filled([
        [
          [0, 0],
          [2, 0],
          [2, 1],
          [0, 1],
        ],
      ]).map((p) => p.length),
    ).toEqual([4]);
    const six = filled([star(6, () => 1)]);
    expect(six.map((p) => p.length)).toContain(4);
    expect(six.reduce((x, p) => x + ringArea(p), 0)).toBeCloseTo(1.5 * Math.sqrt(3), 12);
    expect(six.every(isConvex)).toBe(true);
  });

  it('of an L: no quad with a corner that turns in', () => {
    const l: Flat[] = [
      [0, 0],
      [3, 0],
      [3, 1],
      [1, 1],
      [1, 3],
      [0, 3],
    ];
    const list = filled([l]);
    expect(list.reduce((s, p) => s + ringArea(p), 0)).toBeCloseTo(5, 12);
    for (const p of list) expect(isConvex(p)).toBe(true);
    expect(list.reduce((s, p) => s + p.length - 2, 0)).toBe(4);
  });

  for (let seed = 1; seed <= 12; seed++)
    it(`of star ${seed} with two holes: covered whole, all convex, as many triangles in all as there must be`, () => {
      const random = seededRandom(seed);
      const rings = [
        star(20 + seed, random, [0, 0], 10),
        star(7, random, [-2, 0]).toReversed(),
        star(8, random, [2, 0.5]).toReversed(),
      ];
      const list = filled(rings);
      expect(list.reduce((s, p) => s + ringArea(p), 0)).toBeCloseTo(
        rings.reduce((s, r) => s + ringArea(r), 0),
        9,
      );
      for (const p of list) expect(ringArea(p)).toBeGreaterThan(0);
      for (const p of list) if (p.length === 4) expect(isConvex(p)).toBe(true);
      expect(list.reduce((s, p) => s + p.length - 2, 0)).toBe(rings.flat().length + 2);
      expect(list.filter((p) => p.length === 4).length).toBeGreaterThan(list.length / 4);
    });
});

describe('pairing', () => {
  it('takes the best first, each triangle once, and of equals the first', () => {
    const pairs = [
      { one: 0, two: 1, cost: 2 },
      { one: 1, two: 2, cost: 1 },
      { one: 2, two: 3, cost: 1 },
      { one: 3, two: 4, cost: 3 },
    ];
    expect(paired(pairs).map(({ one, two }) => [one, two])).toEqual([
      [1, 2],
      [3, 4],
    ]);
    expect(paired([])).toEqual([]);
  });
});
