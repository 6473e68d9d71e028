import { describe, expect, it } from 'vitest';
import { incircle } from 'robust-predicates';
import { insideRing, turned, type Flat } from '../../mesh/index.ts';
import { seededRandom } from '../../shapes/index.ts';
import { Delaunay } from './delaunay.ts';

const ring = (n: number, radius: (i: number) => number): Flat[] =>
  Array.from({ length: n }, (_, i) => {
    const r = radius(i);
    return [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)];
  });
const area = (points: readonly Flat[], list: readonly (readonly number[])[]) =>
  list.reduce((s, [a, b, c]) => s + turned(points[a!]!, points[b!]!, points[c!]!) / 2, 0);

const square: Flat[] = [
  [0, 0],
  [2, 0],
  [2, 2],
  [0, 2],
];
/** A triangulation of boundaries with as many points in it as go. */
function filled(boundaries: readonly (readonly Flat[])[], inner: readonly Flat[] = []) {
  const d = new Delaunay(boundaries);
  const put = inner.map((p) => d.insert(p));
  return { d, put, t: d.triangles() };
}
/**
 * No point is within the circle of a triangle across an edge that is none of the boundaries; all triangles run to the
 * left.
 */
function isDelaunay({ d }: { d: Delaunay }, boundaries: readonly (readonly Flat[])[]): void {
  const sign = Math.sign(incircle(0, 0, 1, 0, 0, 1, 0.5, 0.5));
  const t = d.triangles();
  const across = new Map(t.flatMap((x) => x.map((u, k) => [`${u},${x[(k + 1) % 3]!}`, x[(k + 2) % 3]!] as const)));
  let free = 0;
  for (const x of t) {
    const [a, b, c] = x.map((i) => d.points[i]!) as [Flat, Flat, Flat];
    expect(turned(a, b, c)).toBeGreaterThan(0);
    x.forEach((u, k) => {
      const y = across.get(`${x[(k + 1) % 3]!},${u}`);
      if (y === undefined) return;
      free++;
      expect(sign * incircle(...a, ...b, ...c, ...d.points[y]!)).toBeLessThanOrEqual(0);
    });
  }
  expect(free).toBe(3 * t.length - boundaries.flat().length);
}

describe('constrained Delaunay triangulation', () => {
  it('of a square with its middle: four triangles', () => {
    const { d, t, put } = filled([square], [[1, 1]]);
    expect(put).toEqual([4]);
    expect(t).toHaveLength(4);
    for (const x of t) expect(x).toContain(4);
    expect(area(d.points, t)).toBeCloseTo(4, 12);
  });

  it('of four points on one circle: both ways are right, and one is taken', () => {
    expect(filled([square]).t).toHaveLength(2);
  });

  it('takes the flatter diagonal of a kite', () => {
    const kite: Flat[] = [
      [-1, 0],
      [0, -3],
      [1, 0],
      [0, 3],
    ];
    const { t } = filled([kite]);
    expect(t.filter((x) => x.includes(0) && x.includes(2))).toHaveLength(2);
  });

  it('keeps every point of a straight run, and none of its triangles is flat', () => {
    const side = (n: number, at: (s: number) => Flat) => Array.from({ length: n }, (_, i) => at(i / n));
    const boundary = [
      ...side(9, (s) => [6 * s, 0]),
      ...side(2, (s) => [6, 2 * s]),
      ...side(9, (s) => [6 - 6 * s, 2]),
      ...side(1, () => [0, 2]),
    ];
    const all = filled([boundary]);
    expect(new Set(all.t.flat()).size).toBe(boundary.length);
    expect(area(all.d.points, all.t)).toBeCloseTo(12, 12);
    isDelaunay(all, [boundary]);
  });

  it('takes no point outside, in a hole, on a boundary or on another point; one on an edge within parts both sides', () => {
    const hole = ring(8, () => 0.3)
      .toReversed()
      .map(([x, y]): Flat => [x + 1, y + 1]);
    const { put } = filled(
      [square, hole],
      [
        [3, 3],
        [1, 1],
        [1, 0],
        [0, 0],
        [0.2, 0.3],
        [0.2, 0.3],
      ],
    );
    expect(put).toEqual([null, null, null, null, 12, null]);
    const plain = filled(
      [square],
      [
        [1, 1],
        [0.5, 0.5],
      ],
    );
    expect([plain.put, plain.t.length]).toEqual([[4, 5], 6]);
    isDelaunay(plain, [square]);
  });

  for (let seed = 1; seed <= 40; seed++)
    it(`star ${seed} with a hole and scattered points: covered whole, and no point within a circle that its triangle can see`, () => {
      const random = seededRandom(seed);
      const outer = ring(16 + seed, () => 6 + 4 * random());
      const hole = ring(9, () => 1 + random()).toReversed();
      const inner = Array.from({ length: 60 }, (): Flat => [20 * random() - 10, 20 * random() - 10]);
      const inside = inner.filter((p) => insideRing(outer, p) && !insideRing(hole, p));
      const all = filled([outer, hole], inner);
      const { d, t, put } = all;
      expect(put.filter((x) => x !== null)).toHaveLength(inside.length);
      const whole = (r: readonly Flat[]) => r.reduce((s, p, i) => s + turned([0, 0], p, r[(i + 1) % r.length]!) / 2, 0);
      expect(area(d.points, t)).toBeCloseTo(whole(outer) + whole(hole), 9);
      expect(new Set(t.flat()).size).toBe(d.points.length);
      // Euler: with all points used, one hole.
      expect(t).toHaveLength(outer.length + hole.length + 2 * inside.length);
      isDelaunay(all, [outer, hole]);
    });
});
