import { insideRing, type Flat } from '../../mesh/index.ts';
import {
  apart,
  edgesOf,
  FlatMesh,
  lineBetween,
  meanSize,
  ringArea,
  sizesFrom,
  type Hold,
  type Sizing,
} from './flatMesh.ts';

// A face that is its own mirror image is laid out in one of its wedges, and the others are its images: then the quads
// are, too.

/** Vertices nearer to where their image should be than this share of the radius are it. */
export const SAME_IMAGE = 1e-6;

/** The mirror lines of a boundary: where they meet, and their angles from 0 to π, evenly spaced. */
export interface Mirrors {
  centre: Flat;
  radius: number;
  angles: number[];
}

/** Cells of a row differ by less than this in number. */
const CELLS = 2 ** 26;

/** Finds places again that are given with an error. */

export class Places {
  private readonly cells = new Map<number, number[]>();
  constructor(
    private readonly m: { points: readonly Flat[] },
    private readonly within: number,
  ) {}

  private cell = (x: number): number => Math.round(x / (4 * this.within));

  add(v: number): void {
    const [x, y] = this.m.points[v]!;
    const name = this.cell(x) * CELLS + this.cell(y);
    const known = this.cells.get(name);
    if (known) known.push(v);
    else this.cells.set(name, [v]);
  }

  find([x, y]: Flat): number | undefined {
    const { within } = this;
    // A cell is wider than what is looked for: mostly it is one.
    for (let i = this.cell(x - within); i <= this.cell(x + within); i++)
      for (let j = this.cell(y - within); j <= this.cell(y + within); j++)
        for (const v of this.cells.get(i * CELLS + j) ?? []) if (apart(this.m.points[v]!, [x, y]) <= within) return v;
    return undefined;
  }
}

export const mirrored =
  (c: Flat, angle: number) =>
  ([x, y]: Flat): Flat => {
    const [cos, sin] = [Math.cos(2 * angle), Math.sin(2 * angle)];
    return [c[0] + cos * (x - c[0]) + sin * (y - c[1]), c[1] + sin * (x - c[0]) - cos * (y - c[1])];
  };
export const turnedBy =
  (c: Flat, angle: number) =>
  ([x, y]: Flat): Flat => {
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return [c[0] + cos * (x - c[0]) - sin * (y - c[1]), c[1] + sin * (x - c[0]) + cos * (y - c[1])];
  };

/**
 * The middle of some loops, how far they reach from it, their vertices by place and by what follows them, and the
 * fewest vertices that are as far from it: images of a vertex are.
 */
export function middleOf(m: { points: readonly Flat[] }, loops: readonly (readonly number[])[]) {
  const all = loops.flat();
  const centre: Flat = [0, 1].map((d) => all.reduce((s, v) => s + m.points[v]![d]!, 0) / all.length) as Flat;
  const off = (v: number) => apart(m.points[v]!, centre);
  const radius = all.reduce((s, v) => Math.max(s, off(v)), 0);
  const places = new Places(m, SAME_IMAGE * radius);
  for (const v of all) places.add(v);
  const next = new Map(loops.flatMap((l) => l.map((v, i) => [v, l[(i + 1) % l.length]!] as const)));
  const byDistance = new Map<number, number[]>();
  for (const v of all) {
    const r = Math.round(off(v) / (10 * SAME_IMAGE * radius));
    if (r > 10) byDistance.set(r, [...(byDistance.get(r) ?? []), v]);
  }
  const fewest = [...byDistance.values()].reduce<number[]>((a, b) => (a.length && a.length <= b.length ? a : b), []);
  return { centre, radius, places, next, fewest };
}

/** The mirror lines of some loops: every vertex and every edge has its image. */
export function mirrorsOf(m: { points: readonly Flat[] }, loops: readonly (readonly number[])[]): Mirrors {
  const all = loops.flat();
  const { centre, radius, places, next, fewest } = middleOf(m, loops);
  const isMirror = (angle: number) => {
    const image = mirrored(centre, angle);
    return all.every((v) => {
      const [w, u] = [places.find(image(m.points[v]!)), places.find(image(m.points[next.get(v)!]!))];
      return w !== undefined && u !== undefined && next.get(u) === w;
    });
  };
  const angleOf = (v: number) => Math.atan2(m.points[v]![1] - centre[1], m.points[v]![0] - centre[0]);
  const angles = fewest.flatMap((w) => {
    const a = (angleOf(fewest[0]!) + angleOf(w)) / 2;
    return isMirror(a) ? [((a % Math.PI) + Math.PI) % Math.PI] : [];
  });
  return {
    centre,
    radius,
    angles: [...new Set(angles.map((a) => (Math.PI - a < 1e-9 ? 0 : a)))].sort((a, b) => a - b),
  };
}

/**
 * Which of the mirror lines a layout keeps: each number of lines that divides theirs, the most first, from each line
 * on.
 */
export function* mirrorPlans({ angles }: Mirrors, most: number): Generator<{ lines: number; from: number }> {
  for (let lines = Math.min(most, angles.length); lines > 0; lines--) {
    if (angles.length % lines) continue;
    for (let i = 0; i < angles.length / lines; i++) yield { lines, from: angles[i]! };
  }
}

interface Path {
  way: Flat;
  /** Ends: vertices of the loops, or null for the middle. */
  a: number | null;
  b: number | null;
  long: number;
  /** Whether the wedge lies on its right. */
  back: boolean;
  count: number;
}

/**
 * Fills loops with the images of one wedge between two neighbouring mirror lines of the boundaries, which `fill` lays
 * out; rings between boundaries and loops, if there are any, are part of the wedge. Whether it could: lines must pass
 * through vertices. The mesh is changed only when it could.
 */
export function fillMirrored(
  m: FlatMesh,
  boundaries: readonly (readonly number[])[],
  loops: readonly (readonly number[])[],
  { lines, from }: { lines: number; from: number },
  sizing: Sizing,
  fill: (domain: FlatMesh, loops: number[][]) => boolean,
): boolean {
  const { centre, radius } = mirrorsOf(m, boundaries);
  const near = 10 * SAME_IMAGE * radius;
  const rays = [from, from + Math.PI / lines];
  const side = (v: number, ray: number) =>
    Math.cos(ray) * (m.points[v]![1] - centre[1]) - Math.sin(ray) * (m.points[v]![0] - centre[0]);
  const within = (v: number) => side(v, rays[0]!) > -near && (lines === 1 || side(v, rays[1]!) < near);
  const edges = edgesOf(loops);
  const rings = loops.map((l) => m.places(l));
  const isInside = (p: Flat) => rings.filter((r) => insideRing(r, p)).length % 2 === 1;
  const size = sizesFrom(
    edges.map(([u, v]) => [m.points[u]!, m.points[v]!] as const),
    sizing,
  );
  const paths: Path[] = [];
  for (const [k, ray] of rays.entries()) {
    const way: Flat = [Math.cos(ray), Math.sin(ray)];
    const along = (v: number) => way[0] * (m.points[v]![0] - centre[0]) + way[1] * (m.points[v]![1] - centre[1]);
    const isOn = (v: number) => Math.abs(side(v, ray)) < near && along(v) > -near;
    for (const [u, v] of edges) {
      if (isOn(u) && isOn(v)) return false;
      const [s, t] = [side(u, ray), side(v, ray)];
      if (Math.abs(s) < near || Math.abs(t) < near || s > 0 === t > 0) continue;
      if (along(u) + ((along(v) - along(u)) * s) / (s - t) > -near) return false;
    }
    const hits: { at: number; v: number | null }[] = loops
      .flat()
      .filter(isOn)
      .map((v) => ({ at: along(v), v }));
    if (isInside(centre)) hits.push({ at: 0, v: null });
    hits.sort((x, y) => x.at - y.at);
    for (let i = 0; i + 1 < hits.length; i++) {
      const [x, y] = [hits[i]!, hits[i + 1]!];
      const middle = (x.at + y.at) / 2;
      if (y.at - x.at < 2 * near || !isInside([centre[0] + middle * way[0], centre[1] + middle * way[1]])) continue;
      const at = (s: number): Flat => [centre[0] + s * way[0], centre[1] + s * way[1]];
      const long = y.at - x.at;
      const count = Math.max(0, Math.round(long / meanSize(size, at(x.at), at(y.at))) - 1);
      paths.push({ way, a: x.v, b: y.v, long, back: k === 1, count });
    }
  }
  const half = edges.filter(([u, v]) => within(u) && within(v));
  const onRay = (v: number): Flat | undefined =>
    rays.map((ray): Flat => [Math.cos(ray), Math.sin(ray)]).find((_, k) => Math.abs(side(v, rays[k]!)) < near);
  const own = new Set(boundaries.flat());
  const ring = [...m.locked].map((i) => m.polygons[i]!).filter((p) => p.every(within));
  const hold = (v: number): Hold => (own.has(v) ? 'fixed' : (onRay(v) ?? 'free'));
  const made = wedge(m, centre, half, paths, ring, hold, size);
  if (!made) return false;
  for (const group of made.groups) if (!fill(made.domain, group)) return false;
  for (const i of m.locked) m.remove(i);
  const origin = new Map([...made.origin].filter(([, v]) => own.has(v)));
  const images = Array.from({ length: lines }, (_, k) => [
    { image: turnedBy(centre, (2 * Math.PI * k) / lines), back: false },
    { image: mirrored(centre, from + (Math.PI * k) / lines), back: true },
  ]).flat();
  replicate(m, boundaries, SAME_IMAGE * radius * 4, images, made.domain, origin);
  return true;
}

/**
 * The boundary of one wedge, as loops in a mesh of its own: parts of the loops and paths along the two lines, with so
 * many points that quads alone can fill it.
 */
function wedge(
  m: FlatMesh,
  centre: Flat,
  half: readonly (readonly [number, number])[],
  paths: readonly Path[],
  ring: readonly (readonly number[])[],
  hold: (v: number) => Hold,
  size: (p: Flat) => number,
): { domain: FlatMesh; origin: Map<number, number>; groups: number[][][] } | null {
  for (let round = 0; round < 3; round++) {
    const domain = new FlatMesh();
    const numbers = new Map<number, number>();
    const origin = new Map<number, number>();
    let middle = -1;
    const point = (v: number | null): number => {
      if (v === null) return middle < 0 ? (middle = domain.point(centre)) : middle;
      let d = numbers.get(v);
      if (d === undefined) {
        numbers.set(v, (d = domain.point(m.points[v]!, hold(v))));
        origin.set(d, v);
      }
      return d;
    };
    for (const p of ring) domain.locked.add(domain.polygon(p.map(point)));
    const next = new Map<number, number>();
    const pathOf = new Map<number, Path>();
    const go = (list: readonly number[], path?: Path): boolean =>
      list.slice(1).every((v, i) => {
        if (next.has(list[i]!)) return false;
        next.set(list[i]!, v);
        if (path) pathOf.set(list[i]!, path);
        return true;
      });
    if (!half.every(([u, v]) => go([point(u), point(v)]))) return null;
    for (const path of paths) {
      const [a, b] = [point(path.a), point(path.b)];
      const list = [a, ...lineBetween(domain, a, b, path.count, size, path.way), b];
      if (!go(path.back ? list.reverse() : list, path)) return null;
    }
    const loops: number[][] = [];
    const seen = new Set<number>();
    for (const start of next.keys()) {
      if (seen.has(start)) continue;
      const loop: number[] = [];
      let v: number | undefined = start;
      while (v !== undefined && !seen.has(v)) {
        seen.add(v);
        loop.push(v);
        v = next.get(v);
      }
      if (v !== start) return null;
      loops.push(loop);
    }
    const outer = loops.filter((l) => ringArea(domain.places(l)) > 0);
    const holes = loops.filter((l) => !outer.includes(l));
    const groups = outer.map((o) => [o, ...holes.filter((h) => insideRing(domain.places(o), domain.points[h[0]!]!))]);
    if (!groups.length || groups.flat().length !== loops.length) return null;
    const odd = groups.filter((g) => g.flat().length % 2);
    if (!odd.length) return { domain, origin, groups };
    // One point more on the longest path of each.
    for (const g of odd) {
      const own = [...new Set(g.flat().flatMap((v) => pathOf.get(v) ?? []))];
      if (!own.length) return { domain, origin, groups };
      own.reduce((x, y) => (y.long > x.long ? y : x)).count++;
    }
  }
  return null;
}

/** Puts the images of a wedge into the mesh, the first of which is itself: points that fall on each other are one. */
export function replicate(
  m: FlatMesh,
  loops: readonly (readonly number[])[],
  within: number,
  images: readonly { image: (p: Flat) => Flat; back: boolean }[],
  domain: FlatMesh,
  origin: ReadonlyMap<number, number>,
): void {
  const places = new Places(m, within);
  for (const v of loops.flat()) places.add(v);
  images.forEach(({ image, back }, i) => {
    const number = domain.points.map((p, d) => {
      if (i === 0 && origin.has(d)) return origin.get(d)!;
      const q = image(p);
      let v = places.find(q);
      if (v === undefined) places.add((v = m.point(q)));
      return v;
    });
    for (const k of domain.live()) {
      const list = domain.polygons[k]!.map((d) => number[d]!);
      m.polygon(back ? list.reverse() : list);
    }
  });
}
