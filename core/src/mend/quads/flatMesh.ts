import { offSegment, turned, type Flat } from '../../mesh/index.ts';

// Quads are laid out flat: a face on its plane, in points and polygons that are changed in place.

/** How a point may move: not at all, anywhere, or along a way. */
export type Hold = 'fixed' | 'free' | Flat;

/** Points and counter-clockwise polygons of a plane, with the polygons round each point. */
export class FlatMesh {
  readonly points: Flat[] = [];
  readonly holds: Hold[] = [];
  readonly polygons: (readonly number[] | null)[] = [];
  /** Polygons of the ring round a hole: they are not taken apart. */
  readonly locked = new Set<number>();
  private readonly around: Set<number>[] = [];

  point(p: Flat, hold: Hold = 'fixed'): number {
    this.holds.push(hold);
    this.around.push(new Set());
    return this.points.push(p) - 1;
  }

  polygon(list: readonly number[]): number {
    const i = this.polygons.push(list) - 1;
    for (const v of list) this.around[v]!.add(i);
    return i;
  }

  remove(i: number): void {
    for (const v of this.polygons[i]!) this.around[v]!.delete(i);
    this.polygons[i] = null;
  }

  /** Polygons at a point. */
  at(v: number): ReadonlySet<number> {
    return this.around[v]!;
  }

  /** The polygon on the other side of an edge of one; −1 where there is none. */
  beside(polygon: number, u: number, v: number): number {
    for (const i of this.around[u]!)
      if (i !== polygon && this.around[v]!.has(i)) {
        const list = this.polygons[i]!;
        const k = list.indexOf(v);
        if (list[(k + 1) % list.length] === u) return i;
      }
    return -1;
  }

  places(list: readonly number[]): Flat[] {
    return list.map((v) => this.points[v]!);
  }

  live(): number[] {
    return [...this.polygons.keys()].filter((i) => this.polygons[i]);
  }
}

export const apart = (a: Flat, b: Flat): number => Math.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2);
export const towards = (a: Flat, b: Flat, s: number): Flat => [a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])];

/**
 * The angle at b from the way to c round to the way to a, to the left, degrees 0 … 360: within a polygon that runs a b
 * c.
 */
export function cornerAngle(a: Flat, b: Flat, c: Flat): number {
  const ux = c[0] - b[0];
  const uy = c[1] - b[1];
  const vx = a[0] - b[0];
  const vy = a[1] - b[1];
  const angle = (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI;
  return angle < 0 ? angle + 360 : angle;
}

/** Signed area of a ring. */
export const ringArea = (ring: readonly Flat[]): number =>
  ring.reduce((s, [x, y], i) => s + x * ring[(i + 1) % ring.length]![1] - y * ring[(i + 1) % ring.length]![0], 0) / 2;

/** Angles below and above which a corner is poor, degrees. */
const [SHARP_CORNER, WIDE_CORNER] = [20, 165];
/** Sides that differ by more than this factor make a polygon poor, too. */
const LONG_SIDE = 4;

/**
 * How poor a polygon is: for each corner the square of how far it is from its ideal, with more below 20°, above 165°,
 * and much beyond 180°; a triangle counts 1 besides. And the square of how much longer its longest side is than four
 * times its shortest.
 */
export const badness = (ring: readonly Flat[]): number => badnessOf(ring, null);

/** The same of a polygon that names its points. */
export function badnessOf(points: readonly Flat[], list: readonly number[] | null): number {
  const n = list ? list.length : points.length;
  const ideal = n === 3 ? 60 : 90;
  let sum = n === 3 ? 1 : 0;
  let [short, long] = [Infinity, 0];
  // One pass without lists: this is what most of the time goes into.
  let a = pointAt(points, list, n - 1);
  let b = pointAt(points, list, 0);
  for (let i = 0; i < n; i++) {
    const c = pointAt(points, list, i + 1 < n ? i + 1 : 0);
    const angle = cornerAngle(a, b, c);
    sum += ((angle - ideal) / 90) ** 2;
    if (angle < SHARP_CORNER) sum += 0.02 * (SHARP_CORNER - angle) ** 2;
    if (angle > WIDE_CORNER) sum += 0.01 * (angle - WIDE_CORNER) ** 2 + (angle > 180 ? 20 : 0);
    const side = (c[0] - b[0]) ** 2 + (c[1] - b[1]) ** 2;
    if (side < short) short = side;
    if (side > long) long = side;
    a = b;
    b = c;
  }
  const ratio = Math.sqrt(long / short);
  return ratio > LONG_SIDE ? sum + 0.02 * Math.min(ratio - LONG_SIDE, 50) ** 2 : sum;
}

const pointAt = (points: readonly Flat[], list: readonly number[] | null, i: number): Flat =>
  list ? points[list[i]!]! : points[i]!;

/** Cells of the grid of sizes, along the longer side. */
const CELLS = 48;

/** How much quads grow with each mm from the boundaries, and how large they are at most. */
export interface Sizing {
  growth: number;
  most: number;
}

/**
 * How large quads are to be at a place: as long as the nearest edges of the boundaries, and larger the further off
 * these are.
 */
export function sizesFrom(edges: readonly (readonly [Flat, Flat])[], { growth, most }: Sizing): (p: Flat) => number {
  const sides = edges.map(([a, b]) => ({ a, b, long: apart(a, b) }));
  const from = [0, 1].map((k) => sides.reduce((s, { a }) => Math.min(s, a[k]!), Infinity)) as Flat;
  const extent = Math.max(...[0, 1].map((k) => sides.reduce((s, { a }) => Math.max(s, a[k]! - from[k]!), 0)));
  const cell = extent / CELLS || 1;
  const sizeOver = (list: typeof sides, p: Flat): number => {
    let least = Infinity;
    for (const { a, b, long } of list) if (long < least) least = Math.min(least, long + growth * offSegment(p, a, b));
    return least;
  };
  // Of a cell only those edges are kept that can be the least anywhere in it.
  const near = new Map<number, typeof sides>();
  return (p) => {
    const [i, j] = [Math.floor((p[0] - from[0]) / cell), Math.floor((p[1] - from[1]) / cell)];
    const key = i * 4096 + j;
    let list = near.get(key);
    if (!list) {
      const middle: Flat = [from[0] + (i + 0.5) * cell, from[1] + (j + 0.5) * cell];
      const reach = sizeOver(sides, middle) + growth * cell * Math.SQRT2;
      list = sides.filter(({ a, b, long }) => long + growth * offSegment(middle, a, b) <= reach);
      near.set(key, list);
    }
    return Math.min(most, sizeOver(list, p));
  };
}

/** The edges of some rings of points. */
export const edgesOf = (loops: readonly (readonly number[])[]): [number, number][] =>
  loops.flatMap((l) => l.map((v, i): [number, number] => [v, l[(i + 1) % l.length]!]));

/** The mean of the sizes along a stretch. */
export const meanSize = (size: (p: Flat) => number, a: Flat, b: Flat): number =>
  [0.1, 0.3, 0.5, 0.7, 0.9].reduce((s, f) => s + size(towards(a, b, f)), 0) / 5;

/** New points between two, `count` of them, their steps graded by the sizes at both ends. */
export function lineBetween(
  m: FlatMesh,
  a: number,
  b: number,
  count: number,
  size: (p: Flat) => number,
  hold: Hold,
): number[] {
  const [p, q] = [m.points[a]!, m.points[b]!];
  const [s0, s1] = [size(p), size(q)];
  const steps = Array.from({ length: count + 1 }, (_, i) => s0 + (s1 - s0) * (count ? i / count : 0));
  const whole = steps.reduce((s, x) => s + x, 0);
  let gone = 0;
  return Array.from({ length: count }, (_, i) => m.point(towards(p, q, (gone += steps[i]!) / whole), hold));
}

/** Whether two open stretches cross. */
export const crosses = (a: Flat, b: Flat, c: Flat, d: Flat): boolean =>
  turned(a, b, c) > 0 !== turned(a, b, d) > 0 && turned(c, d, a) > 0 !== turned(c, d, b) > 0;
