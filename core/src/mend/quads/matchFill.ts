import blossom from 'edmonds-blossom-fixed';
import { offSegment, turned, type Flat } from '../../mesh/index.ts';
import { Delaunay } from './delaunay.ts';
import { apart, badness, badnessOf, sizesFrom, towards, type FlatMesh, type Sizing } from './flatMesh.ts';
import { isConvex } from './pairs.ts';

// Fills a boundary with triangles about inner points, matches them in pairs to quads (Edmonds’ matching of the most
// weight), and leads the triangles that are left together through the quads between them. Points are put where
// triangles of a constrained Delaunay triangulation are too large or too thin (Ruppert 1995; off-centres: Üngör 2004);
// the boundary is never split.

/** Triangles that are still too large after so many rounds stay. */
const FILL_ROUNDS = 9;
/**
 * A triangle is refined where its circle is larger than this share of the wanted size, or so many times its shortest
 * side.
 */
const [LARGE_CIRCLE, THIN_TRIANGLE] = [0.72, 1.3];
/** Points stay this share of the size away from each other, and of the lengths from boundary edges. */
const [FROM_POINTS, FROM_EDGES] = [0.62, 0.45];
/** Points within a face: the matching takes their cube in the worst case. */
const MOST_POINTS = 800;
/** More triangles than this are not matched: the work grows with their cube. */
const MOST_MATCHED = 1500;

/** Fills the first loop, the others as its holes; whether it could. */
export function fillByMatching(
  m: FlatMesh,
  loops: readonly (readonly number[])[],
  sizing: Sizing,
  check: () => void,
): boolean {
  const triangles = refined(m, loops, sizing, check);
  if (!triangles.length || triangles.length > MOST_MATCHED) return false;
  const beside = new Map<string, number>();
  triangles.forEach((t, i) => t.forEach((v, k) => beside.set(`${v},${t[(k + 1) % 3]!}`, i)));
  const quads = new Map<string, number[]>();
  const pairs: [number, number, number][] = [];
  triangles.forEach((t, i) =>
    t.forEach((u, k) => {
      const v = t[(k + 1) % 3]!;
      const j = beside.get(`${v},${u}`);
      if (j === undefined || j <= i) return;
      const quad = [u, triangles[j]!.find((x) => x !== u && x !== v)!, v, t[(k + 2) % 3]!];
      quads.set(`${i},${j}`, quad);
      const ring = m.places(quad);
      const poor = badness(ring) + (isConvex(ring) ? 0 : 5);
      pairs.push([i, j, Math.round(1e4 - 1e3 * Math.min(9.9, poor))]);
    }),
  );
  const mates = pairs.length ? blossom(pairs, true) : [];
  triangles.forEach((t, i) => {
    const j = mates[i] ?? -1;
    if (j < 0) m.polygon(t);
    else if (j > i) m.polygon(quads.get(`${i},${j}`)!);
  });
  leadTogether(m);
  return true;
}

/** Triangles of some loops with inner points of the wanted sizes, which are added to the mesh. */
function refined(m: FlatMesh, loops: readonly (readonly number[])[], sizing: Sizing, check: () => void): number[][] {
  const numbers = loops.flat();
  const rings = loops.map((l) => m.places(l));
  const d = new Delaunay(rings);
  const { points } = d;
  const sides = rings.flatMap((r) => r.map((p, i) => [p, r[(i + 1) % r.length]!] as const));
  const size = sizesFrom(sides, sizing);
  const sizes = points.map(size);
  /** Whether a place is nearer to a side than it may be. */
  const crowds = (p: Flat, h: number): boolean => {
    // Sides that are further away than this crowd nothing.
    const reach = FROM_EDGES * 1.6 * h;
    const [x, y] = p;
    return sides.some(([a, b]) => {
      if (
        (a[0] < x - reach && b[0] < x - reach) ||
        (a[0] > x + reach && b[0] > x + reach) ||
        (a[1] < y - reach && b[1] < y - reach) ||
        (a[1] > y + reach && b[1] > y + reach)
      )
        return false;
      return offSegment(p, a, b) < Math.min(FROM_EDGES * apart(a, b), reach);
    });
  };
  for (let round = 0; round < FILL_ROUNDS; round++) {
    check();
    const wanted: { need: number; p: Flat }[] = [];
    for (const t of d.triangles()) {
      const p = centreFor(t.map((i) => points[i]!) as [Flat, Flat, Flat], size);
      if (p) wanted.push(p);
    }
    wanted.sort((a, b) => b.need - a.need);
    let added = 0;
    for (const { p } of wanted) {
      if (points.length - numbers.length >= MOST_POINTS) break;
      const h = size(p);
      if (
        points.some((q, i) => apart(p, q) < FROM_POINTS * Math.min(h, sizes[i]!)) ||
        crowds(p, h) ||
        d.insert(p) === null
      )
        continue;
      sizes.push(h);
      added++;
    }
    if (!added) break;
  }
  for (let i = numbers.length; i < points.length; i++) numbers.push(m.point(points[i]!, 'free'));
  return d.triangles().map((t) => t.map((i) => numbers[i]!));
}

/**
 * Where a triangle that is too large or too thin wants a point: on the way from its shortest side to the middle of its
 * circle.
 */
function centreFor([a, b, c]: [Flat, Flat, Flat], size: (p: Flat) => number): { need: number; p: Flat } | null {
  const d = 2 * turned(a, b, c);
  if (!(Math.abs(d) > 0)) return null;
  const [A, B, C] = [a, b, c].map(([x, y]) => x * x + y * y) as [number, number, number];
  const centre: Flat = [
    (A * (b[1] - c[1]) + B * (c[1] - a[1]) + C * (a[1] - b[1])) / d,
    (A * (c[0] - b[0]) + B * (a[0] - c[0]) + C * (b[0] - a[0])) / d,
  ];
  const radius = apart(a, centre);
  const sides = (
    [
      [a, b],
      [b, c],
      [c, a],
    ] as const
  ).map(([p, q]) => ({ p, q, long: apart(p, q) }));
  const short = sides.reduce((x, y) => (y.long < x.long ? y : x));
  const h = size([(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3]);
  if (radius < LARGE_CIRCLE * h || (radius / short.long < THIN_TRIANGLE && radius < 1.1 * h)) return null;
  const middle = towards(short.p, short.q, 0.5);
  const way = apart(middle, centre);
  const far = Math.min(way, Math.max(short.long, 0.9 * Math.min(h, 2 * short.long)));
  return { need: radius / h + radius / short.long, p: way > 0 ? towards(middle, centre, far / way) : middle };
}

/**
 * Leads pairs of triangles together through the quads between them, the nearest first: each step makes a triangle and a
 * quad a quad and a triangle.
 */
export function leadTogether(m: FlatMesh): void {
  for (;;) {
    const path = shortestPath(m);
    if (!path) return;
    let [at, ...rest] = path as [number, ...number[]];
    while (rest.length) {
      const [next, ...more] = rest as [number, ...number[]];
      const ring = joinedRing(m, at, next);
      const after = more[0];
      m.remove(at);
      m.remove(next);
      if (ring.length === 4) {
        m.polygon(ring);
        break;
      }
      // The triangle must have the edge that leads on.
      const edge = after === undefined ? null : sharedEdge(m.polygons[after]!, ring);
      let best: { cost: number; triangle: number[]; quad: number[] } | null = null;
      for (let k = 0; k < 5; k++) {
        const r = (i: number) => ring[(k + i) % 5]!;
        const triangle = [r(0), r(1), r(2)];
        if (edge && !triangle.slice(0, 2).some((v, i) => v === edge[0] && triangle[i + 1] === edge[1])) continue;
        const quad = [r(2), r(3), r(4), r(0)];
        const cost = badnessOf(m.points, triangle) + badnessOf(m.points, quad);
        if (!best || cost < best.cost) best = { cost, triangle, quad };
      }
      m.polygon(best!.quad);
      at = m.polygon(best!.triangle);
      rest = more;
    }
  }
}

/** The polygons from one triangle to the nearest other, across edges; null where no two can be led together. */
function shortestPath(m: FlatMesh): number[] | null {
  const isTriangle = (i: number) => m.polygons[i]!.length === 3;
  let best: number[] | null = null;
  for (const start of m.live().filter(isTriangle)) {
    const came = new Map([[start, -1]]);
    const queue = [start];
    for (let q = 0; q < queue.length; q++) {
      const i = queue[q]!;
      if (i !== start && isTriangle(i)) {
        const path: number[] = [];
        for (let k = i; k >= 0; k = came.get(k)!) path.unshift(k);
        if (!best || path.length < best.length) best = path;
        break;
      }
      const list = m.polygons[i]!;
      list.forEach((u, k) => {
        const j = m.beside(i, u, list[(k + 1) % list.length]!);
        if (j < 0 || came.has(j) || m.locked.has(j)) return;
        came.set(j, i);
        queue.push(j);
      });
    }
    if (best?.length === 2) return best;
  }
  return best;
}

/** The boundary of two polygons beside each other as one. */
function joinedRing(m: FlatMesh, i: number, j: number): number[] {
  const [one, two] = [m.polygons[i]!, m.polygons[j]!];
  const k = one.findIndex((u, s) =>
    two.some((x, t) => x === one[(s + 1) % one.length] && two[(t + 1) % two.length] === u),
  );
  const [u, v] = [one[k]!, one[(k + 1) % one.length]!];
  const at = two.indexOf(v);
  const inner = two.filter((x) => x !== u && x !== v);
  const ordered =
    inner.length < 2 ? inner : Array.from({ length: two.length }, (_, s) => two[(at + s) % two.length]!).slice(2);
  // From v on round the first to u, and over the second back.
  return [...Array.from({ length: one.length }, (_, s) => one[(k + 1 + s) % one.length]!), ...ordered];
}

/** The edge that a polygon shares with a ring, as the ring runs. */
function sharedEdge(polygon: readonly number[], ring: readonly number[]): [number, number] | null {
  for (const [i, u] of ring.entries()) {
    const v = ring[(i + 1) % ring.length]!;
    const at = polygon.indexOf(v);
    if (at >= 0 && polygon[(at + 1) % polygon.length] === u) return [u, v];
  }
  return null;
}
