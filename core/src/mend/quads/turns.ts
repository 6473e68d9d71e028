import { insideRing, type Flat } from '../../mesh/index.ts';
import { apart, crosses, edgesOf, FlatMesh, meanSize, sizesFrom, towards, type Sizing } from './flatMesh.ts';
import { middleOf, replicate, SAME_IMAGE, turnedBy } from './symmetry.ts';

// A face that comes onto itself when it is turned, and has no mirror line, is laid out in one of its sectors, and the
// others are that one turned.

/**
 * Ways from the boundary inward that are looked at as the border of a sector, and those of them that are tried, each
 * with some numbers of points.
 */
const MOST_WAYS = 48;
const MOST_TRIED = 8;
const MORE_POINTS = [0, 1];

/** How often some loops come onto themselves in one turn about their middle; 1 for loops that do not. */
export function turnsOf(m: { points: readonly Flat[] }, loops: readonly (readonly number[])[]): number {
  const { centre, places, next, fewest } = middleOf(m, loops);
  for (let n = fewest.length; n > 1; n--) {
    if (fewest.length % n) continue;
    const image = turnedBy(centre, (2 * Math.PI) / n);
    const at = (v: number) => places.find(image(m.points[v]!));
    if ([...next].every(([v, w]) => at(v) !== undefined && next.get(at(v)!) === at(w))) return n;
  }
  return 1;
}

/**
 * Fills loops with the images of one sector, which `fill` lays out: between a way from the outer loop straight to the
 * middle, or to the hole round it, and the image of that way; rings between boundaries and loops are part of it.
 * Whether it could. The mesh is changed only when it could.
 */
export function fillTurned(
  m: FlatMesh,
  boundaries: readonly (readonly number[])[],
  loops: readonly (readonly number[])[],
  turns: number,
  sizing: Sizing,
  fill: (domain: FlatMesh, loops: number[][]) => boolean,
): boolean {
  const { centre, radius, places, next } = middleOf(m, loops);
  const turn = turnedBy(centre, (2 * Math.PI) / turns);
  const image = (v: number) => places.find(turn(m.points[v]!));
  const [outer, ...holes] = loops as [readonly number[], ...(readonly number[])[]];
  const round = holes.find((h) => insideRing(m.places(h), centre));
  const ends: { u: number | null; to: Flat }[] = round
    ? round.map((u) => ({ u, to: m.points[u]! }))
    : [{ u: null, to: centre }];
  const inward = outer.flatMap((v) => ends.map((end) => ({ v, ...end })));
  const ways = inward.sort((a, b) => apart(m.points[a.v]!, a.to) - apart(m.points[b.v]!, b.to)).slice(0, MOST_WAYS);
  const edges = edgesOf(loops);
  const size = sizesFrom(
    edges.map(([u, v]) => [m.points[u]!, m.points[v]!] as const),
    sizing,
  );
  const held = new Set(boundaries.flat());
  let best: Sector | null = null;
  let tried = 0;
  for (const { v, u, to } of ways) {
    const from = m.points[v]!;
    const [w, x] = [image(v), u === null ? null : image(u)];
    if (w === undefined || x === undefined) return false;
    if (
      edges.some(([a, b]) => ![v, u].some((k) => k === a || k === b) && crosses(from, to, m.points[a]!, m.points[b]!))
    )
      continue;
    if (crosses(from, to, turn(from), turn(to))) continue;
    const count = Math.max(0, Math.round(apart(from, to) / meanSize(size, from, to)) - 1);
    const border = {
      outer: runOf(next, v, w),
      inner: u === null ? null : runOf(next, x!, u),
      holes: holes.filter((h) => h !== round),
    };
    let fits = true;
    for (const more of MORE_POINTS) {
      const path = Array.from({ length: count + more }, (_, i) => towards(from, to, (i + 1) / (count + more + 1)));
      const sector = sectorOf(m, held, border, path, centre, turn);
      fits = sector.holes * turns === border.holes.length && sector.domain.locked.size * turns === m.locked.size;
      if (!fits) break;
      if (!fill(sector.domain, sector.loops)) continue;
      const triangles = sector.domain.live().filter((i) => sector.domain.polygons[i]!.length === 3).length;
      if (!best || triangles < best.triangles) best = { ...sector, triangles };
    }
    if (best?.triangles === 0 || (fits && ++tried === MOST_TRIED)) break;
  }
  if (!best) return false;
  const images = Array.from({ length: turns }, (_, k) => ({
    image: turnedBy(centre, (2 * Math.PI * k) / turns),
    back: false,
  }));
  for (const i of m.locked) m.remove(i);
  const origin = new Map([...best.origin].filter(([, v]) => held.has(v)));
  replicate(m, boundaries, 4 * SAME_IMAGE * radius, images, best.domain, origin);
  return true;
}

interface Sector {
  domain: FlatMesh;
  origin: Map<number, number>;
  triangles: number;
}

/**
 * The boundaries of a sector as loops in a mesh of its own, with the rings along them and the holes that lie in it
 * whole: between a path inward and its image. Points on the path and of `held` stay where they are.
 */
function sectorOf(
  m: FlatMesh,
  held: ReadonlySet<number>,
  {
    outer,
    inner,
    holes,
  }: { outer: readonly number[]; inner: readonly number[] | null; holes: readonly (readonly number[])[] },
  path: readonly Flat[],
  centre: Flat,
  turn: (p: Flat) => Flat,
): { domain: FlatMesh; origin: Map<number, number>; loops: number[][]; holes: number } {
  const domain = new FlatMesh();
  const origin = new Map<number, number>();
  const ends = new Set([outer[0]!, outer.at(-1)!, inner?.[0], inner?.at(-1)]);
  const numbers = new Map<number, number>();
  const own = (k: number): number => {
    let d = numbers.get(k);
    if (d === undefined) {
      numbers.set(k, (d = domain.point(m.points[k]!, held.has(k) || ends.has(k) ? 'fixed' : 'free')));
      origin.set(d, k);
    }
    return d;
  };
  const begin = outer.map(own);
  const ahead = path.map((p) => domain.point(turn(p)));
  const middle = inner ? inner.map(own) : [domain.point(centre)];
  const back = path.map((p) => domain.point(p)).reverse();
  const border = [...begin, ...ahead, ...middle, ...back];
  const ring = domain.places(border);
  const within = holes.filter((h) => h.every((k) => insideRing(ring, m.points[k]!)));
  const sides = new Set(
    [...edgesOf(within), ...[outer, inner ?? []].flatMap((l) => l.slice(1).map((k, i) => [l[i]!, k]))].map(
      ([a, b]) => `${b!},${a!}`,
    ),
  );
  for (const i of m.locked) {
    const list = m.polygons[i]!;
    if (list.some((k, j) => sides.has(`${k},${list[(j + 1) % list.length]!}`)))
      domain.locked.add(domain.polygon(list.map(own)));
  }
  return { domain, origin, loops: [border, ...within.map((h) => h.map(own))], holes: within.length };
}

/** Vertices of a loop from one to another one, both included. */
function runOf(next: ReadonlyMap<number, number>, a: number, b: number): number[] {
  const out = [a];
  for (let v = next.get(a)!; v !== a; v = next.get(v)!) {
    out.push(v);
    if (v === b) break;
  }
  return out;
}
